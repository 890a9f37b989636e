export * from './formats';
export * from './limits';
