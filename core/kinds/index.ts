export * from './channel-spec';
export * from './copy-channels';
export * from './definition';
export * from './part-kinds';
export { FOLLOW_CHANNELS, PLACE_CHANNELS } from './place-channels';
export * from './shape-kinds';
export { ROUND } from './symmetry';
