export * from './assets';
export { BATCHED_LAYER } from './batches';
export type { BackdropNow } from './backdrop';
export type { CameraOf } from './cameras';
export * from './mesh-file';
export * from './picture';
