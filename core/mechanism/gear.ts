import { atan2 } from '../math';

/**
 * Turn of a gear driven by another in external mesh, in degrees: the other way round, by the ratio of teeth.
 * Negative `teeth2` means an inner gear, which turns the same way. NaN for 0 teeth.
 */
export function meshedAngle(angle: number, teeth1: number, teeth2: number): number {
  return teeth2 === 0 ? NaN : (-angle * teeth1) / teeth2;
}

/**
 * Turn of gear 2, in degrees below one tooth pitch, that brings its teeth into the gaps of gear 1. Teeth are
 * centred on angle 0 of each gear; gear 2 lies in direction `direction` from gear 1, which is turned by `angle1`.
 * From the mesh condition of external gears (ISO 21771): both pitch points must meet, tooth against gap.
 */
export function meshPhase(teeth1: number, teeth2: number, direction: number, angle1: number): number {
  const pitch = 360 / teeth2;
  const phase = direction + 180 - 180 / teeth2 + (teeth1 / teeth2) * (direction - angle1);
  return phase - pitch * Math.floor(phase / pitch);
}

/** Distance between the centres of two meshing outer gears of one module. ISO 54. */
export function centreDistance(module: number, teeth1: number, teeth2: number): number {
  return (module * (teeth1 + teeth2)) / 2;
}

/** Distance between the centres of a gear inside a ring gear of one module. ISO 54. */
export function innerCentreDistance(module: number, teeth: number, ringTeeth: number): number {
  return (module * (ringTeeth - teeth)) / 2;
}

/**
 * Turn of a ring gear, in degrees below one tooth pitch, that brings its gaps over the teeth of a gear inside it, which
 * lies in direction `direction` and is turned by `angle`. The ring has a tooth on its angle 0.
 */
export function ringPhase(teeth: number, ringTeeth: number, direction: number, angle: number): number {
  const pitch = 360 / ringTeeth;
  const phase = direction - pitch * (((direction - angle) * teeth) / 360 - 0.5);
  return phase - pitch * Math.floor(phase / pitch);
}

/** Half cone angles in degrees of two bevel gears on shafts at right angles. ISO 23509: tan = teeth1 / teeth2. */
export function bevelCones(teeth1: number, teeth2: number): [number, number] {
  const first = atan2(teeth1, teeth2) * (180 / Math.PI);
  return [first, 90 - first];
}

/** Turns of the parts of a planetary gear train for given turns of two of them. */
export interface Planetary {
  readonly sun: number;
  readonly ring: number;
  readonly carrier: number;
  /** Turn of a planet as the world sees it. */
  readonly planet: number;
}

/**
 * Turns of a planetary train from those of two of its three members; the third is worked out. Source: Willis,
 * "Principles of Mechanism" (1841): (sun - carrier) / (ring - carrier) = -ringTeeth / sunTeeth.
 */
export function planetary(
  sunTeeth: number,
  planetTeeth: number,
  given: { sun?: number; ring?: number; carrier?: number },
): Planetary {
  const ringTeeth = sunTeeth + 2 * planetTeeth;
  const { sun, ring, carrier } = given;
  let s = sun ?? 0;
  let r = ring ?? 0;
  let c = carrier ?? 0;
  if (carrier === undefined) c = (sunTeeth * s + ringTeeth * r) / (sunTeeth + ringTeeth);
  else if (ring === undefined) r = c - ((s - c) * sunTeeth) / ringTeeth;
  else if (sun === undefined) s = c - ((r - c) * ringTeeth) / sunTeeth;
  return { sun: s, ring: r, carrier: c, planet: c - ((s - c) * sunTeeth) / planetTeeth };
}

/**
 * Turns at which the teeth of a planetary train stand in each other's gaps while two of its members stand at 0: one
 * member has to be turned, `moved`, where the planets have an odd number of teeth. A planet with a gap towards the sun
 * then has a tooth towards the ring. Members have a tooth on their angle 0, a planet lies in direction 0 of the carrier.
 * From the mesh conditions of both pairs (ISO 21771): sunTeeth sun + ringTeeth ring = (sunTeeth + ringTeeth) carrier +
 * 180 degrees for odd planets, + 0 for even ones.
 */
export function planetaryStart(
  sunTeeth: number,
  planetTeeth: number,
  moved: 'sun' | 'ring' | 'carrier',
): { readonly sun: number; readonly ring: number; readonly carrier: number } {
  const ringTeeth = sunTeeth + 2 * planetTeeth;
  const half = planetTeeth % 2 === 0 ? 0 : 180;
  return {
    sun: moved === 'sun' ? half / sunTeeth : 0,
    ring: moved === 'ring' ? half / ringTeeth : 0,
    carrier: moved === 'carrier' && half > 0 ? -half / (sunTeeth + ringTeeth) : 0,
  };
}

/** Turn of a worm wheel, degrees, for a turn of its worm. */
export function wormAngle(angle: number, starts: number, teeth: number): number {
  return teeth === 0 ? NaN : (angle * starts) / teeth;
}
