import { Matrix4, type Camera } from 'three';
import type { Body, Triangles } from '../../../../core/clearance';
import type { Shot } from '../../../../core/document';
import { MATRIX_SIZE, type Evaluator } from '../../../../core/evaluate';
import { buildMesh, sizePaths } from '../../../../core/shape';
import type { Assets } from '../../../../draw';
import { trianglesIn } from './file-meshes';

/** Share of the sides with which round shapes are drawn here. */
const FINENESS = 0.5;
/** Triangles that are drawn of one body. */
const TRIANGLES = 12_000;

/** Triangles of a body in the measure of its part as it is at the evaluated frame. */
export function trianglesOf(
  shot: Shot,
  evaluator: Evaluator,
  part: string,
  assets: Assets,
): Triangles | null {
  const id = shot.parts[part]?.shape ?? null;
  const shape = id === null ? undefined : shot.shapes[id];
  if (!shape) return null;
  const number = (path: string): number => evaluator.number(`${id!}/${path}`);
  if (!shape.mesh) {
    const sizes = new Map(sizePaths(shape.kind).map((path) => [path, number(path)]));
    return buildMesh(shape, (path) => sizes.get(path) ?? NaN, FINENESS);
  }
  const geometry = assets.mesh(shape.mesh.asset, shape.mesh.format, shape.mesh.index);
  return geometry && trianglesIn(geometry, number('size'));
}

/** World matrix of a body at the evaluated frame; `null` for a copy that is not there. */
function worldOf(evaluator: Evaluator, { part, copy }: Body): Float64Array | null {
  if (copy === null) return evaluator.worldOf(part);
  const copies = evaluator.copiesOf(part);
  if (!copies || copy >= copies.count) return null;
  return copies.matrices.subarray(copy * MATRIX_SIZE, (copy + 1) * MATRIX_SIZE);
}

/** Outline of a body in the picture, as a path of triangles that all run the same way round; empty where it is behind. */
export function silhouette(
  triangles: Triangles,
  evaluator: Evaluator,
  body: Body,
  camera: Camera,
  { width, height }: { readonly width: number; readonly height: number },
): string {
  const world = worldOf(evaluator, body);
  if (!world) return '';
  const [a, b, c, d, e, f, g, h, i, j, k, l] = world;
  const m = new Matrix4().set(a!, b!, c!, d!, e!, f!, g!, h!, i!, j!, k!, l!, 0, 0, 0, 1);
  const to = m.premultiply(camera.matrixWorldInverse).premultiply(camera.projectionMatrix).elements;
  const { positions, indices } = triangles;
  const at = (index: number): [number, number] | null => {
    const [x, y, z] = [positions[index * 3]!, positions[index * 3 + 1]!, positions[index * 3 + 2]!];
    const w = to[3] * x + to[7] * y + to[11] * z + to[15];
    if (!(w > 1e-6)) return null;
    const px = (to[0] * x + to[4] * y + to[8] * z + to[12]) / w;
    const py = (to[1] * x + to[5] * y + to[9] * z + to[13]) / w;
    return [((px + 1) / 2) * width, ((1 - py) / 2) * height];
  };
  const path: string[] = [];
  const every = Math.ceil(indices.length / 3 / TRIANGLES);
  for (let index = 0; index < indices.length; index += 3 * every) {
    const corners = [at(indices[index]!), at(indices[index + 1]!), at(indices[index + 2]!)];
    if (corners.some((corner) => corner === null)) continue;
    const [p, q, r] = corners as [[number, number], [number, number], [number, number]];
    const turn = (q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0]);
    if (Math.abs(turn) < 1e-3) continue;
    const [second, third] = turn > 0 ? [q, r] : [r, q];
    const word = ([x, y]: readonly [number, number]): string => `${x.toFixed(1)},${y.toFixed(1)}`;
    path.push(`M${word(p)}L${word(second)}L${word(third)}Z`);
  }
  return path.join('');
}
