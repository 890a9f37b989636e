export * from './loudness-table';
export * from './mix';
export * from './onsets';
export * from './peaks';
export * from './spectrum';
export * from './tempo';
