import { Matrix4 } from 'three';
import type { Shot } from '../document';
import { Evaluator, MATRIX_SIZE, type Plan } from '../evaluate';
import { buildMesh, finenessWithin, isRound, sizePaths, writtenText } from '../shape';
import { Solid, type Stretch, Surface, type Triangles } from './solid';

/** Moments of a frame that are told apart. */
export const MOMENTS = 64;
/** How far a side of a round shape may lie within the true surface, metres. */
const FACET = 4e-5;
/** The same of what is looked at to tell how far apart things are. */
const ROUGH = 3e-3;
/** Stretches that differ by less, as a share, are one. */
const SAME_STRETCH = 1e-9;
/** Solids that one check looks at, copies with them. */
export const SOLIDS = 20_000;
/** Moments that are kept at most, and poses in all of them; those of one frame always are. */
const KEPT = 300;
const POSES_KEPT = 1_000_000;
const POSE_SIZE = 12;

/** A part that is solid, or one of its copies below repeats. */
export interface Body {
  readonly part: string;
  /** From 0; `null` for what hangs below no repeat. */
  readonly copy: number | null;
}

/** Triangles of files, by their assets and which mesh of the file it is. */
export type FileMeshes = Readonly<Record<string, Triangles>>;

export const fileMeshName = (asset: string, index: number): string => `${asset} ${index}`;

/** All bodies at one moment. */
export interface Moment {
  /** A turn and a place for each body, 12 numbers row by row. */
  readonly poses: Float64Array;
  /** Boxes along the axes of the world: least x, y, z, greatest x, y, z. */
  readonly boxes: Float64Array;
  /** What each body is; `null` for one that does not show. */
  readonly solids: readonly (Solid | null)[];
}

interface Form {
  readonly shape: string;
  readonly paths: readonly string[];
  /** Sizes change over time. */
  readonly moves: boolean;
  sizes: string;
  /** The moment at which sizes that change were looked at last, as a count. */
  seen: number;
  surfaces: Map<number, Surface | null>;
  /** Solids of these sizes, newest last. */
  known: Solid[];
}

/** Stretch of the body that is placed. */
const stretch: [number, number, number, number, number, number] = [1, 0, 0, 1, 0, 1];
/** Stretches of a shape that are kept. */
const STRETCHES = 64;

/**
 * The solids of a shot at moments of 1/64 frame. What a part's sizes and scale make of its shape is built into its solid,
 * so that bodies only turn and travel.
 */
export class Bodies {
  readonly list: Body[] = [];
  private readonly evaluator: Evaluator;
  private readonly moments = new Map<number, Moment>();
  private readonly forms = new Map<string, Form>();
  /** Numbers of the bodies of each part. */
  private readonly numbers = new Map<string, number[]>();
  private readonly parts: readonly string[];
  /** Moments that were worked out so far. */
  private turn = 0;

  /**
   * @param meshes what shapes from files consist of; those that are missing count as nothing
   */
  constructor(
    private readonly plan: Plan,
    private readonly meshes: FileMeshes = {},
  ) {
    this.evaluator = new Evaluator(plan);
    const { shot } = plan;
    this.parts = Object.keys(shot.parts).filter((id) => shot.parts[id]!.shape !== null);
    for (const id of this.parts) {
      const shape = shot.parts[id]!.shape!;
      if (!this.forms.has(shape)) this.forms.set(shape, formOf(shot, shape));
    }
  }

  /** World places of all nodes at the moment that was looked at last. */
  get worldNow(): Float64Array {
    return this.evaluator.world;
  }

  /**
   * All bodies at a moment.
   * @param moment 64 times the frame, a whole number
   * @throws RangeError where there are more than `SOLIDS`
   */
  at(moment: number): Moment {
    let found = this.moments.get(moment);
    if (found) return found;
    found = this.workOut(moment);
    const kept = Math.max(MOMENTS + 1, Math.min(KEPT, Math.floor(POSES_KEPT / (this.list.length || 1))));
    if (this.moments.size >= kept) this.moments.delete(this.moments.keys().next().value!);
    this.moments.set(moment, found);
    return found;
  }

  private workOut(moment: number): Moment {
    const { evaluator, plan } = this;
    this.turn += 1;
    evaluator.evaluate(moment / MOMENTS);
    const solids: (Solid | null)[] = [];
    let poses = new Float64Array(Math.max(64, this.list.length) * POSE_SIZE);
    for (const part of this.parts) {
      const node = plan.nodeOf.get(part)!;
      const shown = evaluator.shown[node] === 1;
      const copies = evaluator.copiesOf(part);
      // What is hidden takes no room.
      const count = !shown ? 0 : copies ? copies.count : 1;
      for (let k = 0; k < count; k++) {
        const body = this.numberOf(part, copies ? k : null);
        if ((body + 1) * POSE_SIZE > poses.length) {
          const more = new Float64Array(poses.length * 2);
          more.set(poses);
          poses = more;
        }
        const from = copies ? copies.matrices : evaluator.world;
        const start = (copies ? k : node) * MATRIX_SIZE;
        solids[body] = this.place(part, from, start, poses, body * POSE_SIZE);
      }
    }
    for (let i = 0; i < this.list.length; i++) solids[i] ??= null;
    const boxes = new Float64Array(this.list.length * 6);
    for (let i = 0; i < this.list.length; i++) if (solids[i]) boxOf(solids[i]!, poses, i, boxes);
    return { poses, boxes, solids };
  }

  private numberOf(part: string, copy: number | null): number {
    let copies = this.numbers.get(part);
    if (!copies) this.numbers.set(part, (copies = []));
    // What hangs below no repeat has the first place.
    const place = copy === null ? 0 : copy + 1;
    let known = copies[place];
    if (known === undefined) {
      known = this.list.length;
      if (known >= SOLIDS)
        throw new RangeError(
          `There are more than ${SOLIDS} solids, copies with them: hide a repeat, or give it fewer copies.`,
        );
      copies[place] = known;
      this.list.push({ part, copy });
    }
    return known;
  }

  /** Splits a world matrix into a pose, which is written, and a stretch (Gram-Schmidt), which the solid gets. */
  private place(part: string, m: Float64Array, at: number, poses: Float64Array, to: number): Solid | null {
    const ax = m[at]!;
    const ay = m[at + 4]!;
    const az = m[at + 8]!;
    const xx = Math.sqrt(ax * ax + ay * ay + az * az);
    if (!(xx > 0) || !Number.isFinite(xx)) return null;
    const px = ax / xx;
    const py = ay / xx;
    const pz = az / xx;
    const bx = m[at + 1]!;
    const by = m[at + 5]!;
    const bz = m[at + 9]!;
    const xy = px * bx + py * by + pz * bz;
    const cx = bx - xy * px;
    const cy = by - xy * py;
    const cz = bz - xy * pz;
    const yy = Math.sqrt(cx * cx + cy * cy + cz * cz);
    if (!(yy > xx * 1e-9)) return null;
    const qx = cx / yy;
    const qy = cy / yy;
    const qz = cz / yy;
    const rx = py * qz - pz * qy;
    const ry = pz * qx - px * qz;
    const rz = px * qy - py * qx;
    const dx = m[at + 2]!;
    const dy = m[at + 6]!;
    const dz = m[at + 10]!;
    const zz = rx * dx + ry * dy + rz * dz;
    if (!(Math.abs(zz) > xx * 1e-9) || !Number.isFinite(yy + zz)) return null;
    poses[to] = px;
    poses[to + 1] = qx;
    poses[to + 2] = rx;
    poses[to + 3] = m[at + 3]!;
    poses[to + 4] = py;
    poses[to + 5] = qy;
    poses[to + 6] = ry;
    poses[to + 7] = m[at + 7]!;
    poses[to + 8] = pz;
    poses[to + 9] = qz;
    poses[to + 10] = rz;
    poses[to + 11] = m[at + 11]!;
    stretch[0] = xx;
    stretch[1] = xy;
    stretch[2] = px * dx + py * dy + pz * dz;
    stretch[3] = yy;
    stretch[4] = qx * dx + qy * dy + qz * dz;
    stretch[5] = zz;
    return this.solidOf(this.plan.shot.parts[part]!.shape!, stretch);
  }

  /** @param stretch not kept: another body writes its own into it */
  private solidOf(shape: string, stretch: Stretch): Solid | null {
    const form = this.forms.get(shape)!;
    const written = this.plan.shot.shapes[shape]!;
    const number = (path: string): number => this.evaluator.number(`${shape}/${path}`);
    if (form.moves ? form.seen !== this.turn : form.sizes === '') {
      form.seen = this.turn;
      const { text } = written;
      const sizes = `${form.paths.map(number).join(' ')} ${
        text?.glyphs ? writtenText(text.text, number('number'), number('choice')) : ''
      }`;
      if (sizes !== form.sizes) {
        form.sizes = sizes;
        form.surfaces.clear();
        form.known = [];
      }
    }
    for (let i = form.known.length - 1; i >= 0; i--)
      if (sameStretch(form.known[i]!.stretch, stretch)) return form.known[i]!;
    // Of what is stretched more the sides are made finer, in steps.
    const level = Math.ceil(Math.log2(Math.max(...stretch.map(Math.abs))));
    let surface = form.surfaces.get(level);
    if (surface === undefined) {
      surface = this.surfaceOf(shape, FACET / 2 ** level, ROUGH / 2 ** level);
      form.surfaces.set(level, surface);
    }
    if (!surface) return null;
    const solid = new Solid(surface, [...stretch]);
    if (form.known.length >= STRETCHES) form.known.shift();
    form.known.push(solid);
    return solid;
  }

  /** Radius of a shape that is a whole ball. */
  private ballOf(shape: string): number | null {
    const number = (path: string): number => this.evaluator.number(`${shape}/${path}`);
    return this.plan.shot.shapes[shape]!.kind === 'ball' && number('span') >= 180 ? number('radius') : null;
  }

  /**
   * @param miss how far sides of round shapes may lie within the true surface, metres
   * @param rough the same of what is looked at first
   */
  private surfaceOf(shape: string, miss: number, rough: number): Surface | null {
    const written = this.plan.shot.shapes[shape]!;
    const sizes = new Map(
      sizePaths(written.kind).map((path) => [path, this.evaluator.number(`${shape}/${path}`)]),
    );
    const size = (path: string): number => sizes.get(path) ?? NaN;
    if (written.mesh) {
      const file = this.meshes[fileMeshName(written.mesh.asset, written.mesh.index)];
      if (!file || file.indices.length === 0) return null;
      return new Surface({
        positions: Float64Array.from(file.positions, (v) => v * size('size')),
        indices: file.indices,
      });
    }
    const fineness = finenessWithin(written, size, miss);
    const built = buildMesh(written, size, fineness);
    if (built.indices.length === 0) return null;
    const coarse = finenessWithin(written, size, rough);
    const coarser =
      isRound(written) && coarse < fineness
        ? () => ({ surface: new Surface(buildMesh(written, size, coarse)), miss: rough })
        : null;
    return new Surface(built, this.ballOf(shape), coarser);
  }
}

function formOf(shot: Shot, shape: string): Form {
  const { tracks, links, kind } = shot.shapes[shape]!;
  const moves = Object.keys(tracks).length > 0 || Object.keys(links).length > 0;
  return { shape, paths: sizePaths(kind), moves, sizes: '', seen: -1, surfaces: new Map(), known: [] };
}

function sameStretch(a: Stretch, b: Stretch): boolean {
  const first = Math.abs(a[0]);
  for (let i = 0; i < a.length; i++)
    if (!(Math.abs(a[i]! - b[i]!) <= SAME_STRETCH * (first + Math.abs(b[i]!)))) return false;
  return true;
}

/** Box along the axes of the world around the turned box of a solid. */
function boxOf(solid: Solid, poses: Float64Array, body: number, out: Float64Array): void {
  const at = body * POSE_SIZE;
  for (let row = 0; row < 3; row++) {
    let middle = poses[at + row * 4 + 3]!;
    let half = 0;
    for (let k = 0; k < 3; k++) {
      const share = poses[at + row * 4 + k]!;
      middle += share * solid.middle[k]!;
      half += (Math.abs(share) * (solid.high[k]! - solid.low[k]!)) / 2;
    }
    out[body * 6 + row] = middle - half;
    out[body * 6 + 3 + row] = middle + half;
  }
}

/** The pose of a body as a matrix. */
export function poseMatrix(out: Matrix4, { poses }: Moment, body: number): Matrix4 {
  const at = body * POSE_SIZE;
  const p = (k: number): number => poses[at + k]!;
  return out.set(p(0), p(1), p(2), p(3), p(4), p(5), p(6), p(7), p(8), p(9), p(10), p(11), 0, 0, 0, 1);
}

const first = new Matrix4();

/** Writes where body `b` stands in the measure of body `a`. */
export function relativePose(out: Matrix4, moment: Moment, a: number, b: number): Matrix4 {
  poseMatrix(first, moment, a).invert();
  return out.multiplyMatrices(first, poseMatrix(out, moment, b));
}
