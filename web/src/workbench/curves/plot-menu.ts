import { EXTENDS, trackOf, type Extend } from '../../../../core/document';
import { insertKeys, removeKeys, setExtend } from '../../../../core/edit';
import type { MenuEntries } from '../../ui/menu';
import { entryOf } from '../commands';
import { EXTEND_WORDS } from '../keys/key-words';
import type { Session } from '../session';
import type { Line } from './lines';
import type { PlotHit } from './plot-hit';

/** Menu of a peg, of a curve, of a curve outside its keys, and of the empty plot. */
export function plotMenu(
  session: Session,
  hit: PlotHit | null,
  frame: number,
  lines: readonly Line[],
): MenuEntries {
  const { line, outside } = hit ?? { line: null, outside: null };
  const { chosenKeys } = session.choice.now;
  if (line && outside) {
    const track = trackOf(session.shot, line.address)!;
    return [
      { heading: outside === 'before' ? 'Before the first key' : 'After the last key' },
      ...EXTENDS.map((extend: Extend) => ({
        label: EXTEND_WORDS[extend],
        current: track[outside] === extend,
        run: () => session.edit((now) => setExtend(now, line.address, outside, extend)),
      })),
    ];
  }
  return [
    line?.track &&
      !line.linked && {
        label: `Put a key in at frame ${frame}, the curve stays`,
        later: true,
        run: () => session.edit((now) => insertKeys(now, [line.address], frame)),
      },
    chosenKeys.length > 0 && entryOf(session, 'copy', { label: 'Copy', later: true }),
    session.clipboard.now.copied?.kind === 'keys' &&
      entryOf(session, 'paste', { label: 'Paste keys at the playhead', later: true }),
    session.clipboard.now.copied?.kind === 'keys' &&
      entryOf(session, 'paste-reversed', { label: 'Paste them reversed', later: true }),
    session.clipboard.now.copied?.kind === 'keys' &&
      entryOf(session, 'paste-onto', { label: 'Paste them into the curve that leads', later: true }),
    chosenKeys.length > 0 && {
      label: chosenKeys.length === 1 ? 'Remove the key' : `Remove ${chosenKeys.length} keys`,
      alarm: true,
      later: true,
      run: () => session.edit((now) => removeKeys(now, chosenKeys)),
    },
    'line',
    {
      label: 'Show all of the values',
      run: () => session.plot.look(null),
    },
    { label: 'Show the whole range', run: () => session.time.show(null) },
    lines.length > 1 && {
      label: session.plot.now.normalised ? 'One scale for each unit' : 'Each curve in full height',
      run: () => session.plot.normalise(!session.plot.now.normalised),
    },
  ];
}
