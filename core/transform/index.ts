export * from './matrix';
export * from './local';
export * from './decompose';
