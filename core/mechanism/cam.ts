import { CAM_LAWS, type CamLaw } from '../kinds';
import { cosDeg, sinDeg } from '../math';

/**
 * Laws by which a cam lifts its follower, as the share of the lift after a share u of the rise. All run from 0 to 1,
 * are 1/2 at u = 1/2 and s(1 - u) = 1 - s(u). Sources: Norton, "Cam Design and Manufacturing Handbook"; Rothbart,
 * "Cam Design Handbook"; the modified trapezoid and modified sine with blends of one eighth after Neklutin.
 */
export { CAM_LAWS, type CamLaw };

const PI = Math.PI;
const sinTurns = (x: number): number => sinDeg(360 * x);
const cosTurns = (x: number): number => cosDeg(360 * x);

/** Modified sine, first half: sine of period 1/2 up to 1/8, then a slower one. */
function modifiedSine(u: number): number {
  const k = 1 / (4 + PI);
  if (u < 1 / 8) return k * (PI * u - sinTurns(2 * u) / 4);
  // sin(4 pi u / 3 + pi / 3) = sin of (2 u / 3 + 1 / 6) turns
  return k * (2 + PI * u - (9 / 4) * sinTurns((2 / 3) * u + 1 / 6));
}

/** Modified trapezoid, first half: acceleration rises over 1/8, stays up to 3/8, falls to 0 at 1/2. */
function modifiedTrapezoid(u: number): number {
  const peak = (8 * PI) / (2 + PI);
  const w = 4 * PI;
  const speedAt = peak / w;
  const placeAt = peak * (1 / (8 * w) - 1 / (w * w));
  if (u < 1 / 8) return peak * (u / w - sinTurns(2 * u) / (w * w));
  if (u < 3 / 8) {
    const t = u - 1 / 8;
    return placeAt + speedAt * t + (peak * t * t) / 2;
  }
  const t = u - 3 / 8;
  const speed = speedAt + peak / 4;
  const place = placeAt + speedAt / 4 + peak / 32;
  return place + speed * t + (peak * (1 - cosTurns(2 * t))) / (w * w);
}

const symmetric =
  (half: (u: number) => number) =>
  (u: number): number =>
    u <= 0.5 ? half(u) : 1 - half(1 - u);

const LAWS: Record<CamLaw, (u: number) => number> = {
  harmonic: (u) => (1 - cosDeg(180 * u)) / 2,
  cycloidal: (u) => u - sinTurns(u) / (2 * PI),
  '3-4-5': (u) => u * u * u * (10 + u * (-15 + u * 6)),
  '4-5-6-7': (u) => u * u * u * u * (35 + u * (-84 + u * (70 - u * 20))),
  'modified sine': symmetric(modifiedSine),
  'modified trapezoid': symmetric(modifiedTrapezoid),
};

/** Share of the lift after the share `u` of the rise; u is cut to 0..1. */
export function camRise(law: CamLaw, u: number): number {
  return u <= 0 ? 0 : u >= 1 ? 1 : LAWS[law](u);
}

/** Slope and bend of the laws after a share u of the rise, on their first half. */
type Slope = readonly [slope: number, bend: number];

function modifiedSineSlope(u: number): Slope {
  const k = 1 / (4 + PI);
  if (u < 1 / 8) return [k * PI * (1 - cosTurns(2 * u)), 4 * k * PI * PI * sinTurns(2 * u)];
  const turn = (2 / 3) * u + 1 / 6;
  return [k * PI * (1 - 3 * cosTurns(turn)), 4 * PI * PI * k * sinTurns(turn)];
}

function modifiedTrapezoidSlope(u: number): Slope {
  const peak = (8 * PI) / (2 + PI);
  const w = 4 * PI;
  if (u < 1 / 8) return [(peak / w) * (1 - cosTurns(2 * u)), peak * sinTurns(2 * u)];
  if (u < 3 / 8) return [peak / w + peak * (u - 1 / 8), peak];
  const t = u - 3 / 8;
  return [peak / w + peak / 4 + (peak / w) * sinTurns(2 * t), peak * cosTurns(2 * t)];
}

const SLOPES: Record<CamLaw, (u: number) => Slope> = {
  harmonic: (u) => [(PI / 2) * sinDeg(180 * u), ((PI * PI) / 2) * cosDeg(180 * u)],
  cycloidal: (u) => [1 - cosTurns(u), 2 * PI * sinTurns(u)],
  '3-4-5': (u) => [30 * u * u * (1 - u) * (1 - u), u * (60 + u * (-180 + u * 120))],
  '4-5-6-7': (u) => [140 * (u * (1 - u)) ** 3, u * u * (420 + u * (-1680 + u * (2100 - u * 840)))],
  'modified sine': modifiedSineSlope,
  'modified trapezoid': modifiedTrapezoidSlope,
};

/** First and second derivative of the share of the lift by the share `u` of the rise, 0 to 1. */
export function camSlope(law: CamLaw, u: number): Slope {
  if (u <= 0.5) return SLOPES[law](Math.max(0, u));
  const [slope, bend] = SLOPES[law](Math.max(0, 1 - u));
  return [slope, -bend];
}

/**
 * Lift of a follower by a cam turned by `angle`: it rises from 0, stays, falls, and stays down for what is left of
 * the turn. Angles in degrees; NaN where rise, dwell and fall together are more than a turn or one is negative.
 * A rise or fall of 0 degrees is a step.
 */
export function camLift(
  law: CamLaw,
  angle: number,
  lift: number,
  rise: number,
  dwell: number,
  fall: number,
): number {
  if (rise < 0 || dwell < 0 || fall < 0 || rise + dwell + fall > 360 + 1e-9) return NaN;
  const turn = angle - 360 * Math.floor(angle / 360);
  if (turn < rise) return lift * camRise(law, turn / rise);
  if (turn <= rise + dwell) return lift;
  if (turn < rise + dwell + fall) return lift * (1 - camRise(law, (turn - rise - dwell) / fall));
  return 0;
}

/** Why a cam gives no lift, in words; `null` when its angles are sound. */
export function camTrouble(rise: number, dwell: number, fall: number): string | null {
  if (rise < 0 || dwell < 0 || fall < 0) return 'rise, dwell and fall must not be negative';
  const sum = rise + dwell + fall;
  return sum > 360 + 1e-9
    ? `rise, dwell and fall add up to ${Math.round(sum * 1e6) / 1e6} degrees: at most 360 fit on a cam`
    : null;
}
