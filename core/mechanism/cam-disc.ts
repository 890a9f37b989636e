import { FOLLOWERS, type FollowerKind } from '../kinds';
import { atan2, cosDeg, sinDeg } from '../math';
import { camLift, camSlope, type CamLaw } from './cam';

/*
 * The disc of a cam under a follower that moves straight towards its axis: pressure angle, curvature, and the edge itself
 * as the envelope of its followers. Norton, "Cam Design and Manufacturing Handbook", chapter 7; Rothbart, "Cam Design
 * Handbook". Angles in degrees, lengths in one unit; slopes per radian of the cam.
 */

export { FOLLOWERS, type FollowerKind };

export interface CamDisc {
  readonly law: CamLaw;
  readonly lift: number;
  readonly rise: number;
  readonly dwell: number;
  readonly fall: number;
  readonly follower: FollowerKind;
  /** Radius of the disc where the follower is down. */
  readonly base: number;
  /** Radius of the roller; counts for a roller alone. */
  readonly roller: number;
}

/** Pressure angle up to which a follower that moves straight is lifted well, degrees: common practice. */
export const CAM_PRESSURE = 30;

/** Looks at a rise or fall for extremes, and rounds in which the best one is searched around. */
const LOOKS = 720;
const ROUNDS = 60;
const GOLDEN = (Math.sqrt(5) - 1) / 2;

/** Lift, and how it changes with the cam's angle: once and twice, per radian. */
type Motion = readonly [s: number, slope: number, bend: number];

export function camMotion(cam: CamDisc, angle: number): Motion {
  const { law, lift, rise, dwell, fall } = cam;
  const turn = angle - 360 * Math.floor(angle / 360);
  const s = camLift(law, angle, lift, rise, dwell, fall);
  const perRadian = 180 / Math.PI;
  const along = (u: number, span: number, sign: number): Motion => {
    const [slope, bend] = camSlope(law, u);
    const share = perRadian / span;
    return [s, sign * lift * slope * share, lift * bend * share * share];
  };
  if (turn < rise) return along(turn / rise, rise, 1);
  const down = turn - rise - dwell;
  if (down <= 0 || down >= fall) return [s, 0, 0];
  const [, slope, bend] = along(1 - down / fall, fall, -1);
  return [s, slope, bend];
}

/** Way from the axis of the cam to the middle of a roller, or to the tip or foot of a follower, where it is down. */
const primeRadius = ({ base, roller, follower }: CamDisc): number =>
  base + (follower === 'roller' ? roller : 0);

/** Angle between the way of the follower and the force on it; 0 for a flat foot. */
export function camPressure(cam: CamDisc, angle: number): number {
  if (cam.follower === 'flat foot') return 0;
  const [s, slope] = camMotion(cam, angle);
  return (atan2(slope, s + primeRadius(cam)) * 180) / Math.PI;
}

/** Radius of curvature of the edge; Infinity where it is straight, below 0 where it is hollow. */
export function camCurvature(cam: CamDisc, angle: number): number {
  const [s, slope, bend] = camMotion(cam, angle);
  if (cam.follower === 'flat foot') return cam.base + s + bend;
  const r = primeRadius(cam) + s;
  const below = r * r + 2 * slope * slope - r * bend;
  const pitch = (r * r + slope * slope) ** 1.5 / below;
  return below === 0 ? Infinity : cam.follower === 'roller' ? pitch - cam.roller : pitch;
}

/** The place of the edge that touches the follower when the cam has turned by an angle, from the middle of the cam. */
export function camEdge(cam: CamDisc, angle: number, phase = 0): readonly [x: number, y: number] {
  const [s, slope] = camMotion(cam, angle);
  let [x, y] = [0, cam.base + s];
  if (cam.follower === 'flat foot') x = -slope;
  if (cam.follower === 'roller') {
    const r = primeRadius(cam) + s;
    const length = Math.sqrt(r * r + slope * slope);
    x = -(cam.roller * slope) / length;
    y = r - (cam.roller * r) / length;
  }
  // Seen by the cam the follower goes round against its turn.
  const [c, w] = [cosDeg(angle - phase), sinDeg(angle - phase)];
  return [-(x * c - y * w), x * w + y * c];
}

/** The place of a stretch at which a number is greatest: looked for evenly, then by the golden section. */
function greatest(from: number, to: number, of: (angle: number) => number): number {
  if (!(to > from)) return of(from);
  const step = (to - from) / LOOKS;
  let best = from;
  for (let i = 1; i < LOOKS; i++) if (of(from + i * step) > of(best)) best = from + i * step;
  let [low, high] = [Math.max(from, best - step), Math.min(to, best + step)];
  for (let i = 0; i < ROUNDS; i++) {
    const [a, b] = [high - GOLDEN * (high - low), low + GOLDEN * (high - low)];
    if (of(a) > of(b)) high = b;
    else low = a;
  }
  return Math.max(of((low + high) / 2), of(best));
}

export interface CamExtremes {
  /** Greatest pressure angle in the rise and in the fall. */
  readonly pressure: readonly [rise: number, fall: number];
  /** Least radius of curvature where the edge bulges; for a flat foot of all of it. */
  readonly curvature: number;
  /** How far from its middle a flat foot is touched. */
  readonly foot: number;
}

/** What a cam comes to over its turn. */
export function camExtremes(cam: CamDisc): CamExtremes {
  const { rise, dwell, fall } = cam;
  const parts: [number, number][] = [
    [0, rise],
    [rise + dwell, rise + dwell + fall],
  ];
  const pressure = parts.map(([from, to]) =>
    greatest(from, to, (angle) => Math.abs(camPressure(cam, angle))),
  );
  const bulge = (angle: number): number => {
    const radius = camCurvature(cam, angle);
    // A roller's edge is hollow or undercut by its pitch curve: only what bulges there can be undercut.
    const pitch = cam.follower === 'roller' ? radius + cam.roller : radius;
    return cam.follower !== 'flat foot' && pitch < 0 ? -Infinity : -radius;
  };
  const ends = [0, rise, rise + dwell].map(bulge);
  const curvature = -Math.max(...parts.map(([from, to]) => greatest(from, to, bulge)), ...ends);
  const foot = Math.max(
    ...parts.map(([from, to]) => greatest(from, to, (angle) => Math.abs(camMotion(cam, angle)[1]))),
  );
  return { pressure: [pressure[0]!, pressure[1]!], curvature, foot };
}

const digits = (value: number): string => String(Math.round(value * 100) / 100);

/** What is to be known of a cam, in sentences. */
export function camWarnings(cam: CamDisc, { pressure, curvature }: CamExtremes): string[] {
  const told: string[] = [];
  const most = Math.max(...pressure);
  if (most > CAM_PRESSURE)
    told.push(
      `The pressure angle goes up to ${digits(most)} degrees: beyond ${CAM_PRESSURE} the cam pushes the follower aside. A larger base radius or a longer rise and fall help.`,
    );
  if (cam.follower === 'roller' && curvature <= 0)
    told.push(
      'The edge is undercut: the roller is larger than the pitch curve bends, so it cannot follow the law. A smaller roller or a larger base radius help.',
    );
  if (cam.follower === 'flat foot' && curvature <= 0)
    told.push(
      'The edge is undercut: a flat foot would need it to bend inwards, so it cannot follow the law. A larger base radius helps.',
    );
  return told;
}
