export * from './change';
export * from './make-id';
export * from './values';
export * from './keys';
export * from './links';
export * from './parts';
