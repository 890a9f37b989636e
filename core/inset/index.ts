export { innerFrame, spanOfInset } from './inner-frame';
export { insetsOf, loopThrough, type ShotLibrary } from './library';
export { withInnerSounds } from './inner-sounds';
