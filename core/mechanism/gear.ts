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
