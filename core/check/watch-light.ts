import { partDefinition } from '../document';
import { standingOf } from '../edit';
import { lampLight } from '../evaluate';
import { tell, type Told, type WatchKind } from './watch';

const SCENE = 'scene';

/** A light, and a channel that says how strongly something else shines. */
interface Lamp {
  readonly node: number;
  readonly lamp: string;
}
interface Glowing {
  readonly node: number;
  readonly slot: number;
}

/** Whether anything shines at all: a light of any kind, surroundings, or a look that glows, on something that is in the picture. */
export const WATCH_LIGHT: WatchKind = {
  name: 'light',
  subjects: () => [SCENE],
  rests: ({ shot }) => [
    ...Object.keys(shot.parts).filter(
      (id) => !partDefinition(shot.parts[id]!.kind).carries || shot.parts[id]!.look !== null,
    ),
    ...Object.keys(shot.looks),
  ],
  start: (plan) => {
    const { out } = standingOf(plan.shot);
    let lit = false;
    // Where nothing is to be seen, nothing is too dark.
    let dark = false;
    const solids = plan.nodes.flatMap((id, node) =>
      partDefinition(plan.shot.parts[id]!.kind).solid && !out.has(id) ? [node] : [],
    );
    const watched = plan.nodes.flatMap((id, node): (Lamp | Glowing)[] => {
      const part = plan.shot.parts[id]!;
      if (out.has(id)) return [];
      const { light, role } = partDefinition(part.kind);
      if (light) return [{ node, lamp: id }];
      if (role === 'backdrop') return [{ node, slot: plan.slots.get(`${id}/mirrored`)! }];
      const slot = part.look === null ? undefined : plan.slots.get(`${part.look}/glow`);
      return slot === undefined ? [] : [{ node, slot }];
    });
    // Copies of a repeat can glow by themselves.
    const glowing = plan.repeats.map(({ copyBase }) => copyBase + COPY_GLOW);
    return {
      frame: (evaluator) => {
        if (lit) return;
        dark ||= solids.some((node) => evaluator.shown[node] === 1);
        lit =
          watched.some(
            (one) =>
              evaluator.shown[one.node] === 1 &&
              ('lamp' in one ? lampLight(evaluator, one.lamp).strength : evaluator.values[one.slot]!) > 0,
          ) || glowing.some((slot) => evaluator.values[slot]! > 0);
      },
      finish: () => {
        const told: Told = new Map();
        if (dark && !lit)
          tell(told, SCENE, {
            code: 'light.none',
            severity: 'warning',
            address: 'setup',
            message:
              'The shot has no light at any frame: the picture will be black. Add a light, or a look that glows.',
          });
        return told;
      },
    };
  },
};

/** Place of the glow among the channels of a copy. */
const COPY_GLOW = 10;
