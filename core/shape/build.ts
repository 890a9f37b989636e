import { shapeChannels, type ShapeKind } from '../document';
import { gearMesh } from './gear';
import type { Mesh } from './mesh';
import { ballMesh, boxMesh, cylinderMesh, torusMesh } from './solids';

const BUILDERS: Record<ShapeKind, (size: (path: string) => number) => Mesh> = {
  box: (size) => boxMesh(size('width'), size('height'), size('depth')),
  ball: (size) => ballMesh(size('radius'), size('span')),
  cylinder: (size) =>
    cylinderMesh(size('radius'), size('topRadius'), size('height'), size('sides'), size('sweep')),
  torus: (size) => torusMesh(size('radius'), size('tube')),
  gear: (size) =>
    gearMesh({
      teeth: size('teeth'),
      module: size('module'),
      pressure: size('pressure'),
      thickness: size('thickness'),
      bore: size('bore'),
    }),
};

/** Geometry of a shape for the sizes given by `size(path)`, in metres and degrees. */
export function buildMesh(kind: ShapeKind, size: (path: string) => number): Mesh {
  return BUILDERS[kind](size);
}

/** Paths of the sizes that a kind of shape is built from. */
export function sizePaths(kind: ShapeKind): readonly string[] {
  return shapeChannels(kind).map((spec) => spec.path);
}
