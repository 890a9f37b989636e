import { createStore } from 'zustand/vanilla';
import { compiledComponents, sampleTrack, type CompiledTrack } from '../../../../core/curve';
import { channelAt, trackOf, type Track } from '../../../../core/document';
import { Evaluator, type Plan } from '../../../../core/evaluate';
import { hexOfColour, linearFromOklabAt } from '../../../../core/math';

/** Gives a lane's height, 0 to 1, at a frame; or its colour. */
export type LaneCurve =
  | { readonly kind: 'share'; readonly at: (frame: number) => number }
  | { readonly kind: 'colour'; readonly at: (frame: number) => string };

const SAMPLES = 240;
const SLICE_MS = 5;

const spans = new WeakMap<Track, { first: number; last: number; low: number; high: number }>();

function spanOf(
  track: Track,
  component: CompiledTrack,
  first: number,
  last: number,
): { low: number; high: number } {
  const known = spans.get(track);
  if (known && known.first === first && known.last === last) return known;
  let [low, high] = [Infinity, -Infinity];
  for (let i = 0; i <= SAMPLES; i++) {
    const value = sampleTrack(component, first + ((last - first) * i) / SAMPLES);
    low = Math.min(low, value);
    high = Math.max(high, value);
  }
  const found = { first, last, low, high };
  spans.set(track, found);
  return found;
}

const share = (value: number, low: number, high: number): number =>
  high - low > 1e-12 ? (value - low) / (high - low) : 0.5;

interface Sampled {
  readonly values: Float32Array;
  readonly low: number;
  readonly high: number;
}

/** Value at a place between samples, those at the ends beyond them. */
function between(values: Float32Array, at: number): number {
  const place = Math.max(0, Math.min(values.length - 1, at));
  const from = Math.floor(place);
  const to = Math.min(values.length - 1, from + 1);
  return values[from]! + (values[to]! - values[from]!) * (place - from);
}

/**
 * Small curves of lanes. Keyed channels are read from their keys at once; linked ones are worked out frame by frame in
 * short slices, so that nothing waits for them, and shown as they were until the new ones are there.
 */
export class LaneCurves {
  private plan: Plan | null = null;
  private linked = new Map<string, Sampled>();
  private range = { first: 0, step: 1 };
  private running: ReturnType<typeof setTimeout> | undefined;
  /** Counts how often curves of linked channels have come. */
  readonly arrivals = createStore(() => ({ count: 0 }));

  /** Takes another plan; linked channels are worked out anew. */
  setPlan(plan: Plan): void {
    if (this.plan === plan) return;
    this.plan = plan;
    clearTimeout(this.running);
    if (plan.links.length + plan.layers.length > 0) this.begin(plan);
    else this.linked.clear();
  }

  stop(): void {
    clearTimeout(this.running);
  }

  private begin(plan: Plan): void {
    const { first, last } = plan.shot.setup;
    const count = Math.max(2, Math.min(SAMPLES, Math.round((last - first) * 2)) + 1);
    const step = (last - first) / (count - 1) || 1;
    const addresses = [
      ...plan.links.map((link) => link.address),
      ...plan.layers.map((layer) => layer.address),
    ];
    const colours = addresses.map((address) => channelAt(plan.shot, address)?.spec.kind === 'colour');
    // A colour has its three components in three stretches of the table.
    const tables = addresses.map((_, i) => new Float32Array(colours[i] ? 3 * count : count));
    const evaluator = new Evaluator(plan);
    let done = 0;
    const slice = (): void => {
      const until = performance.now() + SLICE_MS;
      while (done < count && performance.now() < until) {
        evaluator.evaluate(first + done * step);
        for (let i = 0; i < addresses.length; i++)
          if (colours[i])
            evaluator.colour(addresses[i]!).forEach((value, c) => (tables[i]![c * count + done] = value));
          else tables[i]![done] = evaluator.number(addresses[i]!);
        done++;
      }
      if (done < count) {
        this.running = setTimeout(slice);
        return;
      }
      this.range = { first, step };
      this.linked = new Map(
        addresses.map((address, i) => {
          const values = tables[i]!;
          let [low, high] = [Infinity, -Infinity];
          for (const value of values) {
            low = Math.min(low, value);
            high = Math.max(high, value);
          }
          return [address, { values, low, high }];
        }),
      );
      this.arrivals.setState(({ count }) => ({ count: count + 1 }));
    };
    this.running = setTimeout(slice);
  }

  private isColour(address: string): boolean {
    return this.plan !== null && channelAt(this.plan.shot, address)?.spec.kind === 'colour';
  }

  /** Values of a linked number channel, straight between what was worked out; `null` while they are being worked out. */
  sampled(address: string): { at: (frame: number) => number; low: number; high: number } | null {
    const sampled = this.linked.get(address);
    if (!sampled || this.isColour(address)) return null;
    const { first, step } = this.range;
    return {
      at: (frame) => between(sampled.values, (frame - first) / step),
      low: sampled.low,
      high: sampled.high,
    };
  }

  /** The curve of a lane, or `null` while it is being worked out. */
  of(address: string): LaneCurve | null {
    const { plan } = this;
    if (!plan) return null;
    const sampled = this.linked.get(address);
    const track = trackOf(plan.shot, address);
    const behind = plan.linkOf.has(address) || plan.layers.some((layer) => layer.address === address);
    if (behind) {
      if (!sampled) return null;
      const { first, step } = this.range;
      const { values, low, high } = sampled;
      if (this.isColour(address)) {
        const parts = [0, 1, 2].map((c) =>
          values.subarray((c * values.length) / 3, ((c + 1) * values.length) / 3),
        );
        return {
          kind: 'colour',
          at: (frame) =>
            hexOfColour(
              parts.map((part) => between(part, (frame - first) / step)) as [number, number, number],
            ),
        };
      }
      return { kind: 'share', at: (frame) => share(between(values, (frame - first) / step), low, high) };
    }
    if (!track) return null;
    if (channelAt(plan.shot, address)?.spec.kind === 'colour') {
      const components = compiledComponents(track, 3);
      const colour = new Float64Array(3);
      return {
        kind: 'colour',
        at: (frame) => {
          for (let i = 0; i < 3; i++) colour[i] = sampleTrack(components[i]!, frame);
          if (track.blend === 'oklab') linearFromOklabAt(colour, 0);
          return hexOfColour([colour[0]!, colour[1]!, colour[2]!]);
        },
      };
    }
    const component = compiledComponents(track, 1)[0]!;
    const { first, last } = plan.shot.setup;
    const { low, high } = spanOf(track, component, first, last);
    return { kind: 'share', at: (frame) => share(sampleTrack(component, frame), low, high) };
  }
}
