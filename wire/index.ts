export * from './assets';
export * from './films';
export * from './manners';
export * from './names';
export * from './problem';
export * from './projects';
export * from './shots';
export * from './upkeep';
