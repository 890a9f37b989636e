export * from './draw-frame';
export * from './renderer';
export { Outline } from './outline';
