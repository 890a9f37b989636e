import { BufferAttribute, BufferGeometry, Mesh } from 'three';
import { GLTFLoader } from 'three/addons/loaders/GLTFLoader.js';
import { OBJLoader } from 'three/addons/loaders/OBJLoader.js';
import { PLYLoader } from 'three/addons/loaders/PLYLoader.js';
import { STLLoader } from 'three/addons/loaders/STLLoader.js';
import type { MeshFormat } from '../../core/document';
import { joinGlb, splitGlb, type GltfJson } from '../../core/format';

/** A mesh of a file: its geometry and the name that the file gives it. */
export interface FileMesh {
  readonly name: string;
  readonly geometry: BufferGeometry;
}

const VERTICES_AT_MOST = 5_000_000;

/** Description and binary part of a glTF file of either kind. */
export function gltfParts(
  format: 'glb' | 'gltf',
  bytes: Uint8Array,
): { json: GltfJson; binary: Uint8Array | null } {
  if (format === 'gltf') return joined(JSON.parse(new TextDecoder().decode(bytes)) as GltfJson);
  const parts = splitGlb(bytes);
  if (typeof parts === 'string') throw new RangeError(parts);
  return { json: JSON.parse(new TextDecoder().decode(parts.json)) as GltfJson, binary: parts.binary };
}

/** Buffers written into a description, as one binary part. */
function joined(json: GltfJson): { json: GltfJson; binary: Uint8Array | null } {
  const pieces = (json.buffers ?? []).map(({ uri = '' }) =>
    Uint8Array.from(atob(uri.slice(uri.indexOf(',') + 1)), (letter) => letter.charCodeAt(0)),
  );
  const starts: number[] = [];
  let length = 0;
  for (const piece of pieces) {
    starts.push(length);
    length += Math.ceil(piece.length / 4) * 4;
  }
  const binary = new Uint8Array(length);
  pieces.forEach((piece, i) => binary.set(piece, starts[i]));
  const bufferViews = json.bufferViews?.map((view) => ({
    ...view,
    buffer: 0,
    byteOffset: (view.byteOffset ?? 0) + starts[view.buffer]!,
  }));
  return {
    json: { ...json, buffers: [{ byteLength: length }], ...(bufferViews ? { bufferViews } : {}) },
    binary: length > 0 ? binary : null,
  };
}

async function gltfMeshes(format: 'glb' | 'gltf', bytes: Uint8Array): Promise<FileMesh[]> {
  const { json, binary } = gltfParts(format, bytes);
  // Looks and pictures are kept in the document: without them nothing has to be fetched or decoded here.
  const { images: _images, textures: _textures, ...rest } = json;
  const bare = {
    ...rest,
    materials: undefined,
    animations: undefined,
    skins: undefined,
    samplers: undefined,
    meshes: json.meshes?.map((mesh) => ({
      ...mesh,
      primitives: mesh.primitives.map((primitive) => ({ ...primitive, material: undefined })),
    })),
    extensionsUsed: undefined,
  };
  const text = new TextEncoder().encode(JSON.stringify(bare));
  const whole = joinGlb(text, binary ?? new Uint8Array());
  const { parser } = await new GLTFLoader().parseAsync(whole.buffer as ArrayBuffer, '');
  const found: FileMesh[] = [];
  for (const [i, mesh] of (json.meshes ?? []).entries()) {
    const object = (await parser.getDependency('mesh', i)) as Mesh;
    const parts = object instanceof Mesh ? [object] : ((object as { children: Mesh[] }).children ?? []);
    for (const part of parts) found.push({ name: mesh.name ?? `Mesh ${i + 1}`, geometry: part.geometry });
  }
  return found;
}

/**
 * Meshes of a file, in the order that a document counts them: for glTF each primitive of each mesh, for OBJ each object,
 * else the one mesh.
 * @throws Error for a file that cannot be read
 */
export async function readMeshFile(format: MeshFormat, bytes: Uint8Array): Promise<FileMesh[]> {
  const buffer = bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer;
  let meshes: FileMesh[];
  switch (format) {
    case 'glb':
    case 'gltf':
      meshes = await gltfMeshes(format, bytes);
      break;
    case 'obj':
      meshes = new OBJLoader()
        .parse(new TextDecoder().decode(bytes))
        .children.filter((child): child is Mesh => child instanceof Mesh)
        .map((mesh, i) => ({ name: mesh.name || `Mesh ${i + 1}`, geometry: mesh.geometry }));
      break;
    case 'stl':
      meshes = [{ name: 'Mesh', geometry: new STLLoader().parse(buffer) }];
      break;
    case 'ply':
      meshes = [{ name: 'Mesh', geometry: new PLYLoader().parse(buffer) }];
      break;
  }
  return meshes.map(({ name, geometry }) => ({ name, geometry: plain(geometry) }));
}

/** Place, normal and picture coordinates only. */
function plain(geometry: BufferGeometry): BufferGeometry {
  const out = new BufferGeometry();
  const position = geometry.getAttribute('position');
  if (!position || position.count === 0) throw new RangeError('A mesh of this file has no points.');
  if (position.count > VERTICES_AT_MOST)
    throw new RangeError(`A mesh of this file has ${position.count} points: at most ${VERTICES_AT_MOST}.`);
  for (let i = 0; i < position.array.length; i++)
    if (!Number.isFinite(position.array[i])) throw new RangeError('A point of this file is no number.');
  out.setAttribute('position', position);
  const normal = geometry.getAttribute('normal');
  const uv = geometry.getAttribute('uv');
  out.setAttribute('uv', uv ?? new BufferAttribute(new Float32Array(position.count * 2), 2));
  const index = geometry.getIndex();
  if (index) out.setIndex(index);
  if (normal) out.setAttribute('normal', normal);
  else out.computeVertexNormals();
  return out;
}
