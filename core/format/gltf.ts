/** What is read of a glTF document: nodes, meshes, materials and where the bytes of pictures are. */
export interface GltfJson {
  readonly asset?: { readonly version?: string };
  readonly scene?: number;
  readonly scenes?: readonly { readonly nodes?: readonly number[] }[];
  readonly nodes?: readonly GltfNode[];
  readonly meshes?: readonly {
    readonly name?: string;
    readonly primitives: readonly { readonly material?: number; readonly mode?: number }[];
  }[];
  readonly materials?: readonly GltfMaterial[];
  readonly textures?: readonly { readonly source?: number }[];
  readonly images?: readonly {
    readonly uri?: string;
    readonly bufferView?: number;
    readonly name?: string;
  }[];
  readonly buffers?: readonly { readonly uri?: string; readonly byteLength?: number }[];
  readonly bufferViews?: readonly {
    readonly buffer: number;
    readonly byteOffset?: number;
    readonly byteLength: number;
  }[];
  readonly accessors?: readonly { readonly bufferView?: number }[];
  readonly extensionsRequired?: readonly string[];
}

export interface GltfNode {
  readonly name?: string;
  readonly children?: readonly number[];
  readonly mesh?: number;
  readonly matrix?: readonly number[];
  readonly translation?: readonly [number, number, number];
  readonly rotation?: readonly [number, number, number, number];
  readonly scale?: readonly [number, number, number];
}

export interface GltfMaterial {
  readonly name?: string;
  readonly pbrMetallicRoughness?: {
    readonly baseColorFactor?: readonly [number, number, number, number];
    readonly baseColorTexture?: { readonly index: number };
    readonly metallicFactor?: number;
    readonly roughnessFactor?: number;
  };
  readonly emissiveFactor?: readonly [number, number, number];
  readonly alphaMode?: string;
}

const JSON_CHUNK = 0x4e4f534a;
const BINARY_CHUNK = 0x004e4942;

const u32 = (bytes: Uint8Array, at: number): number =>
  (bytes[at]! | (bytes[at + 1]! << 8) | (bytes[at + 2]! << 16) | (bytes[at + 3]! << 24)) >>> 0;

/** JSON and binary part of a GLB (glTF 2.0, "GLB file format"), or a sentence that says what is broken. */
export function splitGlb(bytes: Uint8Array): { json: Uint8Array; binary: Uint8Array | null } | string {
  if (bytes.length < 20) return 'The GLB file is cut off: it has no header.';
  if (u32(bytes, 4) !== 2) return `This is GLB version ${u32(bytes, 4)}: version 2 is needed.`;
  const length = u32(bytes, 8);
  if (length > bytes.length)
    return `The GLB file is cut off: it says ${length} bytes and has ${bytes.length}. Copy it again.`;
  let json: Uint8Array | null = null;
  let binary: Uint8Array | null = null;
  for (let at = 12; at + 8 <= length;) {
    const [size, kind] = [u32(bytes, at), u32(bytes, at + 4)];
    if (at + 8 + size > length) return 'A part of the GLB file reaches beyond its end: the file is broken.';
    const part = bytes.subarray(at + 8, at + 8 + size);
    if (kind === JSON_CHUNK && !json) json = part;
    else if (kind === BINARY_CHUNK && !binary) binary = part;
    at += 8 + size;
  }
  return json ? { json, binary } : 'The GLB file has no description (its JSON part is missing).';
}

/** Puts a description and its bytes into one GLB. `json` must already be UTF-8. */
export function joinGlb(json: Uint8Array, binary: Uint8Array): Uint8Array {
  const padded = (size: number): number => Math.ceil(size / 4) * 4;
  const [jsonSize, binarySize] = [padded(json.length), padded(binary.length)];
  const out = new Uint8Array(12 + 8 + jsonSize + 8 + binarySize);
  const put = (at: number, value: number): void => {
    for (let i = 0; i < 4; i++) out[at + i] = (value >>> (8 * i)) & 255;
  };
  put(0, 0x46546c67);
  put(4, 2);
  put(8, out.length);
  put(12, jsonSize);
  put(16, JSON_CHUNK);
  out.fill(0x20, 20, 20 + jsonSize);
  out.set(json, 20);
  put(20 + jsonSize, binarySize);
  put(24 + jsonSize, BINARY_CHUNK);
  out.set(binary, 28 + jsonSize);
  return out;
}

/** Why a glTF description cannot be taken, or `null`. @param binary bytes of the binary part of a GLB */
export function refuseGltf(text: string, binary: number | null): string | null {
  let gltf: GltfJson;
  try {
    gltf = JSON.parse(text) as GltfJson;
  } catch {
    return 'The description of the glTF file is no JSON: the file is broken.';
  }
  const version = gltf.asset?.version;
  if (!version?.startsWith('2.')) return `This is glTF version ${version ?? 'unknown'}: version 2 is needed.`;
  const needed = gltf.extensionsRequired ?? [];
  if (needed.length > 0)
    return `The file needs ${needed.join(', ')}, which Whirl does not read: export it without.`;
  for (const [i, buffer] of (gltf.buffers ?? []).entries()) {
    if (buffer.uri === undefined) {
      if (i > 0 || binary === null)
        return `Buffer ${i} is missing: the file says it has ${buffer.byteLength ?? 0} bytes and brings none.`;
      if ((buffer.byteLength ?? 0) > binary)
        return `Buffer ${i} is too short: ${buffer.byteLength} bytes are wanted, ${binary} are there.`;
    } else if (!buffer.uri.startsWith('data:'))
      return `Buffer ${i}, "${buffer.uri.slice(0, 80)}", lies in a file of its own: drop that file together with this one.`;
  }
  for (const [i, view] of (gltf.bufferViews ?? []).entries()) {
    const buffer = gltf.buffers?.[view.buffer];
    if (!buffer) return `Buffer ${view.buffer} is missing: view ${i} reads from it.`;
    if ((view.byteOffset ?? 0) + view.byteLength > (buffer.byteLength ?? 0))
      return `View ${i} reads beyond the end of buffer ${view.buffer}.`;
  }
  for (const [i, accessor] of (gltf.accessors ?? []).entries())
    if (accessor.bufferView !== undefined && !gltf.bufferViews?.[accessor.bufferView])
      return `Accessor ${i} reads from view ${accessor.bufferView}, which is missing.`;
  if (!gltf.meshes || gltf.meshes.length === 0) return 'There is no mesh in this file.';
  for (const [i, node] of (gltf.nodes ?? []).entries()) {
    if (node.mesh !== undefined && !gltf.meshes[node.mesh])
      return `Node ${i} shows mesh ${node.mesh}, which is missing.`;
    for (const child of node.children ?? [])
      if (!gltf.nodes![child]) return `Node ${i} has the child ${child}, which is missing.`;
  }
  return null;
}
