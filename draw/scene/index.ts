export * from './assets';
export { BATCHED_LAYER } from './batches';
export type { BackdropNow } from './backdrop';
export type { CameraOf } from './cameras';
export type { Audience } from './drawn';
export * from './mesh-file';
export * from './picture';
