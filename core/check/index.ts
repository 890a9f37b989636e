export { type Problem, type CheckOptions } from './problem';
export * from './checker';
export { movingAddresses } from './check-links';
export * from './why-still';
export { budgetTrouble, TRIANGLES_A_FRAME } from './check-budget';
export { shownLength } from './problem';
