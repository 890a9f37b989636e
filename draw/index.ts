export * from './renderer';
export * from './picture';
