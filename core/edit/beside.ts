import { subtreeOf, type Shot } from '../document';
import { MATRIX_SIZE, type Evaluator } from '../evaluate';
import { METRES_PER_UNIT } from '../formula';
import { buildMesh } from '../shape';
import { identity, invert, transformPoint } from '../transform';
import { topmost, type Beside } from './copies';

/** Room between a part and its copy, as a share of the part's width. */
const ROOM = 0.1;
/** Steps that distances are rounded up to, times a power of ten. */
const STEPS = [1, 2, 2.5, 5, 10];

/** The next distance in the shown unit, not below the given one, that is easy to read. */
function roundUp(metres: number, perUnit: number): number {
  const shown = metres / perUnit;
  const power = 10 ** Math.floor(Math.log10(shown));
  return STEPS.map((step) => step * power).find((step) => step >= shown * (1 - 1e-9))! * perUnit;
}

/**
 * How far beside its source a copy of parts stands free of it: along x of what the first of them hangs from, their width
 * and a little more, rounded up to a number that is easy to read in the shot's unit. One shown unit for parts that show
 * nothing, and for meshes from files, whose size is not in the document.
 */
export function besideOf(shot: Shot, evaluator: Evaluator, ids: readonly string[]): Beside {
  const { plan, world } = evaluator;
  const roots = topmost(shot, ids);
  const parent = roots.length > 0 ? shot.parts[roots[0]!]!.parent : null;
  const frame = parent === null ? identity() : evaluator.worldOf(parent)!;
  const inverse = invert(frame) ?? identity();
  let [low, high] = [Infinity, -Infinity];
  for (const id of new Set(roots.flatMap((root) => subtreeOf(shot, root)))) {
    const { shape } = shot.parts[id]!;
    const form = shape === null ? undefined : shot.shapes[shape];
    if (!form) continue;
    const at = plan.nodeOf.get(id)! * MATRIX_SIZE;
    const matrix = world.slice(at, at + MATRIX_SIZE);
    const { positions } = buildMesh(form, (path) => evaluator.number(`${shape}/${path}`));
    for (let i = 0; i < positions.length; i += 3) {
      const point = transformPoint(matrix, positions[i]!, positions[i + 1]!, positions[i + 2]!);
      const [x] = transformPoint(inverse, ...point);
      low = Math.min(low, x);
      high = Math.max(high, x);
    }
  }
  const perUnit = METRES_PER_UNIT[shot.setup.unit];
  const width = high - low;
  return [width > 0 && width < 1e5 ? roundUp(width * (1 + ROOM), perUnit) : perUnit, 0, 0];
}
