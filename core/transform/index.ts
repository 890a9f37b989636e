export * from './matrix';
export * from './local';
export * from './decompose';
export * from './aim';
export * from './path';
