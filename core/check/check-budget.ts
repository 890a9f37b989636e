import { channelAt, COPIES_IN_ALL, ownerName, storedValue, type Shape, type Shot } from '../document';
import { channelName } from '../edit';
import { askedMoments, MOMENTS_A_FRAME, type Plan } from '../evaluate';
import { buildMesh } from '../shape';
import type { Problem } from './problem';

/** Triangles that one frame may show. */
export const TRIANGLES_A_FRAME = 20_000_000;
/** Fewer copies than this cannot pass the budget, whatever the shape: not worth building it to count. */
const COUNTED_FROM = 50;

const remembered = new WeakMap<Shape, number>();

/** Triangles of a shape with its stored sizes; 0 for what comes from a file. */
function trianglesOf(shot: Shot, id: string): number {
  const shape = shot.shapes[id];
  if (!shape || shape.kind === 'mesh') return 0;
  let count = remembered.get(shape);
  if (count === undefined) {
    const size = (path: string): number => storedValue(shot, channelAt(shot, `${id}/${path}`)!) as number;
    try {
      count = buildMesh(shape, size).indices.length / 3;
    } catch {
      // A shape that cannot be built shows nothing; other checks tell why.
      count = 0;
    }
    remembered.set(shape, count);
  }
  return count;
}

/** Copies in which a part is shown: those of all repeats above it, as they are stored. */
function copiesShown(shot: Shot, id: string): number {
  let copies = 1;
  for (let at = shot.parts[id]?.parent ?? null; at !== null; at = shot.parts[at]?.parent ?? null)
    if (shot.parts[at]?.kind === 'repeat')
      copies *= storedValue(shot, channelAt(shot, `${at}/copies`)!) as number;
  return copies;
}

const written = (count: number): string =>
  Number.isFinite(count) ? Math.round(count).toLocaleString('en') : 'more than can be counted';

/** What a shot asks of the computer beyond what it can give in any time that somebody waits for. */
export function checkBudget(plan: Plan): Problem[] {
  const { shot } = plan;
  const problems: Problem[] = [];
  const asked = askedMoments(plan);
  if (asked && asked.moments > MOMENTS_A_FRAME)
    problems.push({
      code: 'budget.moments',
      severity: 'error',
      address: asked.address,
      amount: asked.moments,
      message: `Formulas ask for ${written(asked.moments)} values at other moments in every frame: at most ${written(MOMENTS_A_FRAME)} are worked out. ${channelName(shot, asked.address)} asks for most: ask less often, or of a channel that asks nothing itself.`,
    });
  let triangles = 0;
  let most = { id: '', triangles: 0 };
  for (const [id, part] of Object.entries(shot.parts)) {
    if (part.shape === null) continue;
    const copies = copiesShown(shot, id);
    if (copies < COUNTED_FROM) continue;
    const shown = Math.min(copies, COPIES_IN_ALL) * trianglesOf(shot, part.shape);
    triangles += shown;
    if (shown > most.triangles) most = { id, triangles: shown };
  }
  if (triangles > TRIANGLES_A_FRAME)
    problems.push({
      code: 'budget.triangles',
      severity: 'error',
      address: most.id,
      amount: triangles,
      message: `The copies have ${written(triangles)} triangles in all: at most ${written(TRIANGLES_A_FRAME)} can be drawn. ${ownerName(shot, most.id)} has most: fewer copies of it, or fewer sides, help.`,
    });
  return problems;
}

/** Why a shot is too much to be drawn at all, in a sentence, or `null`. Asked before a frame of it is worked out. */
export function budgetTrouble(plan: Plan): string | null {
  return checkBudget(plan)[0]?.message ?? null;
}
