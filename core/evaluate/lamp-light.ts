import type { Evaluator } from './evaluator';

/** What a light sends out: its strength, and its colour in linear light. */
export interface LampLight {
  readonly strength: number;
  readonly colour: readonly [number, number, number];
}

/**
 * What a light sends out at the evaluated frame. One that follows the glow of a part shines as the look of that part does:
 * in its colours, times its glow, and not at all while the part is not shown.
 * @param id of a light
 */
export function lampLight(evaluator: Evaluator, id: string): LampLight {
  const strength = evaluator.number(`${id}/strength`);
  const colour = evaluator.colour(`${id}/light`);
  const { shot, nodeOf } = evaluator.plan;
  const { glowOf } = shot.parts[id]!;
  const look = glowOf === undefined ? null : (shot.parts[glowOf]?.look ?? null);
  if (glowOf === undefined || look === null) return { strength, colour };
  const shown = evaluator.shown[nodeOf.get(glowOf)!] === 1;
  const own = evaluator.colour(`${look}/colour`);
  const glow = evaluator.colour(`${look}/glowcolour`);
  return {
    strength: shown ? strength * evaluator.number(`${look}/glow`) : 0,
    colour: [0, 1, 2].map((i) => colour[i]! * own[i]! * glow[i]!) as [number, number, number],
  };
}
