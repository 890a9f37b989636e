/** Where in a frame one of the pictures that it is built up from is taken: shares, seeded by the frame. */
export interface SubFrame {
  /** Moment within the time that the shutter is open: -0.5 as it opens, 0.5 as it closes. */
  readonly time: number;
  /** Place within a pixel, -0.5 to 0.5 across and up. */
  readonly pixel: readonly [number, number];
  /** Place on the lens, in the disc of radius 1. */
  readonly lens: readonly [number, number];
  /** Place on the n-th lamp of the shot, in the disc of radius 1. */
  readonly lamp: (n: number) => readonly [number, number];
  /** Place on the n-th panel of the shot, 0 to 1 across and up. */
  readonly panel: (n: number) => readonly [number, number];
  /** Direction from which the sky shines, evenly over the half of the globe: unit vector, y up. */
  readonly sky: readonly [number, number, number];
}

/** Halton's sequence: the digits of a number mirrored at the point. (J. H. Halton, Numer. Math. 2, 1960.) */
function halton(index: number, base: number): number {
  let result = 0;
  let share = 1 / base;
  for (let i = index; i > 0; i = Math.floor(i / base)) {
    result += share * (i % base);
    share /= base;
  }
  return result;
}

/** An even share of a seed, 0 up to 1: the same on every machine. */
function hashed(seed: number): number {
  let h = Math.imul(seed ^ 0x9e3779b9, 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  h = Math.imul(h ^ (h >>> 16), 0x27d4eb2f);
  return ((h ^ (h >>> 15)) >>> 0) / 2 ** 32;
}

const wrapped = (share: number): number => share - Math.floor(share);

/** From the square to the disc of radius 1, evenly. */
function onDisc(u: number, v: number): [number, number] {
  const radius = Math.sqrt(u);
  const angle = 2 * Math.PI * v;
  return [radius * Math.cos(angle), radius * Math.sin(angle)];
}

/**
 * The `index`-th of `count` pictures of a frame. Together they lie evenly over the pixel, the open shutter, the lens and
 * each lamp and panel; lens, lamps and times are shifted from frame to frame, places within the pixel are the same in each.
 * @param frame whole or not; what counts is the whole frame
 */
export function subFrame(frame: number, index: number, count: number): SubFrame {
  if (count === 1)
    return {
      time: 0,
      pixel: [0, 0],
      lens: [0, 0],
      lamp: () => [0, 0],
      panel: () => [0.5, 0.5],
      sky: [0, 1, 0],
    };
  const seed = Math.round(frame) * 1031;
  const shifted = (base: number, salt: number): number =>
    wrapped(halton(index + 1, base) + hashed(seed + salt));
  const [skyX, skyZ] = onDisc(shifted(2, 91), shifted(3, 92));
  // Heights of a half globe lie evenly: the disc's radius tells one, Archimedes' cylinder.
  const height = 1 - (skyX * skyX + skyZ * skyZ);
  const spread = Math.sqrt(1 + height);
  return {
    // Moments are as far from one another as can be, in an order that goes with no other sequence.
    time: (index + 0.5) / count - 0.5,
    pixel: [halton(index + 1, 2) - 0.5, halton(index + 1, 3) - 0.5],
    lens: onDisc(shifted(2, 1), shifted(3, 2)),
    lamp: (n) => onDisc(shifted(3, 11 + 2 * n), shifted(2, 12 + 2 * n)),
    panel: (n) => [shifted(3, 11 + 2 * n), shifted(2, 12 + 2 * n)],
    sky: [skyX * spread, height, skyZ * spread],
  };
}
