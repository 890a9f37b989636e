import { CAM_LAWS, FOLLOWERS } from '../kinds';
import { camEdge, camTrouble, type CamDisc } from '../mechanism';
import { cosDeg, sinDeg } from '../math';
import { extrudeMesh } from './extrude';
import { atFineness, CAM_POINTS } from './fineness';
import type { Flat, Mesh } from './mesh';

const BORE_SIDES = 48;
/** Share of the thinnest place of a cam that its bore may take. */
const WIDEST_BORE = 0.9;

export interface CamSizes extends Omit<CamDisc, 'law' | 'follower'> {
  /** Places in the lists of laws and of followers. */
  readonly law: number;
  readonly foot: number;
  readonly phase: number;
  readonly thickness: number;
  readonly bore: number;
}

/**
 * Edge of a disc cam in the xy plane under a follower above its axis, counter-clockwise: the envelope of the follower, seen from
 * the cam. Where its angles or its lift make no cam, the circle of its base.
 */
export function camOutline(sizes: Omit<CamSizes, 'thickness' | 'bore'>, fineness = 1): Flat[] {
  const { rise, dwell, fall, lift, base, phase, roller } = sizes;
  const points = atFineness(CAM_POINTS, fineness, 60);
  const disc: CamDisc = {
    law: CAM_LAWS[Math.round(sizes.law)] ?? CAM_LAWS[0],
    follower: FOLLOWERS[Math.round(sizes.foot)] ?? FOLLOWERS[0],
    lift,
    rise,
    dwell,
    fall,
    base,
    roller,
  };
  const none = base + Math.min(0, lift) <= 0 || camTrouble(rise, dwell, fall) !== null;
  // Seen from the cam the follower goes round the way of the clock.
  return Array.from({ length: points }, (_, i): Flat => {
    const angle = (360 * i) / points;
    if (none) return [base * cosDeg(angle), base * sinDeg(angle)];
    const [x, y] = camEdge(disc, -angle, phase);
    return [x, y];
  });
}

/** A disc cam round the z axis, middle at z = 0. */
export function camMesh(sizes: CamSizes, fineness = 1): Mesh {
  const outer = camOutline(sizes, fineness);
  const least = Math.sqrt(Math.min(...outer.map(([x, y]) => x * x + y * y)));
  const bore = Math.min(sizes.bore, least * WIDEST_BORE);
  const sides = atFineness(BORE_SIDES, fineness, 12);
  const hole = Array.from({ length: sides }, (_, i): Flat => {
    const angle = (-360 * i) / sides;
    return [bore * cosDeg(angle), bore * sinDeg(angle)];
  });
  return extrudeMesh([{ outer, holes: bore > 0 ? [hole] : [] }], sizes.thickness, 0);
}
