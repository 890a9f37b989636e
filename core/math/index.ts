export * from './portable';
export * from './colour';
