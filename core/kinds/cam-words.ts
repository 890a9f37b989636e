/** Laws by which a cam lifts its follower; what they are stands in `core/mechanism/cam.ts`. */
export const CAM_LAWS = [
  'harmonic',
  'cycloidal',
  '3-4-5',
  '4-5-6-7',
  'modified sine',
  'modified trapezoid',
] as const;
export type CamLaw = (typeof CAM_LAWS)[number];

/** What a follower runs on the cam with. */
export const FOLLOWERS = ['knife edge', 'roller', 'flat foot'] as const;
export type FollowerKind = (typeof FOLLOWERS)[number];
