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
  pivotSeenFrom,
  worldTurn,
  type Copies,
  type Instant,
} from './node-place';
import { PinnedNumbers } from './pinned-numbers';
import {
  CLOCK_FRAME,
  CLOCK_PROGRESS,
  CLOCK_TIME,
  type LayeredChannel,
  type Plan,
  type PlannedLink,
} from './plan';
import { shareOf, showingValue, type Showing } from './showing';

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
  private readonly linkages: readonly PinnedNumbers[];

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
    this.linkages = plan.linkages.map((linkage) => new PinnedNumbers(linkage));
    this.paths = plan.follows.map(() => new PathMeasure());
    this.points = plan.follows.map((follow) => new Float64Array(follow.points.length * 3).fill(NaN));
    this.copies = plan.repeats.map(({ links }) => ({
      count: 0,
      blocks: 1,
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
      case 'worldturnx':
        return worldTurn(this, a, 0);
      case 'worldturny':
        return worldTurn(this, a, 1);
      case 'worldturnz':
        return worldTurn(this, a, 2);
      case 'seenx':
        return pivotSeenFrom(this, a, b, 0);
      case 'seeny':
        return pivotSeenFrom(this, a, b, 1);
      case 'seenz':
        return pivotSeenFrom(this, a, b, 2);
      case 'distance':
        return pivotDistance(this, a, b);
      case 'pathlength':
        return follow < 0 ? NaN : measurePath(this, follow).total;
    }
  }

  pinned(index: number): number {
    const { linkage, body, component } = this.plan.pinned[index]!;
    return this.linkages[linkage]!.value(this.values, body, component);
  }

  level(index: number, low: number, high: number): number {
    const { sound, piece } = this.plan.levels[index]!;
    const { rate } = this.plan.shot.setup;
    const seconds = secondsAt(this.values[CLOCK_FRAME]!, piece.start, rate);
    const table = this.plan.loudness[sound];
    return levelAt(table, secondsInFile(piece, seconds, table), low, high);
  }
}

/** Gives a channel whose link is out of force its value without it. */
export function holdOwn(values: Float64Array, { slot, ownSlot, width }: PlannedLink): void {
  for (let i = 0; i < width; i++) values[slot + i] = values[ownSlot + i]!;
}

/**
 * Writes what the clips seen on a channel make of it: the topmost one that covers all below it, with those blended over
 * it; without any, what the channel has itself.
 */
export function showLayer(numbers: Numbers, layer: LayeredChannel, frame: number): void {
  const { values } = numbers;
  const { showings, slot, stored } = layer;
  let lowest = showings.length - 1;
  for (; lowest >= 0; lowest--) {
    const showing = showings[lowest]!;
    if (frame >= showing.from && frame < showing.to && shareOf(showing, frame) >= 1) break;
  }
  if (lowest < 0 && stored)
    for (let component = 0; component < stored.length; component++)
      values[slot + component] = stored[component]!;
  for (let i = Math.max(0, lowest); i < showings.length; i++) {
    const showing = showings[i]!;
    if (frame >= showing.from && frame < showing.to) showOver(values, layer, showing, frame);
  }
}

const COLOUR = new Float64Array(3);

function showOver(values: Float64Array, layer: LayeredChannel, showing: Showing, frame: number): void {
  const { slot, fit, min, max } = layer;
  const count = showing.tracks.length;
  const share = shareOf(showing, frame);
  for (let component = 0; component < count; component++)
    COLOUR[component] = showingValue(showing, component, frame);
  if (showing.oklab) linearFromOklabAt(COLOUR, 0);
  for (let component = 0; component < count; component++) {
    const value = COLOUR[component]!;
    if (share >= 1) values[slot + component] = showing.oklab ? value : constrain(value, fit, min, max);
    else {
      const below = values[slot + component]!;
      values[slot + component] = constrain(below + (value - below) * share, fit, min, max);
    }
  }
}
