export { BrokenMedia, NoDecoder } from './run';
export * from './sound';
export * from './video';
