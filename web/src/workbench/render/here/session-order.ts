import { filmFormat } from '../../../../../core/film';
import { innerIds } from './inner-ids';
import { themed } from '../../../shared/theme';
import type { Session } from '../../session';
import { mixed } from '../../sound/save-mix';
import type { FilmHereOf, FilmOrder } from './order';

/** Takes the open shot as it is now, with all that is shown and heard in it, to be drawn in this browser. */
export async function orderOf(session: Session, of: FilmHereOf): Promise<FilmOrder> {
  const { document: shot, plan } = session.doc.now;
  const inner = innerIds(shot, (id) => session.insets.shotOf(id)).map((id) => {
    const known = session.insets.planOf(id);
    if (!known)
      throw new Error(
        `A shot that is shown in this one, ${session.insets.of(id).name ?? 'unknown'}, is not there yet.`,
      );
    return { id, shot: known.shot, loudness: known.loudness };
  });
  const heard = filmFormat(of.format).sound ? await session.heard.decoded() : null;
  const sound = heard && {
    sides: await mixed(heard.plan, heard.files, of, heard.rate),
    rate: heard.rate,
  };
  const colours = { plate: themed('film'), ink: themed('paper') };
  return { of, shot, loudness: plan.loudness, inner, colours, sound };
}
