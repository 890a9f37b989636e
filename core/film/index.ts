export * from './formats';
export * from './limits';
export * from './sub-frames';
export * from './video';
export * from './presets';
export * from './guess';
