export * from './find';
export { solve, type Answer, type Solved, type Unknown, type Wanted } from './solve';
