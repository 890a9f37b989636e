export * from './fonts';
export type { LetterFont } from './letter-font';
export * from './letter';
export { lineOutline } from './line-outline';
