import { BufferAttribute, BufferGeometry } from 'three';
import type { Shape } from '../../core/document';
import type { Evaluator } from '../../core/evaluate';
import { BOX_FACES, buildMesh, FINENESS, sizePaths, writtenText } from '../../core/shape';
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
    known?.geometry.dispose();
    const geometry = file ? scaled(file, number('size')) : built(shape, number, FINENESS[level]!);
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
      a.outline === b.outline &&
      a.text === b.text &&
      a.mesh === b.mesh)
  );
}

function built(shape: Shape, number: (path: string) => number, fineness: number): BufferGeometry {
  const mesh = buildMesh(shape, number, fineness);
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(mesh.positions, 3));
  geometry.setAttribute('normal', new BufferAttribute(mesh.normals, 3));
  geometry.setAttribute('uv', new BufferAttribute(mesh.uvs, 2));
  geometry.setIndex(new BufferAttribute(mesh.indices, 1));
  if (shape.kind === 'box') BOX_FACES.forEach((_, i) => geometry.addGroup(i * 6, 6, i));
  return geometry;
}

function scaled(file: BufferGeometry, factor: number): BufferGeometry {
  const geometry = new BufferGeometry();
  const from = file.getAttribute('position');
  const positions = new Float32Array(from.count * 3);
  for (let i = 0; i < from.count; i++) {
    positions[i * 3] = from.getX(i) * factor;
    positions[i * 3 + 1] = from.getY(i) * factor;
    positions[i * 3 + 2] = from.getZ(i) * factor;
  }
  geometry.setAttribute('position', new BufferAttribute(positions, 3));
  geometry.setAttribute('normal', file.getAttribute('normal'));
  geometry.setAttribute('uv', file.getAttribute('uv'));
  const index = file.getIndex();
  if (index) geometry.setIndex(index);
  return geometry;
}
