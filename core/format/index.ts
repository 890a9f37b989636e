export * from './file-type';
export * from './gltf';
