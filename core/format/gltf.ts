import { z } from 'zod';
import { describeIssue, foundAt } from '../document';

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

const whole = z.number().int().min(0);
const numbers = (count: number) => z.array(z.number()).length(count).optional();
const texture = z.looseObject({ index: whole });
/** The fields that are read, as glTF 2.0 (section 5, "Properties Reference") types them; there may be others. */
const readFields = z.looseObject({
  scene: whole.optional(),
  scenes: z.array(z.looseObject({ nodes: z.array(whole).optional() })).optional(),
  nodes: z
    .array(
      z.looseObject({
        name: z.string().optional(),
        children: z.array(whole).optional(),
        mesh: whole.optional(),
        matrix: numbers(16),
        translation: numbers(3),
        rotation: numbers(4),
        scale: numbers(3),
      }),
    )
    .optional(),
  meshes: z
    .array(
      z.looseObject({
        name: z.string().optional(),
        primitives: z.array(z.looseObject({ material: whole.optional(), mode: whole.optional() })),
      }),
    )
    .optional(),
  materials: z
    .array(
      z.looseObject({
        name: z.string().optional(),
        pbrMetallicRoughness: z
          .looseObject({
            baseColorFactor: numbers(4),
            baseColorTexture: texture.optional(),
            metallicFactor: z.number().optional(),
            roughnessFactor: z.number().optional(),
          })
          .optional(),
        emissiveFactor: numbers(3),
        alphaMode: z.string().optional(),
      }),
    )
    .optional(),
  textures: z.array(z.looseObject({ source: whole.optional() })).optional(),
  images: z
    .array(
      z.looseObject({
        uri: z.string().optional(),
        bufferView: whole.optional(),
        name: z.string().optional(),
      }),
    )
    .optional(),
  buffers: z
    .array(z.looseObject({ uri: z.string().optional(), byteLength: z.number().optional() }))
    .optional(),
  bufferViews: z
    .array(z.looseObject({ buffer: whole, byteOffset: whole.optional(), byteLength: whole }))
    .optional(),
  accessors: z.array(z.looseObject({ bufferView: whole.optional() })).optional(),
  extensionsRequired: z.array(z.string()).optional(),
});

/** Why a glTF description cannot be taken, or `null`. @param binary bytes of the binary part of a GLB */
export function refuseGltf(text: string, binary: number | null): string | null {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    return 'The description of the glTF file is no JSON: the file is broken.';
  }
  const version = foundAt(json, ['asset', 'version']);
  if (typeof version !== 'string' || !version.startsWith('2.'))
    return `This is glTF version ${typeof version === 'string' ? version.slice(0, 20) : 'unknown'}: version 2 is needed.`;
  const parsed = readFields.safeParse(json);
  if (!parsed.success) {
    const issue = parsed.error.issues[0]!;
    return `The description of the glTF file is wrong at ${issue.path.map(String).join('/')}: ${describeIssue(issue, foundAt(json, issue.path))}`;
  }
  const gltf = json as GltfJson;
  const needed = gltf.extensionsRequired ?? [];
  if (needed.length > 0)
    return `The file needs ${needed.join(', ').slice(0, 200)}, which Whirl does not read: export it without.`;
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
  return refuseTangledNodes(gltf.nodes ?? []);
}

/** glTF 2.0, 3.5.2: nodes form trees, none of them is the child of two or hangs below itself. */
function refuseTangledNodes(nodes: readonly GltfNode[]): string | null {
  const parents = new Map<number, number>();
  for (const [i, node] of nodes.entries())
    for (const child of node.children ?? []) {
      if (parents.has(child))
        return `Node ${child} is a child of nodes ${parents.get(child)} and ${i}: it may be one of one only.`;
      parents.set(child, i);
    }
  const settled = new Set<number>();
  for (const start of nodes.keys()) {
    const chain = new Set<number>();
    for (let at: number | undefined = start; at !== undefined && !settled.has(at); at = parents.get(at)) {
      if (chain.has(at)) return `Node ${at} hangs below itself.`;
      chain.add(at);
    }
    for (const node of chain) settled.add(node);
  }
  return null;
}
