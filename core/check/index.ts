export * from './problem';
export * from './check-shot';
export { movingAddresses } from './check-links';
export * from './why-still';
