export * from './channel-spec';
export * from './copy-channels';
export * from './definition';
export { PROGRAM_PATHS, LOOK_CHANNELS } from './look-channels';
export * from './part-kinds';
export * from './ready-looks';
export { FOLLOW_CHANNELS, PLACE_CHANNELS } from './place-channels';
export * from './shape-kinds';
export { ROUND } from './symmetry';
