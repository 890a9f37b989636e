import * as gears from './gears';
import * as linkages from './linkages';
import { REACH } from './reach';
import type { RecipeSpec } from './recipe';

/** Every recipe, by kind. */
export const RECIPES: ReadonlyMap<string, RecipeSpec> = new Map(
  [
    gears.GEAR_OUTER,
    gears.GEAR_INNER,
    gears.GEAR_BEVEL,
    gears.TRAIN,
    gears.PLANETARY,
    gears.BELT,
    gears.RACK,
    gears.WORM,
    linkages.CRANK_SLIDER,
    linkages.FOUR_BAR,
    linkages.CAM,
    linkages.INTERMITTENT,
    linkages.SCREW,
    REACH,
    linkages.ROLL,
    linkages.ROLL_PATH,
    linkages.FOLLOW,
    linkages.PHASE,
    linkages.STAGGER,
  ].map((spec) => [spec.kind, spec]),
);
