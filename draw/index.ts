export * from './renderer';
export * from './picture';
export * from './assets';
export * from './mesh-file';
export { Outline } from './outline';
