export * from './mesh';
export * from './solids';
export * from './gear';
export * from './build';
