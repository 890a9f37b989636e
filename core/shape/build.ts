import { shapeChannels, type Shape, type ShapeKind } from '../document';
import { barMesh } from './bar';
import { beltMesh } from './belt';
import { bevelGearMesh } from './bevel-gear';
import { bracketMesh } from './bracket';
import { camMesh } from './cam';
import { chainMesh } from './chain';
import { drawingPieces } from './drawing';
import { extrudeMesh } from './extrude';
import { discMesh, planeMesh, rackMesh } from './flat';
import { sidesAtFineness } from './fineness';
import { gearMesh, ringGearMesh } from './gear';
import { latheMesh } from './lathe';
import { shaftMesh } from './shaft';
import { springMesh } from './spring';
import { sprocketMesh } from './sprocket';
import { wormMesh } from './worm';
import { writtenOutline } from './written';
import { MeshBuilder, type Flat, type Mesh } from './mesh';
import { ballMesh, boxMesh, capsuleMesh, cylinderMesh, torusMesh, tubeMesh } from './solids';

/** What a shape is besides its sizes. */
export type ShapeForm = Pick<Shape, 'kind' | 'profile' | 'outline' | 'text' | 'pulleys'>;
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
        helix: size('helix'),
      },
      fineness,
    ),
  'ring-gear': (_form, size, fineness) =>
    ringGearMesh(
      {
        teeth: size('teeth'),
        module: size('module'),
        pressure: size('pressure'),
        thickness: size('thickness'),
        rim: size('rim'),
      },
      fineness,
    ),
  'bevel-gear': (_form, size, fineness) =>
    bevelGearMesh(
      {
        teeth: size('teeth'),
        module: size('module'),
        pressure: size('pressure'),
        cone: size('cone'),
        face: size('face'),
        bore: size('bore'),
      },
      fineness,
    ),
  worm: (_form, size, fineness) =>
    wormMesh(
      {
        starts: size('starts'),
        module: size('module'),
        pressure: size('pressure'),
        radius: size('radius'),
        length: size('length'),
        left: size('left') === 1,
      },
      fineness,
    ),
  cam: (_form, size, fineness) =>
    camMesh(
      {
        law: size('law'),
        foot: size('foot'),
        lift: size('lift'),
        rise: size('rise'),
        dwell: size('dwell'),
        fall: size('fall'),
        phase: size('phase'),
        base: size('base'),
        roller: size('roller'),
        thickness: size('thickness'),
        bore: size('bore'),
      },
      fineness,
    ),
  sprocket: (_form, size, fineness) =>
    sprocketMesh(
      {
        teeth: size('teeth'),
        pitch: size('pitch'),
        roller: size('roller'),
        thickness: size('thickness'),
        bore: size('bore'),
      },
      fineness,
    ),
  chain: ({ pulleys = [] }, size, fineness) =>
    chainMesh(
      pulleys,
      { pitch: size('pitch'), roller: size('roller'), width: size('width'), run: size('run') },
      fineness,
    ),
  belt: ({ pulleys = [] }, size, fineness) =>
    beltMesh(
      pulleys,
      { width: size('width'), thickness: size('thickness'), cleats: size('cleats'), run: size('run') },
      fineness,
    ),
  spring: (_form, size, fineness) =>
    springMesh(
      { radius: size('radius'), wire: size('wire'), turns: size('turns'), length: size('length') },
      fineness,
    ),
  shaft: (_form, size, fineness) =>
    shaftMesh({
      radius: size('radius'),
      length: size('length'),
      key: size('key'),
      seat: size('seat'),
      sides: sidesAtFineness(size('sides'), fineness),
    }),
  bracket: (_form, size, fineness) =>
    bracketMesh(
      {
        height: size('height'),
        width: size('width'),
        foot: size('foot'),
        eye: size('eye'),
        bore: size('bore'),
        thickness: size('thickness'),
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
