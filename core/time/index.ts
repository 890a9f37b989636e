export * from './rate';
export * from './timecode';
