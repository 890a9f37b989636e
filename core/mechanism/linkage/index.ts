export * from './chain';
export * from './order-of-solution';
export * from './motion';
export { pairOf } from './pairs';
export * from './driven-range';
