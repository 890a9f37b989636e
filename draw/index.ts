export * from './frame';
export * from './scene';
