export * from './channel-table';
export * from './schema';
export * from './query';
export * from './parse';
export * from './upgrade';
