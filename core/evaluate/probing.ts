import { sampleTrack } from '../curve';
import { linearFromOklabAt } from '../math';
import { askedMoments, MOMENTS_A_FRAME } from './asked-moments';
import { constrain } from './constrain';
import { placeNode } from './node-place';
import { holdOwn, Numbers, showLayer, type Asked } from './numbers';
import type { Plan, Probe } from './plan';
import { run } from './run-program';
import { Running } from './running';

/** Step in frames over which a speed is measured to either side; a power of two, so that it divides exactly. */
const SPEED_STEP = 1 / 64;
const RUNS: ReadonlySet<Probe['kind']> = new Set(['gone', 'follow', 'since', 'ratchet']);
/** Remembered answers of one probe. */
const MEMORY = 64;

interface Memory {
  readonly frames: Float64Array;
  readonly values: Float64Array;
  sums: Float64Array;
  summed: number;
  /** Of what runs from the first frame on. */
  readonly running: Running | null;
}

/** Answers what formulas ask of other moments (`at`, `delay`, `speed`, `travel`, and what runs from
 * the first frame on), and remembers the last answers. */
export class Probing implements Asked {
  private readonly deeper: Numbers[] = [];
  private readonly memory: Memory[];

  constructor(private readonly plan: Plan) {
    const { setup } = plan.shot;
    this.memory = plan.probes.map((probe) => ({
      frames: new Float64Array(MEMORY).fill(NaN),
      values: new Float64Array(MEMORY),
      sums: new Float64Array(0),
      summed: 0,
      running: RUNS.has(probe.kind) ? new Running(probe, setup.first, setup.rate.num / setup.rate.den) : null,
    }));
  }

  /** Forgets all answers, and puts edited stored values where they are worked out. */
  forget(store: (values: Float64Array) => void): void {
    for (const memory of this.memory) {
      memory.frames.fill(NaN);
      memory.summed = 0;
      memory.running?.forget();
    }
    for (const numbers of this.deeper) store(numbers.values);
  }

  private tooMuch: boolean | null = null;

  /** Whether the formulas ask for more than is worked out: then none is answered, the same at every frame. */
  private isTooMuch(): boolean {
    return (this.tooMuch ??= (askedMoments(this.plan)?.moments ?? 0) > MOMENTS_A_FRAME);
  }

  /** What a probe asks, at a frame; `depth` is that of the numbers that ask. NaN where formulas ask for too much. */
  probe(index: number, frame: number, depth: number): number {
    const probe = this.plan.probes[index]!;
    if (frame - frame !== 0 || this.isTooMuch()) return NaN;
    if (probe.kind === 'at') return this.valueThen(index, probe, frame, depth);
    const { running } = this.memory[index]!;
    if (running) return running.at(frame, (then) => this.valueThen(index, probe, then, depth));
    if (probe.kind === 'travel') return this.travelled(index, probe, frame, depth);
    const rise =
      this.valueThen(index, probe, frame + SPEED_STEP, depth) -
      this.valueThen(index, probe, frame - SPEED_STEP, depth);
    const { num, den } = this.plan.shot.setup.rate;
    return (rise / (2 * SPEED_STEP)) * (num / den);
  }

  private valueThen(index: number, probe: Probe, frame: number, depth: number): number {
    const memory = this.memory[index]!;
    const whole = Math.floor(frame);
    const key = Math.abs(whole + 7 * Math.floor((frame - whole) * MEMORY)) % MEMORY;
    if (memory.frames[key] === frame) return memory.values[key]!;
    const then = (this.deeper[depth] ??= new Numbers(this.plan, this, depth + 1));
    this.evaluateSub(then, probe, frame);
    const value = then.values[probe.slot]!;
    memory.frames[key] = frame;
    memory.values[key] = value;
    return value;
  }

  private evaluateSub(then: Numbers, { sub }: Probe, frame: number): void {
    const { plan } = this;
    const { values } = then;
    then.setClock(frame);
    for (let i = 0; i < sub.keyed.length; i++) {
      const { slot, track, fit, min, max } = sub.keyed[i]!;
      values[slot] = constrain(sampleTrack(track, frame), fit, min, max);
    }
    for (let i = 0; i < sub.oklab.length; i++) linearFromOklabAt(values, sub.oklab[i]!);
    for (let i = 0; i < sub.layers.length; i++) showLayer(then, sub.layers[i]!, frame);
    for (let i = 0; i < sub.held.length; i++) holdOwn(values, sub.held[i]!);
    for (let p = 0; p < sub.phases.length; p++) {
      const { links, nodes } = sub.phases[p]!;
      for (let i = 0; i < links.length; i++) run(plan, links[i]!, links[i]! + 1, then);
      for (let i = 0; i < nodes.length; i++) placeNode(then, nodes[i]!);
    }
  }

  /** Way gone since the first frame, frame by frame; sums up to each whole frame are remembered. */
  private travelled(index: number, probe: Probe, frame: number, depth: number): number {
    const { first } = this.plan.shot.setup;
    const memory = this.memory[index]!;
    const whole = Math.floor(frame - first);
    if (!(frame > first) || whole > 1_000_000) return frame > first ? NaN : 0;
    if (memory.sums.length <= whole) {
      const longer = new Float64Array(Math.max(64, (whole + 1) * 2));
      longer.set(memory.sums);
      memory.sums = longer;
    }
    for (; memory.summed < whole; memory.summed++) {
      const k = memory.summed;
      const step =
        this.valueThen(index, probe, first + k + 1, depth) - this.valueThen(index, probe, first + k, depth);
      memory.sums[k + 1] = memory.sums[k]! + Math.abs(step);
    }
    const rest =
      this.valueThen(index, probe, frame, depth) - this.valueThen(index, probe, first + whole, depth);
    return memory.sums[whole]! + Math.abs(rest);
  }
}
