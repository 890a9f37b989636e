import { flipsAcross, linkOf, PLACE_CHANNELS, subtreeOf, trackOf, type Shot, type Value } from '../document';
import type { Evaluator } from '../evaluate';
import { Draft, type Change } from './change';
import { otherSide } from './copies';
import { keyChannels } from './keys';
import { curveValue, demandFrame, putKey } from './put-key';
import { demandValue } from './values';

/** Places of parts at a moment, to be put in at another one. */
export interface Pose {
  readonly frame: number;
  readonly parts: readonly {
    readonly id: string;
    readonly name: string;
    readonly values: Readonly<Record<string, number>>;
  }[];
}

const POSED = PLACE_CHANNELS.filter((spec) => spec.animatable && !spec.path.startsWith('pivot'));

/** The pose of parts and everything below them at the evaluator's frame; linked channels are left out. */
export function copyPose(shot: Shot, evaluator: Evaluator, roots: readonly string[]): Pose {
  const ids = [...new Set(roots.flatMap((root) => (shot.parts[root] ? subtreeOf(shot, root) : [])))];
  return {
    frame: evaluator.frame,
    parts: ids.map((id) => ({
      id,
      name: shot.parts[id]!.name,
      values: Object.fromEntries(
        POSED.filter((spec) => !linkOf(shot, `${id}/${spec.path}`)).map((spec) => [
          spec.path,
          evaluator.number(`${id}/${spec.path}`),
        ]),
      ),
    })),
  };
}

/**
 * Keys a pose at a frame. Mirrored, what is left goes to what is right by name ("Left arm", "Arm R") and places are
 * turned over across x; a part without a counterpart is turned over itself. Channels that are linked now, and parts that
 * are gone, are left out.
 */
export function pastePose(
  shot: Shot,
  pose: Pose,
  frame: number,
  mirrored: boolean,
  random?: () => number,
): Change {
  const byName = new Map(Object.entries(shot.parts).map(([id, part]) => [part.name, id]));
  const entries = pose.parts.flatMap(({ id, name, values }) => {
    const side = mirrored ? otherSide(name) : null;
    const target = (side === null ? undefined : byName.get(side)) ?? id;
    if (!shot.parts[target]) return [];
    return Object.entries(values).flatMap(([path, value]): [string, Value][] => {
      const address = `${target}/${path}`;
      if (linkOf(shot, address)) return [];
      return [[address, mirrored && flipsAcross(path, 'x') ? -value + 0 : value]];
    });
  });
  const change = keyChannels(shot, frame, entries, random);
  return { ...change, label: mirrored ? 'Paste the pose mirrored' : 'Paste the pose' };
}

/**
 * Keys what channels have at one frame at another one; channels without keys are left alone.
 * @throws EditRefused where a curve runs beyond what its channel allows
 */
export function repeatValues(
  shot: Shot,
  addresses: readonly string[],
  from: number,
  to: number,
  random?: () => number,
): Change {
  demandFrame(to);
  const draft = new Draft(shot);
  for (const address of addresses) {
    const track = trackOf(draft.shot, address);
    if (!track) continue;
    const value = curveValue(draft.shot, address, track, from);
    demandValue(draft.shot, address, value);
    putKey(draft, address, to, value, random);
  }
  return draft.change(`Copy frame ${from} to frame ${to}`);
}
