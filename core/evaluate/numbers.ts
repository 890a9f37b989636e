import { PathMeasure, KEPT_SIZE } from '../transform';
import { linearFromOklabAt } from '../math';
import { secondsAt } from '../time';
import { constrain } from './constrain';
import { levelAt, secondsInFile } from './loudness';
import {
  MATRIX_SIZE,
  measurePath,
  pivotCoordinate,
  pivotDistance,
  type Copies,
  type Instant,
} from './node-place';
import { CLOCK_FRAME, CLOCK_PROGRESS, CLOCK_TIME, type LayeredChannel, type Plan } from './plan';
import { showingValue } from './showing';

/** Who answers what a formula asks of other moments. */
export interface Asked {
  /** @param depth how many moments deep the asking one is: 0 for the frame shown */
  probe(index: number, frame: number, depth: number): number;
}

/** Numbers of one moment of a plan: one for the frame shown, and one for each depth of probing. */
export class Numbers implements Instant {
  readonly values: Float64Array;
  readonly world: Float64Array;
  readonly shown: Uint8Array;
  readonly kept: Float64Array;
  readonly failed: Uint8Array;
  readonly paths: readonly PathMeasure[];
  readonly points: readonly Float64Array[];
  readonly copies: readonly Copies[];

  constructor(
    readonly plan: Plan,
    private readonly asked: Asked,
    private readonly depth: number,
  ) {
    this.values = plan.initial.slice();
    this.world = new Float64Array((plan.nodes.length + plan.repeats.length) * MATRIX_SIZE);
    this.shown = new Uint8Array(plan.nodes.length);
    this.kept = new Float64Array(plan.nodes.length * KEPT_SIZE).fill(NaN);
    this.failed = new Uint8Array(plan.order.length);
    this.paths = plan.follows.map(() => new PathMeasure());
    this.points = plan.follows.map((follow) => new Float64Array(follow.points.length * 3).fill(NaN));
    this.copies = plan.repeats.map(({ links }) => ({
      count: 0,
      place: new Float64Array(0),
      look: new Float64Array(0),
      failed: new Uint8Array(links.length),
    }));
  }

  setClock(frame: number): void {
    const { setup } = this.plan.shot;
    this.values[CLOCK_FRAME] = frame;
    this.values[CLOCK_TIME] = secondsAt(frame, setup.first, setup.rate);
    this.values[CLOCK_PROGRESS] =
      setup.last === setup.first ? 0 : (frame - setup.first) / (setup.last - setup.first);
  }

  probe(index: number, frame: number): number {
    return this.asked.probe(index, frame, this.depth);
  }

  measure(index: number): number {
    const { kind, nodes, follow } = this.plan.measures[index]!;
    const [a = -1, b = -1] = nodes;
    switch (kind) {
      case 'worldx':
        return pivotCoordinate(this, a, 0);
      case 'worldy':
        return pivotCoordinate(this, a, 1);
      case 'worldz':
        return pivotCoordinate(this, a, 2);
      case 'distance':
        return pivotDistance(this, a, b);
      case 'pathlength':
        return follow < 0 ? NaN : measurePath(this, follow).total;
    }
  }

  level(index: number, low: number, high: number): number {
    const { sound, piece } = this.plan.levels[index]!;
    const { rate } = this.plan.shot.setup;
    const seconds = secondsAt(this.values[CLOCK_FRAME]!, piece.start, rate);
    const table = this.plan.loudness[sound];
    return levelAt(table, secondsInFile(piece, seconds, table), low, high);
  }
}

/** Writes the value of the topmost clip seen on a channel, or what the channel has without any. */
export function showLayer(numbers: Numbers, layer: LayeredChannel, frame: number): void {
  const { values } = numbers;
  const { showings, slot, stored } = layer;
  for (let i = showings.length - 1; i >= 0; i--) {
    const showing = showings[i]!;
    if (!(frame >= showing.from && frame < showing.to)) continue;
    const count = showing.tracks.length;
    for (let component = 0; component < count; component++) {
      const value = showingValue(showing, component, frame);
      values[slot + component] = showing.oklab ? value : constrain(value, layer.fit, layer.min, layer.max);
    }
    if (showing.oklab) linearFromOklabAt(values, slot);
    return;
  }
  if (stored)
    for (let component = 0; component < stored.length; component++)
      values[slot + component] = stored[component]!;
}
