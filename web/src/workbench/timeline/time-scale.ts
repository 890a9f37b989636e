/** Frames and pixels of the timeline. */
export interface TimeScale {
  readonly from: number;
  readonly to: number;
  readonly perFrame: number;
  readonly x: (frame: number) => number;
  readonly frame: (x: number) => number;
}

export const PAD = 12;
const SHORTEST = 4;

/** A scale that shows frames `from` to `to` on `width` pixels, with room at both ends. */
export function timeScale(from: number, to: number, width: number): TimeScale {
  const perFrame = (width - 2 * PAD) / Math.max(1e-6, to - from);
  return {
    from,
    to,
    perFrame,
    x: (frame) => PAD + (frame - from) * perFrame,
    frame: (x) => from + (x - PAD) / perFrame,
  };
}

export interface TimeWindow {
  readonly from: number;
  readonly to: number;
}

/** A window kept to sensible lengths: at least a few frames, at most three times the range, near the range. */
export function keptWindow(window: TimeWindow, first: number, last: number): TimeWindow {
  const span = Math.max(1, last - first);
  const length = Math.max(Math.min(SHORTEST, span), Math.min(window.to - window.from, span * 3));
  const middle = Math.max(first - span, Math.min(last + span, (window.from + window.to) / 2));
  return { from: middle - length / 2, to: middle + length / 2 };
}

/** A window closer (factor below 1) or wider, with one frame staying where it is. */
export function zoomedWindow(
  window: TimeWindow,
  about: number,
  factor: number,
  first: number,
  last: number,
): TimeWindow {
  const span = Math.max(1, last - first);
  const shortest = Math.min(SHORTEST, span);
  const length = window.to - window.from;
  const wanted = Math.max(shortest, Math.min(length * factor, span * 3));
  const share = (about - window.from) / length;
  return { from: about - wanted * share, to: about + wanted * (1 - share) };
}

const STEPS = [1, 2, 5, 10, 20, 25, 50, 100, 200, 250, 500, 1000, 2000, 5000, 10_000, 20_000, 50_000];

/** Frames between the numbers of the ruler, so that they do not touch. */
export function rulerStep(perFrame: number, rate: number): number {
  const second = Math.round(rate);
  const steps = [...STEPS, second / 2, second, second * 2, second * 4, second * 10, second * 60]
    .filter((step) => Number.isInteger(step) && step >= 1)
    .sort((a, b) => a - b);
  return steps.find((step) => step * perFrame >= 54) ?? 100_000;
}

/** The nearest place that something dragged catches on, within a reach in frames; else the nearest whole frame. */
export function snappedFrame(frame: number, catches: readonly number[], reach: number): number {
  let best = Math.round(frame);
  let gap = reach;
  for (const place of catches) {
    const away = Math.abs(place - frame);
    if (away < gap) {
      best = place;
      gap = away;
    }
  }
  return best;
}
