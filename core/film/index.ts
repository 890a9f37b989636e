export * from './formats';
export * from './limits';
export * from './sub-frames';
export * from './tiles';
export * from './video';
export * from './presets';
export * from './guess';
