export * from './channel-table';
export * from './schema';
export * from './query';
export * from './parse';
export { describeIssue, foundAt, shownValue } from './describe-issue';
export * from './upgrade';
