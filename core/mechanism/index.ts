export * from './crank';
export * from './gear';
export * from './cam';
export * from './fourbar';
export * from './intermittent';
export * from './rolling';
export * from './belt';
