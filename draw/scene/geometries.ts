import { BufferAttribute, BufferGeometry } from 'three';
import type { Shape } from '../../core/document';
import type { Evaluator } from '../../core/evaluate';
import {
  BOX_FACES,
  buildMesh,
  FINENESS,
  sizePaths,
  writtenText,
  type Mesh as ShapeMesh,
} from '../../core/shape';
import type { Assets } from './assets';

interface Entry {
  /** What the geometry was made from; anything else makes it anew. */
  form: Shape;
  sizes: string;
  geometry: BufferGeometry;
  /** Round in which it was last looked at: its sizes are those of that round. */
  round: number;
}

/** Geometry of the shapes of a shot, made anew only when a size or form has changed, in every fineness that is asked for. */
export class Geometries {
  private readonly entries = new Map<string, Entry>();
  private round = 0;

  constructor(private readonly assets: Assets) {}

  /** Sizes may have changed from here on. */
  begin(): void {
    this.round++;
  }

  /** Forgets shapes that are gone. */
  keep(shapes: Readonly<Record<string, Shape>>): void {
    for (const [key, entry] of this.entries)
      if (!shapes[key.split(' ')[0]!]) {
        entry.geometry.dispose();
        this.entries.delete(key);
      }
  }

  /** @param level place in `FINENESS` */
  of(id: string, shape: Shape, evaluator: Evaluator, level = 0): BufferGeometry {
    const key = level === 0 ? id : `${id} ${level}`;
    const known = this.entries.get(key);
    if (known?.round === this.round && known.form === shape) return known.geometry;
    const number = (path: string): number => evaluator.number(`${id}/${path}`);
    const file = shape.mesh ? this.assets.mesh(shape.mesh.asset, shape.mesh.format, shape.mesh.index) : null;
    const sizes = `${sizeWords(shape, number)} ${file ? 'read' : ''}`;
    if (known && known.sizes === sizes && sameForm(known.form, shape)) {
      known.round = this.round;
      known.form = shape;
      return known.geometry;
    }
    const sameKind = known && sameForm(known.form, shape) ? known.geometry : null;
    const geometry = file
      ? scaled(file, number('size'), sameKind)
      : built(shape, buildMesh(shape, number, FINENESS[level]), sameKind);
    if (known && geometry !== known.geometry) known.geometry.dispose();
    this.entries.set(key, { form: shape, sizes, geometry, round: this.round });
    return geometry;
  }

  dispose(): void {
    for (const entry of this.entries.values()) entry.geometry.dispose();
    this.entries.clear();
  }
}

/** Sizes as one word; of a text that changes what it shows counts, not by what numbers. */
function sizeWords(shape: Shape, number: (path: string) => number): string {
  const { text } = shape;
  if (!text?.glyphs) return sizePaths(shape.kind).map(number).join(' ');
  const others = sizePaths(shape.kind).filter((path) => path !== 'number' && path !== 'choice');
  return `${others.map(number).join(' ')} ${writtenText(text.text, number('number'), number('choice'))}`;
}

function sameForm(a: Shape, b: Shape): boolean {
  return (
    a === b ||
    (a.kind === b.kind &&
      a.profile === b.profile &&
      a.pulleys === b.pulleys &&
      a.outline === b.outline &&
      a.text === b.text &&
      a.mesh === b.mesh)
  );
}

/**
 * Puts new numbers into a geometry that has room for exactly as many: the card keeps its buffers.
 * @returns whether there was room
 */
function takesIn(
  geometry: BufferGeometry,
  arrays: Readonly<Record<'position' | 'normal' | 'uv', Float32Array>>,
  indices: BufferAttribute['array'],
): boolean {
  const index = geometry.getIndex();
  const fits = Object.entries(arrays).every(
    ([name, array]) => geometry.getAttribute(name)?.array.length === array.length,
  );
  if (!fits || !index || index.array.length !== indices.length) return false;
  for (const [name, array] of Object.entries(arrays)) {
    const attribute = geometry.getAttribute(name) as BufferAttribute;
    attribute.array.set(array);
    attribute.needsUpdate = true;
  }
  if (index.array.some((value, i) => value !== indices[i])) {
    index.array.set(indices);
    index.needsUpdate = true;
  }
  geometry.boundingSphere = null;
  geometry.boundingBox = null;
  return true;
}

/** @param before geometry of the same form with other sizes */
function built(shape: Shape, mesh: ShapeMesh, before: BufferGeometry | null): BufferGeometry {
  const { positions: position, normals: normal, uvs: uv, indices } = mesh;
  if (before && takesIn(before, { position, normal, uv }, indices)) return before;
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(position, 3));
  geometry.setAttribute('normal', new BufferAttribute(normal, 3));
  geometry.setAttribute('uv', new BufferAttribute(uv, 2));
  geometry.setIndex(new BufferAttribute(indices, 1));
  if (shape.kind === 'box') BOX_FACES.forEach((_, i) => geometry.addGroup(i * 6, 6, i));
  return geometry;
}

/** @param before geometry of the same file in another size */
function scaled(file: BufferGeometry, factor: number, before: BufferGeometry | null): BufferGeometry {
  const from = file.getAttribute('position');
  const known = before?.getAttribute('position') as BufferAttribute | undefined;
  const kept = before && known?.count === from.count ? before : null;
  const geometry = kept ?? new BufferGeometry();
  const positions = kept ? known! : new BufferAttribute(new Float32Array(from.count * 3), 3);
  for (let i = 0; i < from.count; i++)
    positions.setXYZ(i, from.getX(i) * factor, from.getY(i) * factor, from.getZ(i) * factor);
  positions.needsUpdate = true;
  geometry.boundingSphere = null;
  geometry.boundingBox = null;
  if (kept) return kept;
  geometry.setAttribute('position', positions);
  geometry.setAttribute('normal', file.getAttribute('normal'));
  geometry.setAttribute('uv', file.getAttribute('uv'));
  const index = file.getIndex();
  if (index) geometry.setIndex(index);
  return geometry;
}
