export * from './draw-frame';
export * from './film';
export { filmLookOf, type FilmLook } from './film-look';
export * from './renderer';
export { Outline } from './outline';
