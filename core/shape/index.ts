export * from './mesh';
export * from './solids';
export * from './gear';
export * from './build';
export { FINENESS, finenessFor, isRound } from './fineness';
export * from './extrude';
export * from './lathe';
export * from './flat';
export * from './drawing';
