export * from './crank';
export * from './gear';
