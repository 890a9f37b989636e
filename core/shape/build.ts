import { shapeChannels, type Shape, type ShapeKind } from '../document';
import { barMesh } from './bar';
import { drawingPieces } from './drawing';
import { extrudeMesh } from './extrude';
import { discMesh, planeMesh, rackMesh } from './flat';
import { sidesAtFineness } from './fineness';
import { gearMesh } from './gear';
import { latheMesh } from './lathe';
import { writtenOutline } from './written';
import { MeshBuilder, type Flat, type Mesh } from './mesh';
import { ballMesh, boxMesh, capsuleMesh, cylinderMesh, torusMesh, tubeMesh } from './solids';

/** What a shape is besides its sizes. */
export type ShapeForm = Pick<Shape, 'kind' | 'profile' | 'outline' | 'text'>;
type Sizes = (path: string) => number;

const cylinder = (_form: ShapeForm, size: Sizes, fineness: number): Mesh =>
  cylinderMesh(
    size('radius'),
    size('radius') * size('top'),
    size('height'),
    sidesAtFineness(size('sides'), fineness),
    size('sweep'),
  );

const BUILDERS: Record<ShapeKind, (form: ShapeForm, size: Sizes, fineness: number) => Mesh> = {
  box: (_form, size) => boxMesh(size('width'), size('height'), size('depth')),
  ball: (_form, size, fineness) => ballMesh(size('radius'), size('span'), fineness),
  cylinder,
  cone: cylinder,
  tube: (_form, size, fineness) =>
    tubeMesh(size('radius'), size('wall'), size('height'), sidesAtFineness(size('sides'), fineness)),
  torus: (_form, size, fineness) => torusMesh(size('radius'), size('tube'), fineness),
  plane: (_form, size) => planeMesh(size('width'), size('height')),
  disc: (_form, size, fineness) =>
    discMesh(size('radius'), size('hole'), sidesAtFineness(size('sides'), fineness), size('sweep')),
  capsule: (_form, size, fineness) => capsuleMesh(size('radius'), size('height'), fineness),
  lathe: ({ profile = [] }, size, fineness) =>
    latheMesh(
      profile.map(([r, y]): Flat => [r * size('radius'), (y - 0.5) * size('height')]),
      sidesAtFineness(size('sides'), fineness),
      size('sweep'),
    ),
  outline: ({ outline = [] }, size) =>
    extrudeMesh(drawingPieces(outline, size('width'), size('height')), size('depth'), size('bevel')),
  lettering: ({ outline = [], text }, size) => {
    const [number, choice] = [size('number'), size('choice')];
    const drawing = text?.glyphs ? writtenOutline(text, number, choice) : outline;
    return extrudeMesh(
      drawingPieces(drawing, size('size'), size('size'), size('spacing')),
      size('depth'),
      size('bevel'),
    );
  },
  gear: (_form, size, fineness) =>
    gearMesh(
      {
        teeth: size('teeth'),
        module: size('module'),
        pressure: size('pressure'),
        thickness: size('thickness'),
        bore: size('bore'),
      },
      fineness,
    ),
  rack: (_form, size) =>
    rackMesh({
      teeth: size('teeth'),
      module: size('module'),
      pressure: size('pressure'),
      thickness: size('thickness'),
      back: size('back'),
    }),
  bar: (_form, size, fineness) =>
    barMesh(
      {
        length: size('length'),
        width: size('width'),
        thickness: size('thickness'),
        bore: size('bore'),
      },
      fineness,
    ),
  // What a file holds is not in the document: whoever has the bytes builds it.
  mesh: () => new MeshBuilder().build(),
};

/**
 * Geometry of a shape for the sizes given by `size(path)`, in metres and degrees; empty for a mesh file.
 * @param fineness share of the sides that round shapes are built with, of `FINENESS`
 */
export function buildMesh(form: ShapeForm, size: Sizes, fineness = 1): Mesh {
  return BUILDERS[form.kind](form, size, fineness);
}

/** Paths of the sizes that a kind of shape is built from. */
export function sizePaths(kind: ShapeKind): readonly string[] {
  return shapeChannels(kind).map((spec) => spec.path);
}
