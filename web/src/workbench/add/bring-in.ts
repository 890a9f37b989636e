import { Matrix4, Quaternion, Vector3 } from 'three';
import { toast } from 'sonner';
import {
  NAME_LIMIT,
  type Look,
  type MeshFormat,
  type Picture,
  type Shape,
  type Shot,
  type Value,
} from '../../../../core/document';
import { addPart, addSound, apply, compose, type Change, type NewPart } from '../../../../core/edit';
import { fileKind, refuseMesh, type GltfJson, type GltfMaterial } from '../../../../core/format';
import { decompose } from '../../../../core/transform';
import { gltfParts, readMeshFile, type Assets } from '../../../../draw';
import { keepAsset } from '../../shared/api';
import { choose } from '../actions/choosing';
import type { Session } from '../session';
import { readSvg } from './svg-outline';

/** How large a picture comes in: a hundredth of a metre for each pixel, or so many metres high. */
export type PictureSize = { readonly by: 'pixels' } | { readonly by: 'height'; readonly metres: number };

export interface BringOptions {
  readonly pictureSize: PictureSize;
  /** Pictures become boxes with the picture on all six faces, not layers. */
  readonly pictureBox?: boolean;
}

const METRES_PER_PIXEL = 0.01;
const WHITE: [number, number, number] = [1, 1, 1];
const PAINT: [number, number, number] = [0.45, 0.2, 0.08];
const SHOWN_ERRORS = 3;

/** A file that cannot be brought in; the message says why and what to do. */
class Refused extends Error {}

const decode = (bytes: Uint8Array): string => new TextDecoder().decode(bytes);
const read = async (file: File): Promise<Uint8Array> => new Uint8Array(await file.arrayBuffer());

/** A name for a part made of a file's or a node's name: without ending, without signs that names may not have. */
export function partName(from: string): string {
  const plain = from
    .replace(/\.[^.]+$/, '')
    .replace(/["\\\p{Cc}]/gu, '')
    .replace(/[_-]+/g, ' ')
    .trim()
    .slice(0, NAME_LIMIT - 8)
    .trim();
  return plain === '' ? 'Part' : plain[0]!.toUpperCase() + plain.slice(1);
}

/** Files that can be put on a look, for a dialog that chooses one. */
export const PICTURE_FILES = 'image/png,image/jpeg,image/webp,video/mp4,video/webm';

/**
 * Stores a file of a picture or a video.
 * @param start frame at which a video begins to play
 * @throws Error with the reason when it is neither or cannot be taken
 */
export async function keepPicture(file: File, start: number): Promise<Picture> {
  const bytes = await read(file);
  const { kind } = fileKind(bytes);
  if (kind !== 'picture' && kind !== 'video')
    throw new Refused(
      'this is no PNG, JPEG or WebP picture and no MP4 or WebM video, whatever its name says.',
    );
  const facts = await keepAsset(bytes);
  const { video } = facts;
  return {
    asset: facts.hash,
    width: facts.width!,
    height: facts.height!,
    alpha: facts.alpha!,
    file: file.name.slice(0, 200),
    ...(video ? { video: { ...video, start, speed: 1, from: 0, to: video.pictures, after: 'hold' } } : {}),
  };
}

/** Makes parts one after another on a copy of the shot, as one change. */
class Maker {
  private readonly changes: Change[] = [];
  readonly ids: string[] = [];

  constructor(private shot: Shot) {}

  add(spec: NewPart, top = true): string {
    const { change, id } = addPart(this.shot, spec);
    this.shot = apply(this.shot, change);
    this.changes.push(change);
    if (top) this.ids.push(id);
    return id;
  }

  /** Stores a sound and lets it begin at a frame. */
  async addSound(frame: number, file: File, bytes: Uint8Array): Promise<void> {
    const { hash } = await keepAsset(bytes);
    const { change } = addSound(this.shot, partName(file.name), hash, frame);
    this.shot = apply(this.shot, change);
    this.changes.push(change);
  }

  get isEmpty(): boolean {
    return this.changes.length === 0;
  }

  change(label: string): Change {
    return { ...this.changes.reduce(compose), label };
  }
}

function addPicture(maker: Maker, picture: Picture, options: BringOptions): void {
  const factor =
    options.pictureSize.by === 'pixels'
      ? METRES_PER_PIXEL
      : options.pictureSize.metres / Math.max(1, picture.height);
  const [width, height] = [picture.width * factor, picture.height * factor];
  const look = { values: { colour: WHITE, roughness: 0.9 }, pictures: { all: picture } };
  const shape: NonNullable<NewPart['shape']> = options.pictureBox
    ? { kind: 'box', values: { width, height, depth: width } }
    : { kind: 'plane', values: { width, height } };
  maker.add({
    kind: 'solid',
    name: partName(picture.file),
    values: { 'location.y': height / 2 },
    shape,
    look,
  });
}

function addSvg(maker: Maker, file: File, bytes: Uint8Array): void {
  const svg = readSvg(decode(bytes));
  if (!svg.ok) throw new Refused(svg.reason);
  const height = svg.height * METRES_PER_PIXEL;
  maker.add({
    kind: 'solid',
    name: partName(file.name),
    values: { 'location.y': height / 2 },
    shape: {
      kind: 'outline',
      outline: svg.outline,
      values: { width: svg.width * METRES_PER_PIXEL, height, depth: 0.1 },
    },
    look: { values: { colour: PAINT } },
  });
}

/** Puts files that lie beside a glTF description into it. @throws Refused naming the file that is missing */
async function embedded(bytes: Uint8Array, files: readonly File[]): Promise<Uint8Array> {
  const json = JSON.parse(decode(bytes)) as { buffers?: { uri?: string }[]; images?: { uri?: string }[] };
  for (const entry of [...(json.buffers ?? []), ...(json.images ?? [])]) {
    if (!entry.uri || entry.uri.startsWith('data:')) continue;
    const name = decodeURIComponent(entry.uri.split('/').at(-1) ?? '');
    const file = files.find((other) => other.name === name);
    if (!file) throw new Refused(`it needs "${name}": drop that file together with it.`);
    const data = await read(file);
    let text = '';
    for (const byte of data) text += String.fromCharCode(byte);
    entry.uri = `data:application/octet-stream;base64,${btoa(text)}`;
  }
  return new TextEncoder().encode(JSON.stringify(json));
}

function lookOf(material: GltfMaterial | undefined): NonNullable<NewPart['look']> {
  const pbr = material?.pbrMetallicRoughness;
  const values: Record<string, Value> = {
    colour: pbr?.baseColorFactor
      ? [pbr.baseColorFactor[0], pbr.baseColorFactor[1], pbr.baseColorFactor[2]]
      : WHITE,
    metallic: pbr?.metallicFactor ?? 1,
    roughness: pbr?.roughnessFactor ?? 1,
  };
  // glTF 2.0: without a material a mesh is white, not metal.
  if (!material) Object.assign(values, { colour: PAINT, metallic: 0, roughness: 0.6 });
  const glow = Math.max(0, ...(material?.emissiveFactor ?? [0]));
  if (glow > 0) values.glow = glow;
  return { values, ...(material?.name ? { name: partName(material.name) } : {}) };
}

/** The picture that a glTF material has for its colour, stored; `undefined` when it has none that can be read. */
async function pictureOf(
  json: GltfJson,
  binary: Uint8Array | null,
  material: GltfMaterial | undefined,
  file: string,
): Promise<Look['pictures']> {
  const index = material?.pbrMetallicRoughness?.baseColorTexture?.index;
  const source = index === undefined ? undefined : json.textures?.[index]?.source;
  const image = source === undefined ? undefined : json.images?.[source];
  let bytes: Uint8Array | null = null;
  if (image?.bufferView !== undefined && binary) {
    const view = json.bufferViews![image.bufferView]!;
    bytes = binary.slice(view.byteOffset ?? 0, (view.byteOffset ?? 0) + view.byteLength);
  } else if (image?.uri?.startsWith('data:')) {
    const text = atob(image.uri.slice(image.uri.indexOf(',') + 1));
    bytes = Uint8Array.from(text, (letter) => letter.charCodeAt(0));
  }
  if (!bytes || fileKind(bytes).kind !== 'picture') return undefined;
  const facts = await keepAsset(bytes);
  const name = `${image?.name ?? 'picture'} of ${file}`.slice(0, 200);
  return {
    all: {
      asset: facts.hash,
      width: facts.width!,
      height: facts.height!,
      alpha: facts.alpha! && material?.alphaMode !== undefined && material.alphaMode !== 'OPAQUE',
      file: name,
    },
  };
}

/** Place of a glTF node as a part has it. */
function placeOf(node: NonNullable<GltfJson['nodes']>[number]): Record<string, number> {
  const matrix = new Matrix4();
  if (node.matrix) matrix.fromArray([...node.matrix]);
  else
    matrix.compose(
      new Vector3(...(node.translation ?? [0, 0, 0])),
      new Quaternion(...(node.rotation ?? [0, 0, 0, 1])),
      new Vector3(...(node.scale ?? [1, 1, 1])),
    );
  const e = matrix.elements;
  const local = decompose(
    Float64Array.from([e[0], e[4], e[8], e[12], e[1], e[5], e[9], e[13], e[2], e[6], e[10], e[14]]),
    [0, 0, 0],
    [0, 0, 0],
    'XYZ',
  );
  const values: Record<string, number> = {};
  if (!local) return values;
  'xyz'.split('').forEach((axis, i) => {
    if (local.location[i]) values[`location.${axis}`] = local.location[i]!;
    if (local.rotation[i]) values[`rotation.${axis}`] = local.rotation[i]!;
    if (local.scale[i] !== 1) values[`scale.${axis}`] = local.scale[i]!;
  });
  return values;
}

/** Parts of a glTF file as its nodes hang: a hub for a node, its meshes below it (or itself, when it has just one). */
async function addGltf(
  maker: Maker,
  format: 'glb' | 'gltf',
  bytes: Uint8Array,
  shape: (index: number) => NonNullable<NewPart['shape']>,
  file: string,
): Promise<void> {
  const { json, binary } = gltfParts(format, bytes);
  const first: number[] = [];
  let count = 0;
  for (const mesh of json.meshes ?? []) {
    first.push(count);
    count += mesh.primitives.length;
  }
  const looks = new Map<number | undefined, NonNullable<NewPart['look']>>();
  for (const mesh of json.meshes ?? [])
    for (const { material } of mesh.primitives)
      if (!looks.has(material)) {
        const entry = material === undefined ? undefined : json.materials?.[material];
        const pictures = await pictureOf(json, binary, entry, file);
        looks.set(material, { ...lookOf(entry), ...(pictures ? { pictures } : {}) });
      }
  const root = maker.add({ kind: 'hub', name: partName(file) });
  const visit = (index: number, parent: string, depth: number): void => {
    const node = json.nodes?.[index];
    if (!node || depth > 200) return;
    const primitives = node.mesh === undefined ? [] : (json.meshes?.[node.mesh]?.primitives ?? []);
    const name = partName(node.name ?? json.meshes?.[node.mesh ?? -1]?.name ?? `Node ${index + 1}`);
    const single = primitives.length === 1;
    const solid = (k: number): Pick<NewPart, 'shape' | 'look'> => ({
      shape: shape(first[node.mesh!]! + k),
      look: looks.get(primitives[k]!.material)!,
    });
    const id = maker.add(
      { kind: single ? 'solid' : 'hub', name, parent, values: placeOf(node), ...(single ? solid(0) : {}) },
      false,
    );
    if (!single)
      primitives.forEach((_, k) =>
        maker.add({ kind: 'solid', name: `${name} ${k + 1}`, parent: id, ...solid(k) }, false),
      );
    for (const child of node.children ?? []) visit(child, id, depth + 1);
  };
  const roots = json.scenes?.[json.scene ?? 0]?.nodes ?? (json.nodes ?? []).map((_, i) => i);
  for (const index of roots) visit(index, root, 0);
}

async function addMesh(
  maker: Maker,
  assets: Assets,
  format: MeshFormat,
  file: File,
  raw: Uint8Array,
  files: readonly File[],
): Promise<void> {
  const bytes = format === 'gltf' ? await embedded(raw, files) : raw;
  const reason = refuseMesh(format, bytes, decode);
  if (reason) throw new Refused(reason);
  let meshes;
  try {
    meshes = await readMeshFile(format, bytes);
  } catch (error) {
    throw new Refused(`it cannot be read: ${error instanceof Error ? error.message : String(error)}`);
  }
  if (meshes.length === 0) throw new Refused('there is no mesh in it.');
  const { hash } = await keepAsset(bytes);
  assets.takeMeshes(
    hash,
    meshes.map((mesh) => mesh.geometry),
  );
  const name = file.name.slice(0, 200);
  const shape = (index: number): Pick<Shape, 'kind' | 'values' | 'mesh'> => ({
    kind: 'mesh',
    values: {},
    mesh: { asset: hash, format, index, file: name },
  });
  if (format === 'glb' || format === 'gltf') {
    await addGltf(maker, format, bytes, shape, name);
    return;
  }
  const parent = meshes.length > 1 ? maker.add({ kind: 'hub', name: partName(file.name) }) : null;
  meshes.forEach((mesh, i) =>
    maker.add(
      {
        kind: 'solid',
        name: meshes.length > 1 ? partName(mesh.name) : partName(file.name),
        parent,
        shape: shape(i),
        look: { values: { colour: PAINT } },
      },
      parent === null,
    ),
  );
}

/**
 * Brings files in as parts, all in one step that undo takes back. A file that cannot be taken is named with the reason;
 * the others come in all the same.
 */
export async function bringIn(
  session: Session,
  files: readonly File[],
  options: BringOptions,
): Promise<void> {
  if (files.length === 0) return;
  const told = toast.loading(
    files.length === 1 ? `Reading ${files[0]!.name}...` : `Reading ${files.length} files...`,
  );
  const before = session.shot;
  const maker = new Maker(before);
  const refused: string[] = [];
  const isDescription = files.some((file) => /\.gltf$/i.test(file.name));
  for (const file of files) {
    // Buffers and pictures of a glTF description come in with it.
    if (isDescription && /\.(bin|png|jpe?g|webp)$/i.test(file.name)) continue;
    try {
      const bytes = await read(file);
      if (bytes.length === 0) throw new Refused('it is empty.');
      const found = fileKind(bytes);
      if (found.kind === 'picture' || found.kind === 'video')
        addPicture(maker, await keepPicture(file, session.time.now.frame), options);
      else if (found.kind === 'sound') await maker.addSound(session.time.now.frame, file, bytes);
      else if (found.kind === 'notes') {
        const { readNotes } = await import('../../../../core/format/midi');
        session.sheets.chooseNotes({ file: file.name, tracks: readNotes(bytes) });
      } else if (found.kind === 'svg') addSvg(maker, file, bytes);
      else if (found.kind === 'mesh') await addMesh(maker, session.assets, found.format, file, bytes, files);
      else
        throw new Refused(
          'it is none of the kinds that can be brought in: PNG, JPEG, WebP, MP4, WebM, SVG, GLB, glTF, OBJ, STL, PLY, WAV, MP3, OGG, FLAC, MIDI.',
        );
    } catch (error) {
      refused.push(`${file.name}: ${error instanceof Error ? error.message : String(error)}`);
    }
  }
  toast.dismiss(told);
  for (const reason of refused.slice(0, SHOWN_ERRORS)) toast.error(reason, { duration: 12_000 });
  if (refused.length > SHOWN_ERRORS) toast.error(`${refused.length - SHOWN_ERRORS} more files were refused.`);
  if (maker.isEmpty) return;
  const label = files.length === 1 ? `Bring in ${files[0]!.name}` : `Bring in ${files.length} files`;
  if (session.shot === before) {
    session.commit(maker.change(label));
    if (maker.ids.length > 0) choose(session, maker.ids);
  } else if (session.edit((shot) => rebuilt(shot, maker.change(label))) && maker.ids.length > 0)
    choose(session, maker.ids);
}

/** The change, for a shot that was edited while files were read: names taken meanwhile are the server's to refuse. */
function rebuilt(shot: Shot, change: Change): Change {
  apply(shot, change);
  return change;
}
