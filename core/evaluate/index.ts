export * from './plan';
export * from './evaluator';
export * from './explain';
export * from './sample';
export * from './reference';
export * from './constrain';
