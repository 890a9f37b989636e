export * from './motion';
export { MEASURES, reportCsv } from './table';
