export * from './schema';
export * from './layout';
export * from './edit';
export * from './trouble';
export { titleShot } from './title-shot';
export { soundShot } from './sound-shot';
export { mixPixels, type Pixels } from './mix-pixels';
