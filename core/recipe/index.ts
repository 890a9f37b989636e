export {
  applyRecipe,
  builderOf,
  keyedOf,
  type OverKeys,
  recipeOf,
  rememberedRecipe,
  writeRecipe,
  type Applied,
  type RecipeSpec,
  type Role,
  type Roles,
  type Setting,
  type Settings,
  type SettingValue,
  type Written,
} from './recipe';

export { FACT_MEASURES, type FactMeasure } from './facts';
export { BUILT_KINDS, buildParts, discOutline, type OwnChange, slottedOutline, type Built } from './build';

export { RECIPE_GROUPS, RECIPES } from './recipes';
export { ownSizes } from './own-sizes';
export { editRecipe, type Edited } from './edit-recipe';
export { phaseOf, setPhases } from './phase';
