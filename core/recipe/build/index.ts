export { buildParts, BUILT_KINDS, planOf, rolesOf, type Built } from './build-parts';
export { discOutline } from './planner';
export { slottedOutline } from './motions';
export { rebuildParts, type OwnChange, type Rebuilt } from './rebuild';
