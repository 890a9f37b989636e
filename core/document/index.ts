export * from './channel-table';
export * from './drawing-schema';
export * from './picture-schema';
export {
  BLENDS,
  EXTENDS,
  FRAME_LIMIT,
  HANDLE_KINDS,
  keySchema,
  MANNERS,
  RISE_LIMIT,
  trackSchema,
} from './key-schema';
export * from './schema';
export * from './query';
export * from './mirror';
export * from './retimed-track';
export * from './parse';
export { checkStructure, PROBLEMS_TOLD, refuseValue, type DocumentProblem } from './check-structure';
export type { Place } from './check-schema';
export { describeIssue, foundAt, shownValue } from './describe-issue';
export * from './upgrade';
