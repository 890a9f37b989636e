import { partDefinition, ROUND, shapeDefinition, type Axis } from '../document';
import { MATRIX_SIZE, type Evaluator } from '../evaluate';
import { invert, multiplyAt } from '../transform';
import { column, length } from './vector';

/** Share of its size by which a place may be off and still count as the same. */
const ALIKE = 1e-4;
/** So many pieces beside an axis are compared; of more nothing is said. */
const MOST_PIECES = 500;

/** How often a solid looks the same in one turn about an axis of its own, by its shape and look. */
export function solidSymmetry(evaluator: Evaluator, id: string, axis: Axis): number {
  const { shot } = evaluator.plan;
  const part = shot.parts[id]!;
  const kind = part.shape === null ? undefined : shot.shapes[part.shape]?.kind;
  if (!kind) return 1;
  // What is painted on turns along.
  const look = shot.looks[part.look ?? ''];
  if (look?.pattern || Object.keys({ ...look?.pictures, ...look?.maps }).length > 0) return 1;
  return shapeDefinition(kind).symmetry((path) => evaluator.number(`${part.shape}/${path}`), axis);
}

/** Greatest common divisor; `ROUND` fits everything. */
export function together(a: number, b: number): number {
  return b === 0 ? a : together(b, a % b);
}

interface Piece {
  readonly id: string;
  readonly matrix: Float64Array;
}

const AXES: readonly Axis[] = ['x', 'y', 'z'];

/** Shown solids at or below a node, seen in a frame (a matrix), all copies. */
function piecesBelow(evaluator: Evaluator, node: number, frame: Float64Array, firstOnly: boolean): Piece[] {
  const { plan } = evaluator;
  const inverse = invert(frame);
  if (!inverse) return [];
  const inside = new Set([node]);
  const pieces: Piece[] = [];
  plan.nodes.forEach((id, i) => {
    if (i !== node && !inside.has(plan.nodeParent[i]!)) return;
    inside.add(i);
    if (!partDefinition(plan.shot.parts[id]!.kind).solid || evaluator.shown[i] === 0) return;
    const copies = evaluator.copiesOf(id);
    const matrices = copies?.matrices ?? evaluator.world.subarray(i * MATRIX_SIZE, (i + 1) * MATRIX_SIZE);
    for (let k = 0; k < (firstOnly ? 1 : (copies?.count ?? 1)); k++) {
      const matrix = new Float64Array(MATRIX_SIZE);
      multiplyAt(matrix, 0, inverse, 0, matrices, k * MATRIX_SIZE);
      pieces.push({ id, matrix });
    }
  });
  return pieces;
}

/** The piece turned about an axis of the frame by an angle in radians. */
function turned({ id, matrix }: Piece, axis: number, angle: number): Piece {
  const [a, b] = [(axis + 1) % 3, (axis + 2) % 3];
  const [sine, cosine] = [Math.sin(angle), Math.cos(angle)];
  const out = matrix.slice();
  for (let i = 0; i < 4; i++) {
    out[a * 4 + i] = cosine * matrix[a * 4 + i]! - sine * matrix[b * 4 + i]!;
    out[b * 4 + i] = sine * matrix[a * 4 + i]! + cosine * matrix[b * 4 + i]!;
  }
  return { id, matrix: out };
}

/** Whether two pieces of one shape and look cannot be told apart. */
function alike(evaluator: Evaluator, one: Piece, other: Piece): boolean {
  const { parts, shapes } = evaluator.plan.shot;
  const [a, b] = [parts[one.id]!, parts[other.id]!];
  if (a.shape !== b.shape || a.look !== b.look) return false;
  const size = Math.max(...[0, 1, 2, 3].map((i) => length(column(one.matrix, i))), 1e-9) * ALIKE;
  const near = (p: readonly number[], q: readonly number[], sign = 1): boolean =>
    p.every((value, i) => Math.abs(value - sign * q[i]!) <= size);
  if (!near(column(one.matrix, 3), column(other.matrix, 3))) return false;
  const round = shapeDefinition(shapes[a.shape!]!.kind).roundAxis;
  const columns = AXES.map((_, i) => [column(one.matrix, i), column(other.matrix, i)] as const);
  if (columns.every(([p, q]) => near(p, q))) return true;
  // A round peg that has been turned about itself, or stood on its head where both ends are alike.
  if (!round || solidSymmetry(evaluator, one.id, round) !== ROUND) return false;
  const [p, q] = columns[AXES.indexOf(round)]!;
  const flips = solidSymmetry(evaluator, one.id, round === 'y' ? 'x' : 'y') === 2;
  return near(p, q) || (flips && near(p, q, -1));
}

/**
 * How often all that is seen of a node and of what hangs below it looks the same in one turn about an axis of the node,
 * through its pivot: of spokes and teeth as many as repeat evenly.
 * @param frame matrix of the frame, its origin on the axis
 * @param firstOnly look at the first copy of what is below a repeat
 */
export function symmetryBelow(
  evaluator: Evaluator,
  node: number,
  axis: 'x' | 'y' | 'z',
  frame: Float64Array,
  firstOnly = false,
): number {
  const along = AXES.indexOf(axis);
  const pieces = piecesBelow(evaluator, node, frame, firstOnly);
  if (pieces.length === 0) return ROUND;
  let symmetry = ROUND;
  const aside: Piece[] = [];
  for (const piece of pieces) {
    const own = onAxis(evaluator, piece, along);
    if (own === null) aside.push(piece);
    else symmetry = together(symmetry, own);
    if (symmetry === 1) return 1;
  }
  if (aside.length === 0) return symmetry;
  if (aside.length > MOST_PIECES) return 1;
  // Of pieces beside the axis as many as are alike can repeat, and only as often as what stands on it.
  let most = symmetry;
  const groups = new Map<string, number>();
  for (const { id } of aside) {
    const { shape, look } = evaluator.plan.shot.parts[id]!;
    groups.set(`${shape} ${look}`, (groups.get(`${shape} ${look}`) ?? 0) + 1);
  }
  for (const count of groups.values()) most = together(most, count);
  for (let k = most; k > 1; k--) {
    if (most % k !== 0) continue;
    const angle = (2 * Math.PI) / k;
    if (
      aside.every((piece) => {
        const moved = turned(piece, along, angle);
        return aside.some((other) => alike(evaluator, moved, other));
      })
    )
      return k;
  }
  return 1;
}

/** Symmetry of a piece that stands on the axis, by its own shape; `null` for one beside it or across it. */
function onAxis(evaluator: Evaluator, piece: Piece, along: number): number | null {
  const { matrix, id } = piece;
  const size = Math.max(...[0, 1, 2].map((i) => length(column(matrix, i))));
  const origin = column(matrix, 3);
  const off = Math.sqrt(origin.reduce((sum, value, i) => (i === along ? sum : sum + value * value), 0));
  if (off > ALIKE * Math.max(size, 1e-9)) return null;
  for (const [i, axis] of AXES.entries()) {
    const direction = column(matrix, i);
    if (Math.abs(direction[along]!) < (1 - ALIKE) * length(direction)) continue;
    // Drawn out of the round it looks the same twice a turn at most.
    const others = AXES.flatMap((_, k) => (k === i ? [] : [length(column(matrix, k))]));
    const even = Math.abs(others[0]! - others[1]!) <= ALIKE * size;
    const own = solidSymmetry(evaluator, id, axis);
    return even ? own : own === ROUND || own % 2 === 0 ? 2 : 1;
  }
  return 1;
}
