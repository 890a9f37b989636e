/**
 * The easing keywords of CSS Easing Functions Level 1 as control points (x1, y1, x2, y2) of a cubic Bezier in the
 * unit square. "Ease in" starts slowly, "ease out" ends slowly.
 */
export const EASES = {
  ease: [0.25, 0.1, 0.25, 1],
  'ease-in': [0.42, 0, 1, 1],
  'ease-out': [0, 0, 0.58, 1],
  'ease-in-out': [0.42, 0, 0.58, 1],
} as const satisfies Record<string, readonly [number, number, number, number]>;

export type Ease = keyof typeof EASES;
