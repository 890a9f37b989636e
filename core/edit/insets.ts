import type { Inset, Shot } from '../document';
import { Draft, type Change } from './change';
import { demandFrame } from './put-key';
import { EditRefused } from './values';

/** What of a shot in a shot can be changed; `undefined` takes an option back. */
export type InsetOptions = { readonly [K in keyof Inset]?: Inset[K] | undefined };

/** Changes which shot a part shows, when, how fast, and what comes along. */
export function changeInset(shot: Shot, id: string, options: InsetOptions): Change {
  const part = shot.parts[id];
  if (!part?.inset) throw new EditRefused('This part no longer shows a shot.');
  const next = Object.fromEntries(
    Object.entries({ ...part.inset, ...options }).filter(([, value]) => value !== undefined),
  ) as unknown as Inset;
  if (!(next.speed >= 0.01 && next.speed <= 100))
    throw new EditRefused(`A shot cannot be shown at ${next.speed} times its speed: 0.01 to 100 is allowed.`);
  demandFrame(next.start);
  if (next.until !== null) {
    demandFrame(next.until);
    if (next.until < next.start)
      throw new EditRefused(`It cannot end at frame ${next.until}, before it starts at ${next.start}.`);
  }
  const draft = new Draft(shot);
  draft.set(['parts', id, 'inset'], next);
  return draft.change(`Change how ${part.name} is shown`);
}
