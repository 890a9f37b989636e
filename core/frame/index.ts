export { FrameMeaning } from './frame-meaning';
