import { halfway } from '../../../../core/curve';
import { keyList, trackOf } from '../../../../core/document';
import { describeValue, formatNumber } from '../../shared/format';
import type { Session } from '../session';
import type { PlotHit, Point } from './plot-hit';
import type { PlotContent } from './use-plot';

/** What the pointer is over, in words: value and speed of a curve, or a key. */
export function tipOf(session: Session, hit: PlotHit, at: Point, { map }: PlotContent): string | null {
  const { line, peg } = hit;
  if (!line || line.spec.kind === 'colour') return null;
  const { unit } = session.shot.setup;
  if (peg) {
    const key = trackOf(session.shot, peg.address)?.keys[peg.key];
    return key
      ? `frame ${Math.round(key.frame * 100) / 100}: ${describeValue(line.spec, key.value, unit)}`
      : null;
  }
  if (!line.at || hit.handle) return null;
  const frame = map.scale.frame(at.x);
  const { per } = map.axisOf(line);
  const slope = (line.at(frame + 1e-3) - line.at(frame - 1e-3)) / 2e-3 / per;
  const words = `${describeValue(line.spec, line.at(frame), unit)}  ${formatNumber(slope, 2)}/f`;
  if (hit.outside) return `${words}; click to choose how it goes on`;
  const keys = line.track && !line.linked ? keyList(line.track) : [];
  const next = keys.findIndex((key) => key.frame > frame);
  if (next < 1) return words;
  const middle = halfway(line.at, keys[next - 1]!.frame, keys[next]!.frame);
  const share = middle.share === null ? '' : `, ${Math.round(middle.share * 100)} %`;
  return `${words}; halfway ${describeValue(line.spec, middle.value, unit)}${share}`;
}
