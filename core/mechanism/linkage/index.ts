export * from './chain';
export * from './order-of-solution';
export * from './motion';
export * from './driven-range';
