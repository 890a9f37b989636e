import { ownerName } from '../document';
import { channelName } from '../edit';
import { Evaluator, explainFailure, MATRIX_SIZE, type Plan } from '../evaluate';
import { invert } from '../transform';
import { buildMesh } from '../shape';
import { framesToLookAt } from './frames';
import type { Problem } from './problem';

/** Half the width of the film in millimetres, to which a lens is told. */
const HALF_FILM = 18;

/** Looks at frames of the range for links that give no number and parts that are never seen. */
export function checkFrames(plan: Plan): Problem[] {
  const problems: Problem[] = [];
  const evaluator = new Evaluator(plan);
  const told = new Set<string>();
  const shown = new Uint8Array(plan.nodes.length);
  const seen = new Uint8Array(plan.nodes.length);
  const reach = new Map<number, number>();
  for (const frame of framesToLookAt(plan.shot.setup)) {
    evaluator.evaluate(frame);
    for (let i = 0; i < shown.length; i++) shown[i]! |= evaluator.shown[i]!;
    plan.order.forEach((link, i) => {
      if (evaluator.failed[i] !== 1 || told.has(link.address)) return;
      told.add(link.address);
      const why = explainFailure(evaluator, link.address);
      problems.push({
        code: 'link.not-a-number',
        severity: 'error',
        address: link.address,
        frame,
        from: why?.from,
        to: why?.to,
        message: `${channelName(plan.shot, link.address)}: ${why?.message ?? `no number at frame ${frame}.`}`,
      });
    });
    lookThroughCamera(evaluator, seen, reach);
  }
  plan.nodes.forEach((id, i) => {
    if (plan.shot.parts[id]?.kind !== 'solid') return;
    const name = ownerName(plan.shot, id);
    if (shown[i] === 0)
      problems.push({
        code: 'part.hidden',
        severity: 'warning',
        address: id,
        message: `${name} is hidden over the whole range.`,
      });
    else if (seen[i] === 0 && plan.shot.setup.camera !== null)
      problems.push({
        code: 'part.out-of-picture',
        severity: 'warning',
        address: id,
        message: `${name} never comes into the picture.`,
      });
  });
  return problems;
}

/** Marks the solids whose surrounding ball reaches into what the camera takes. */
function lookThroughCamera(evaluator: Evaluator, seen: Uint8Array, reach: Map<number, number>): void {
  const { plan } = evaluator;
  const { camera, width, height } = plan.shot.setup;
  const world = camera === null ? null : evaluator.worldOf(camera);
  const view = world && invert(world);
  if (!view) return;
  const across = HALF_FILM / evaluator.number(`${camera}/lens`);
  const up = (across * height) / width;
  plan.nodes.forEach((id, node) => {
    if (seen[node] === 1 || evaluator.shown[node] === 0 || plan.shot.parts[id]!.kind !== 'solid') return;
    let radius = reach.get(node);
    if (radius === undefined) {
      radius = radiusOf(evaluator, id);
      reach.set(node, radius);
    }
    const copies = evaluator.copiesOf(id);
    const matrices =
      copies?.matrices ?? evaluator.world.subarray(node * MATRIX_SIZE, (node + 1) * MATRIX_SIZE);
    const count = copies?.count ?? 1;
    for (let k = 0; k < count && seen[node] === 0; k++)
      if (inPicture(view, matrices, k * MATRIX_SIZE, radius, across, up)) seen[node] = 1;
  });
}

function inPicture(
  view: Float64Array,
  m: Float64Array,
  at: number,
  radius: number,
  across: number,
  up: number,
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
  const r = radius * Math.sqrt(scale);
  if (depth < -r) return false;
  // Distance of the middle from each side of the picture's pyramid.
  const side = (offset: number, slope: number): number =>
    (Math.abs(offset) - depth * slope) / Math.sqrt(1 + slope * slope);
  return side(x, across) <= r && side(y, up) <= r;
}

function radiusOf(evaluator: Evaluator, id: string): number {
  const shape = evaluator.plan.shot.parts[id]!.shape!;
  const form = evaluator.plan.shot.shapes[shape]!;
  // How far a mesh file reaches is not in the document: it is taken to be in the picture.
  if (form.kind === 'mesh') return Infinity;
  const { positions } = buildMesh(form, (path) => evaluator.number(`${shape}/${path}`));
  let most = 0;
  for (let i = 0; i < positions.length; i += 3) {
    const [x, y, z] = [positions[i]!, positions[i + 1]!, positions[i + 2]!];
    most = Math.max(most, x * x + y * y + z * z);
  }
  return Math.sqrt(most);
}
