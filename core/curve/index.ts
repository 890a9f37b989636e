export * from './segment';
export * from './compiled-track';
export * from './ease';
