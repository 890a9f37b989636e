export * from './assets';
export type { BackdropNow } from './backdrop';
export { FILM_WIDTH, type CameraOf } from './cameras';
export * from './mesh-file';
export * from './picture';
