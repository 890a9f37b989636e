export * from './clearance';
export { fileMeshName, type Body, type FileMeshes } from './bodies';
export type { Triangles } from './solid';
export { joined, meetingsOf, type Meeting } from './meetings';
export { freeWays, type FreeWay, type FreeWaysAsked } from './free-ways';
