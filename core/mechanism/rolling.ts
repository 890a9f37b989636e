const DEG = 180 / Math.PI;

/**
 * Turn in degrees of a wheel that rolls without slipping on ground below it: right-handed about the axis towards the
 * viewer, so that rolling to the right (+x, seen from +z, y up) is negative. NaN for a radius of 0.
 */
export function rollAngle(distance: number, radius: number): number {
  return radius === 0 ? NaN : -(distance / radius) * DEG;
}

/** Way of a rack moved by a pinion of the given pitch radius turned by an angle in degrees. */
export function rackTravel(angle: number, radius: number): number {
  return (angle / DEG) * radius;
}

/** Way of a nut on a screw of the given lead (way per turn), turned by an angle in degrees. Lead = starts x pitch. */
export function screwTravel(angle: number, lead: number): number {
  return (angle / 360) * lead;
}
