import type { Shape } from '../document';

/** What of a shape tells how round it is, beside its sizes. */
type Form = Pick<Shape, 'kind' | 'pulleys'>;

type Sizes = (path: string) => number;

/** Shares of their sides with which round shapes are built where they are small in the picture, the finest first. */
export const FINENESS: readonly number[] = [1, 0.75, 0.5, 0.35, 0.25, 0.18];

/** Sides from which on something is shaded round. */
export const SMOOTH_SIDES = 13;
/** Columns and rows of a ball. */
export const ROUND_COLUMNS = 48;
export const ROUND_ROWS = 24;
/** A tube that goes more often than this into the radius of its ring is thin. */
const THIN_TUBE = 8;
/** Sides of an eye of a bar. */
export const EYE_SIDES = 40;
/** Sides of a turn of a worm, points of the edge of a cam, steps of the seat of a roller. */
export const WORM_SIDES = 64;
export const CAM_POINTS = 360;
export const SEAT_STEPS = 12;
/** Sides of a roller of a chain, and of a round end of a plate; steps of a whole bend of a belt. */
export const CHAIN_SIDES = 20;
export const BELT_STEPS = 96;
/** Steps of a turn of a spring, and sides of its wire. */
export const SPRING_STEPS = 32;
export const WIRE_SIDES = 10;
/** Steps of the flank of a tooth. */
export const FLANK_STEPS = 8;
/** How far a flank bulges from a straight line, in modules: a chord of 2.25 modules on the involute of a wheel of some twenty teeth. */
const FLANK_BULGE = 0.14;

/** Sides of a torus about its axis and about its tube; a thin tube needs fewer. */
export const torusSides = (radius: number, tube: number): { columns: number; rows: number } => ({
  columns: ROUND_COLUMNS * 2,
  rows: tube * THIN_TUBE < radius ? ROUND_ROWS / 2 : ROUND_ROWS,
});

/** A count of sides or rows at a fineness, no less than what still makes the shape. */
export const atFineness = (count: number, fineness: number, least: number): number =>
  fineness === 1 ? count : Math.max(Math.min(count, least), Math.round(count * fineness));

/** Sides that somebody has chosen, at a fineness: few of them are edges that are meant to be seen, and stay. */
export const sidesAtFineness = (sides: number, fineness: number): number =>
  sides < SMOOTH_SIDES ? sides : atFineness(sides, fineness, SMOOTH_SIDES);

/** What is round about a shape: how many steps go round, and the metres by which a single step would miss. */
interface Round {
  readonly steps: number;
  readonly bend: number;
}

/** A circle of n sides misses by r (1 - cos(pi / n)), nearly r pi^2 / (2 n^2). */
const circle = (radius: number, steps: number): Round => ({
  steps,
  bend: (Math.abs(radius) * Math.PI ** 2) / 2,
});

const chosen = (radius: number, sides: number): Round[] =>
  sides < SMOOTH_SIDES ? [] : [circle(radius, sides)];

function roundsOf({ kind, pulleys = [] }: Form, size: Sizes): Round[] {
  switch (kind) {
    case 'ball':
    case 'capsule':
      return [circle(size('radius'), ROUND_COLUMNS)];
    case 'torus': {
      const { columns, rows } = torusSides(size('radius'), size('tube'));
      return [circle(size('radius') + size('tube'), columns), circle(size('tube'), rows)];
    }
    case 'cylinder':
    case 'cone':
      return chosen(size('radius') * Math.max(1, size('top')), size('sides'));
    case 'tube':
    case 'disc':
    case 'lathe':
      return chosen(size('radius'), size('sides'));
    case 'bar':
      return [circle(size('width') / 2, EYE_SIDES)];
    case 'gear':
    case 'ring-gear':
    case 'bevel-gear':
      return [{ steps: FLANK_STEPS, bend: FLANK_BULGE * size('module') }];
    case 'worm':
      return [circle(size('radius') + size('module'), WORM_SIDES)];
    case 'cam':
      return [circle(size('base') + Math.max(0, size('lift')), CAM_POINTS)];
    case 'sprocket':
      return [circle(size('roller'), SEAT_STEPS * 3)];
    case 'chain':
      return [circle(size('pitch') / 2, CHAIN_SIDES)];
    case 'belt':
      return [circle(Math.max(0, ...pulleys.map(([, , radius]) => Math.abs(radius))), BELT_STEPS)];
    case 'spring':
      return [circle(size('radius'), SPRING_STEPS), circle(size('wire'), WIRE_SIDES)];
    case 'shaft':
      return chosen(size('radius'), size('sides'));
    case 'bracket':
      return [circle(size('eye'), EYE_SIDES)];
    default:
      return [];
  }
}

const STRAIGHT: ReadonlySet<Shape['kind']> = new Set([
  'box',
  'plane',
  'outline',
  'lettering',
  'rack',
  'mesh',
]);

/** Whether a kind of shape is built finer or coarser. */
export const isRound = ({ kind }: Pick<Shape, 'kind'>): boolean => !STRAIGHT.has(kind);

/** Fineness relative to the shapes as drawn beyond which nothing is built finer. */
const FINEST = 2;

/**
 * The fineness at which no side of a round shape lies further from the true surface than `miss`, finer than it is drawn if
 * need be.
 * @param miss metres, above 0
 */
export function finenessWithin(form: Form, size: Sizes, miss: number): number {
  const share = Math.max(0, ...roundsOf(form, size).map(({ steps, bend }) => Math.sqrt(bend / miss) / steps));
  return Math.min(FINEST, Math.max(FINENESS.at(-1)!, share));
}

/**
 * The coarsest fineness at which no edge of a shape is further from the true one than is seen.
 * @param pixels size of a metre of the shape in the picture, pixels
 * @param tolerance how far an edge may be off, pixels; 0 for the finest
 * @returns place in `FINENESS`
 */
export function finenessFor(form: Form, size: Sizes, pixels: number, tolerance: number): number {
  if (!(tolerance > 0)) return 0;
  const share = Math.max(
    0,
    ...roundsOf(form, size).map(({ steps, bend }) => Math.sqrt((bend * pixels) / tolerance) / steps),
  );
  for (let level = FINENESS.length - 1; level > 0; level--) if (FINENESS[level]! >= share) return level;
  return 0;
}
