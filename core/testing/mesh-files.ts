import { joinGlb } from '../format';

const utf8 = (text: string): Uint8Array => Uint8Array.from(text, (letter) => letter.charCodeAt(0));

function floats(values: readonly number[]): Uint8Array {
  return new Uint8Array(Float32Array.from(values).buffer);
}

/** Description of a GLB with one triangle, red and rough, one unit up, its node named "Winch drum". */
export function triangleGltf(): Record<string, unknown> {
  return {
    asset: { version: '2.0' },
    scene: 0,
    scenes: [{ nodes: [0] }],
    nodes: [{ name: 'Winch drum', mesh: 0, translation: [0, 1, 0] }],
    meshes: [{ name: 'Drum', primitives: [{ attributes: { POSITION: 0 }, material: 0 }] }],
    materials: [
      {
        name: 'Red lead',
        pbrMetallicRoughness: {
          baseColorFactor: [0.6, 0.05, 0.02, 1],
          metallicFactor: 0,
          roughnessFactor: 0.8,
        },
      },
    ],
    accessors: [
      { bufferView: 0, componentType: 5126, count: 3, type: 'VEC3', min: [0, 0, 0], max: [2, 3, 0] },
    ],
    bufferViews: [{ buffer: 0, byteOffset: 0, byteLength: 36 }],
    buffers: [{ byteLength: 36 }],
  };
}

/** A GLB of a description, with the bytes of one triangle. */
export function glbOf(description: unknown, binary = floats([0, 0, 0, 2, 0, 0, 0, 3, 0])): Uint8Array {
  return joinGlb(utf8(JSON.stringify(description)), binary);
}

/** A cube of side 2 as OBJ, with the object name "Crate". */
export const CRATE_OBJ = `# a crate of the fair
o Crate
v -1 -1 -1
v 1 -1 -1
v 1 1 -1
v -1 1 -1
v -1 -1 1
v 1 -1 1
v 1 1 1
v -1 1 1
f 4 3 2 1
f 5 6 7 8
f 1 2 6 5
f 2 3 7 6
f 3 4 8 7
f 4 1 5 8
`;

/** One triangle as ASCII STL. */
export const FLAG_STL = `solid flag
 facet normal 0 0 1
  outer loop
   vertex 0 0 0
   vertex 1 0 0
   vertex 0 1 0
  endloop
 endfacet
endsolid flag
`;

/** One triangle as ASCII PLY. */
export const FLAG_PLY = `ply
format ascii 1.0
element vertex 3
property float x
property float y
property float z
element face 1
property list uchar int vertex_indices
end_header
0 0 0
1 0 0
0 1 0
3 0 1 2
`;
