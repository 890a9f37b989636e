export {
  applyRecipe,
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
export { BUILT_KINDS, buildParts, discOutline, slottedOutline, type Built } from './build-parts';

export { RECIPES } from './recipes';
export { ownSizes } from './own-sizes';
export { phaseOf, setPhases } from './phase';
