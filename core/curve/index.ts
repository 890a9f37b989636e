export * from './segment';
export * from './compiled-track';
export * from './ease';
export * from './split';
export * from './fit';
export * from './motion';
