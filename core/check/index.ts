export * from './problem';
export * from './check-shot';
