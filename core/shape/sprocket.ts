import { cos, sin } from '../math';
import { sprocketRadius } from '../mechanism';
import { atFineness, SEAT_STEPS } from './fineness';
import { wheelMesh } from './gear';
import type { Flat, Mesh } from './mesh';

export interface SprocketSizes {
  readonly teeth: number;
  readonly pitch: number;
  /** Radius of the rollers of its chain, metres. */
  readonly roller: number;
  readonly thickness: number;
  readonly bore: number;
}

/** Radius of a seat in radii of its roller, a little wider than it. ISO 606: 0.505 of the diameter. */
const SEAT = 1.01;

/**
 * Outline of a sprocket, counter-clockwise, a tooth centred on angle 0. In each gap the roller has a seat over 140 - 90 / teeth
 * degrees (ISO 606, its smallest roller seating angle is 120 - 90 / teeth); from there the flank goes straight to the tip circle.
 */
export function sprocketOutline(
  { teeth, pitch, roller }: Omit<SprocketSizes, 'thickness' | 'bore'>,
  fineness = 1,
): Flat[] {
  const radius = sprocketRadius(pitch, teeth);
  const seat = Math.min(roller * SEAT, pitch * 0.45);
  const tip = radius + Math.max(0, (pitch * (1 - 1.6 / teeth)) / 2 - seat * 0.6);
  const spread = (((140 - 90 / teeth) / 2) * Math.PI) / 180;
  const steps = atFineness(SEAT_STEPS, fineness, 4);
  const half = Math.PI / teeth;
  const outline: Flat[] = [];
  for (let gap = 0; gap < teeth; gap++) {
    const middle = (gap + 0.5) * 2 * half;
    const [c, s] = [cos(middle), sin(middle)];
    const put = (out: number, aside: number): void => {
      outline.push([out * c - aside * s, out * s + aside * c]);
    };
    // A quarter of the pitch is left to the tips on both sides.
    const edge = half * 0.72;
    put(tip * cos(edge), -tip * sin(edge));
    for (let i = 0; i <= steps; i++) {
      const angle = spread * (1 - (2 * i) / steps);
      put(radius - seat * cos(angle), -seat * sin(angle));
    }
    put(tip * cos(edge), tip * sin(edge));
  }
  return outline;
}

/** A sprocket round the z axis, middle at the origin. */
export function sprocketMesh(sizes: SprocketSizes, fineness = 1): Mesh {
  const outline = sprocketOutline(sizes, fineness);
  const root = sprocketRadius(sizes.pitch, sizes.teeth) - sizes.roller * SEAT;
  const bore = Math.max(0, Math.min(sizes.bore, root * 0.95));
  const inner = outline.map(([x, y]): Flat => {
    const share = bore / (Math.sqrt(x * x + y * y) || 1);
    return [x * share, y * share];
  });
  return wheelMesh(outline, inner, sizes.thickness, 0, 0);
}
