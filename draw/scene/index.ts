export * from './assets';
export * from './mesh-file';
export * from './picture';
