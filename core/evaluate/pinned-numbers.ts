import { fillChain, valueOfPose } from '../formula';
import { JOINT_SIZE, LinkageMotion, type ChainNumbers } from '../mechanism';
import type { PlannedLinkage } from './plan';

/** A linkage at one moment: solved once for all channels that read it, while what it reads stays. */
export class PinnedNumbers {
  private readonly motion: LinkageMotion;
  private readonly inputs: Float64Array;
  private readonly numbers: ChainNumbers;
  private solved = false;

  constructor(private readonly planned: PlannedLinkage) {
    const { chain, drawn } = planned.linkage;
    this.motion = new LinkageMotion(chain, drawn);
    this.inputs = new Float64Array(planned.slots.length);
    this.numbers = {
      poses: new Float64Array(drawn.length),
      joints: new Float64Array(chain.joints.length * JOINT_SIZE),
    };
  }

  /** Value of x, y or turn (0, 1, 2) of a body; NaN where its pins do not reach. */
  value(values: Float64Array, body: number, component: number): number {
    const { inputs, numbers, motion } = this;
    const { slots, linkage } = this.planned;
    let same = this.solved;
    for (let i = 0; i < slots.length; i++) {
      const slot = slots[i]!;
      if (slot < 0 || Object.is(inputs[i], values[slot])) continue;
      inputs[i] = values[slot]!;
      same = false;
    }
    if (!same) {
      fillChain(linkage, inputs, numbers);
      motion.solve(numbers);
      this.solved = true;
    }
    return motion.open[body] === 1 ? NaN : valueOfPose(inputs, numbers, body, component);
  }
}
