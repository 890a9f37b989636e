import { JOINT_AXES, type JointLimit } from '../document';
import { shownNumber } from './problem';
import { tell, type Told, type WatchKind } from './watch';

/** Degrees beyond a limit that are rounding. */
const ROUNDING = 1e-6;

interface Joint {
  readonly id: string;
  readonly axis: string;
  readonly slot: number;
  readonly limit: JointLimit;
  worst: { frame: number; value: number; beyond: number } | null;
}

/** Joints that turn further than they are said to, where that is only told; one that is held cannot. */
export const WATCH_JOINTS: WatchKind = {
  name: 'joints',
  subjects: ({ shot }) => Object.keys(shot.parts).filter((id) => shot.parts[id]!.joint !== undefined),
  rests: (_plan, id) => [id],
  start: (plan, subjects) => {
    const watched = subjects.flatMap((id) =>
      JOINT_AXES.flatMap((axis): Joint[] => {
        const limit = plan.shot.parts[id]!.joint?.[axis];
        const slot = plan.slots.get(`${id}/rotation.${axis}`);
        return !limit || limit.held || slot === undefined ? [] : [{ id, axis, slot, limit, worst: null }];
      }),
    );
    return {
      frame: (evaluator, frame) => {
        for (const joint of watched) {
          const value = evaluator.values[joint.slot]!;
          const beyond = Math.max(joint.limit.least - value, value - joint.limit.most);
          if (beyond > ROUNDING && beyond > (joint.worst?.beyond ?? 0))
            joint.worst = { frame, value, beyond };
        }
      },
      finish: () => {
        const told: Told = new Map();
        for (const { id, axis, limit, worst } of watched)
          if (worst)
            tell(told, id, {
              code: 'joint.beyond',
              severity: 'warning',
              address: `${id}/rotation.${axis}`,
              frame: worst.frame,
              amount: worst.beyond,
              message: `${plan.shot.parts[id]!.name} turns to ${shownNumber(worst.value)} degrees about ${axis} at frame ${worst.frame}, ${shownNumber(worst.beyond)} beyond its joint, which goes from ${shownNumber(limit.least)} to ${shownNumber(limit.most)}.`,
            });
        return told;
      },
    };
  },
};
