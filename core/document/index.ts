export * from './channel-table';
export * from './schema';
export * from './query';
export * from './mirror';
export * from './parse';
export { checkStructure, PROBLEMS_TOLD, refuseValue, type DocumentProblem } from './check-structure';
export type { Place } from './check-schema';
export { describeIssue, foundAt, shownValue } from './describe-issue';
export * from './upgrade';
