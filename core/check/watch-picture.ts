import { ownerName, partDefinition, shapeChannels } from '../document';
import { standingOf } from '../edit';
import { cameraWidth, MATRIX_SIZE, type CameraWidth, type Evaluator, type Plan } from '../evaluate';
import { buildMesh } from '../shape';
import { framesPerSecond } from '../time';
import { invert } from '../transform';
import { tell, type Told, type Watch, type WatchKind } from './watch';

/** Share of the range over which something may move outside the picture before it is told, but not below a second. */
const LONG = 1 / 3;
/** Metres within which something counts as standing still. */
const STILL = 1e-9;

interface Seen {
  readonly id: string;
  readonly node: number;
  readonly opacity: number;
  shown: boolean;
  seen: boolean;
  /** Where it stood at the frame before; NaN at the first. */
  readonly before: Float64Array;
  /** Frame at which it began to move outside the picture, or NaN. */
  outside: number;
  longest: { from: number; to: number } | null;
}

/** Solids that are never seen, and those that move for long where nobody sees them. */
export const WATCH_PICTURE: WatchKind = {
  name: 'picture',
  subjects: ({ shot }) => {
    const { out } = standingOf(shot);
    return Object.keys(shot.parts).filter((id) => partDefinition(shot.parts[id]!.kind).solid && !out.has(id));
  },
  rests: ({ shot }, id) => {
    const { camera } = shot.setup;
    return [id, shot.parts[id]!.shape ?? id, ...(camera === null ? [] : [camera])];
  },
  start: (plan, subjects) => new PictureWatch(plan, subjects),
};

class PictureWatch implements Watch {
  private readonly watched: Seen[];
  private readonly radii = new Map<string, { sizes: string; radius: number }>();

  constructor(
    private readonly plan: Plan,
    subjects: readonly string[],
  ) {
    this.watched = subjects.map((id) => ({
      id,
      node: plan.nodeOf.get(id)!,
      opacity: plan.slots.get(`${id}/opacity`)!,
      shown: false,
      seen: false,
      before: new Float64Array(MATRIX_SIZE).fill(NaN),
      outside: NaN,
      longest: null,
    }));
  }

  frame(evaluator: Evaluator, frame: number): void {
    const { camera, width, height } = this.plan.shot.setup;
    const world = camera === null ? null : evaluator.worldOf(camera);
    const view = world && invert(world);
    const across = camera === null ? { half: 0, slope: 0 } : cameraWidth(evaluator, camera);
    const up = { half: (across.half * height) / width, slope: (across.slope * height) / width };
    for (const entry of this.watched) {
      const shown = evaluator.shown[entry.node] === 1 && evaluator.values[entry.opacity]! > 0;
      if (shown) entry.shown = true;
      if (!view) continue;
      const at = entry.node * MATRIX_SIZE;
      const moved = moves(entry.before, evaluator.world, at);
      entry.before.set(evaluator.world.subarray(at, at + MATRIX_SIZE));
      const inside = shown && this.inPicture(evaluator, entry, view, across, up);
      if (inside) entry.seen = true;
      // What has not been in the picture yet is on its way in.
      if (!shown || inside || !moved || !entry.seen) {
        entry.outside = NaN;
        continue;
      }
      if (entry.outside !== entry.outside) entry.outside = frame;
      const longest = entry.longest ? entry.longest.to - entry.longest.from : -1;
      if (frame - entry.outside > longest) entry.longest = { from: entry.outside, to: frame };
    }
  }

  finish(): Told {
    const told: Told = new Map();
    const { shot } = this.plan;
    const { first, last, rate, camera } = shot.setup;
    const long = Math.max(framesPerSecond(rate), (last - first + 1) * LONG);
    for (const { id, shown, seen, longest } of this.watched) {
      const name = ownerName(shot, id);
      if (!shown)
        tell(told, id, {
          code: 'part.hidden',
          severity: 'warning',
          address: id,
          message: `${name} is hidden over the whole range.`,
        });
      else if (camera !== null && !seen)
        tell(told, id, {
          code: 'part.out-of-picture',
          severity: 'warning',
          address: id,
          message: `${name} never comes into the picture.`,
        });
      else if (longest && longest.to - longest.from + 1 >= long)
        tell(told, id, {
          code: 'part.leaves-picture',
          severity: 'warning',
          address: id,
          frame: longest.from,
          amount: longest.to - longest.from + 1,
          message: `${name} moves outside the picture from frame ${longest.from} to ${longest.to}: nobody sees it.`,
        });
    }
    return told;
  }

  private inPicture(
    evaluator: Evaluator,
    entry: Seen,
    view: Float64Array,
    across: CameraWidth,
    up: CameraWidth,
  ): boolean {
    const radius = this.radiusOf(evaluator, entry.id);
    const copies = evaluator.copiesOf(entry.id);
    if (!copies) return reaches(view, evaluator.world, entry.node * MATRIX_SIZE, radius, across, up);
    for (let k = 0; k < copies.count; k++)
      if (reaches(view, copies.matrices, k * MATRIX_SIZE, radius, across, up)) return true;
    return false;
  }

  /** How far a shape reaches from its origin, worked out again when its sizes have changed. */
  private radiusOf(evaluator: Evaluator, id: string): number {
    const { shot } = this.plan;
    const shape = shot.parts[id]!.shape!;
    const form = shot.shapes[shape]!;
    // How far a mesh file reaches is not in the document: it is taken to be in the picture.
    if (form.kind === 'mesh') return Infinity;
    const known = this.radii.get(shape);
    const changes = Object.keys(form.tracks).length + Object.keys(form.links).length > 0;
    if (known && !changes) return known.radius;
    const size = (path: string): number => evaluator.number(`${shape}/${path}`);
    const sizes = changes
      ? shapeChannels(form.kind)
          .map(({ path }) => size(path))
          .join(' ')
      : '';
    if (known?.sizes === sizes) return known.radius;
    const { positions } = buildMesh(form, size);
    let most = 0;
    for (let i = 0; i < positions.length; i += 3) {
      const [x, y, z] = [positions[i]!, positions[i + 1]!, positions[i + 2]!];
      most = Math.max(most, x * x + y * y + z * z);
    }
    this.radii.set(shape, { sizes, radius: Math.sqrt(most) });
    return Math.sqrt(most);
  }
}

function moves(before: Float64Array, world: Float64Array, at: number): boolean {
  // NaN, as before the first frame, is no movement.
  for (let i = 0; i < MATRIX_SIZE; i++) if (Math.abs(world[at + i]! - before[i]!) > STILL) return true;
  return false;
}

/** Whether a ball round the origin of a matrix reaches into the pyramid, or the block, that the camera takes. */
function reaches(
  view: Float64Array,
  m: Float64Array,
  at: number,
  radius: number,
  across: CameraWidth,
  up: CameraWidth,
): boolean {
  const [px, py, pz] = [m[at + 3]!, m[at + 7]!, m[at + 11]!];
  const x = view[0]! * px + view[1]! * py + view[2]! * pz + view[3]!;
  const y = view[4]! * px + view[5]! * py + view[6]! * pz + view[7]!;
  const depth = -(view[8]! * px + view[9]! * py + view[10]! * pz + view[11]!);
  let scale = 0;
  for (let column = 0; column < 3; column++) {
    const [a, b, c] = [m[at + column]!, m[at + 4 + column]!, m[at + 8 + column]!];
    scale = Math.max(scale, a * a + b * b + c * c);
  }
  // A part without any size is not seen, wherever it is.
  if (scale === 0) return false;
  const r = radius * Math.sqrt(scale);
  if (depth < -r) return false;
  // Distance of the middle from each side of the picture's pyramid.
  const side = (offset: number, { half, slope }: CameraWidth): number =>
    (Math.abs(offset) - half - depth * slope) / Math.sqrt(1 + slope * slope);
  return side(x, across) <= r && side(y, up) <= r;
}
