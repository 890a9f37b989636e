import { compiledComponents, sampleTrack, slipOver, type Slip, type ValueAt } from '../../../../core/curve';
import { channelAt, linkOf, ownerOf, splitAddress, trackOf, type Shot } from '../../../../core/document';
import { Evaluator, type Plan } from '../../../../core/evaluate';
import type { Rolling } from '../state/plot';

/** Value of a channel at any frame, links and all; of a document that is tried its keys. */
export function exactValue(plan: Plan, trial: Shot | null, address: string): ValueAt {
  const track = trackOf(trial ?? plan.shot, address);
  if (track && !linkOf(plan.shot, address)) {
    const [component] = compiledComponents(track, 1);
    return (frame) => sampleTrack(component!, frame);
  }
  const evaluator = new Evaluator(plan);
  return (frame) => {
    evaluator.evaluate(frame);
    return evaluator.number(address);
  };
}

/** Slip of a turn against a way over the range of the shot. */
export function rollingFacts(
  plan: Plan,
  trial: Shot | null,
  turn: string,
  { way, radius, sign }: Rolling,
): Slip {
  const { first, last } = plan.shot.setup;
  return slipOver(exactValue(plan, trial, way), exactValue(plan, trial, turn), radius, sign, first, last);
}

/** The sign with which a turn slips less. */
export function likelySign(plan: Plan, turn: string, way: string, radius: number): 1 | -1 {
  const slip = (sign: 1 | -1): number =>
    Math.abs(rollingFacts(plan, null, turn, { way, radius, sign }).worst.slip);
  return slip(1) <= slip(-1) ? 1 : -1;
}

/** Radius of the round shape of the part that turns, metres; `null` where it has none. */
export function radiusOf(plan: Plan, turn: string): number | null {
  const { owner } = splitAddress(turn);
  const shape = plan.shot.parts[owner]?.shape;
  if (!shape || !channelAt(plan.shot, `${shape}/radius`)) return null;
  const evaluator = new Evaluator(plan);
  evaluator.evaluate(plan.shot.setup.first);
  // A ring rolls on the outside of its tube.
  const tube = channelAt(plan.shot, `${shape}/tube`) ? evaluator.number(`${shape}/tube`) : 0;
  return evaluator.number(`${shape}/radius`) + tube;
}

/** Channels along which a part may go while it turns: of itself and of what it hangs from. */
export function waysOf(shot: Shot, turn: string): string[] {
  const found: string[] = [];
  for (let at: string | null = splitAddress(turn).owner; at !== null; at = shot.parts[at]?.parent ?? null) {
    const owner = ownerOf(shot, at);
    if (!owner) break;
    for (const axis of ['x', 'y', 'z'])
      if (owner.tracks[`location.${axis}`] || owner.links[`location.${axis}`])
        found.push(`${at}/location.${axis}`);
  }
  return found;
}
