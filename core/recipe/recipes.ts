import * as drives from './drives';
import * as gears from './gears';
import * as linkages from './linkages';
import * as motions from './motions';
import { REACH } from './reach';
import type { RecipeSpec } from './recipe';

/** Every recipe, in the groups in which they are offered. */
export const RECIPE_GROUPS: readonly (readonly [group: string, specs: readonly RecipeSpec[]])[] = [
  [
    'Gears',
    [
      gears.GEAR_OUTER,
      gears.GEAR_INNER,
      gears.GEAR_BEVEL,
      gears.TRAIN,
      gears.PLANETARY,
      gears.RACK,
      drives.WORM,
    ],
  ],
  ['Belts, chains and ropes', [drives.BELT, drives.CHAIN, drives.ROPE]],
  [
    'Cranks, cams and linkages',
    [
      linkages.CRANK_SLIDER,
      motions.ECCENTRIC,
      motions.SCOTCH_YOKE,
      motions.TOGGLE,
      linkages.FOUR_BAR,
      motions.PANTOGRAPH,
      linkages.CAM,
      drives.UNIVERSAL,
      REACH,
    ],
  ],
  ['Steps and stops', [linkages.INTERMITTENT, motions.RATCHET, motions.HINGE]],
  ['Screws and springs', [linkages.SCREW, drives.SPRING]],
  ['Rolling', [linkages.ROLL, linkages.ROLL_PATH]],
  ['Following', [linkages.FOLLOW, linkages.PHASE, linkages.STAGGER]],
];

/** Every recipe, by kind. */
export const RECIPES: ReadonlyMap<string, RecipeSpec> = new Map(
  RECIPE_GROUPS.flatMap(([, specs]) => specs).map((spec) => [spec.kind, spec]),
);
