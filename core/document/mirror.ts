export type MirrorAxis = 'x' | 'y' | 'z';

/** Whether a number of a part's place changes its sign when the part is mirrored across the plane through 0 of an axis. */
export function flipsAcross(path: string, axis: MirrorAxis): boolean {
  const [name, along] = path.split('.');
  if (name === 'location' || name === 'pivot') return along === axis;
  // The turn about the axis itself stays; the two others run the other way, whatever the order.
  if (name === 'rotation' || name === 'rest') return along !== axis;
  return false;
}
