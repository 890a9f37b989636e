import type { Part, PartKind, Shape, ShapeKind } from '../../../core/document';

const PART_WORDS: Record<PartKind, string> = {
  solid: 'solid',
  hub: 'hub',
  repeat: 'repeat',
  camera: 'camera',
  sun: 'sun light',
  sky: 'sky light',
  point: 'point light',
  spot: 'spot light',
  area: 'area light',
};

const SHAPE_WORDS: Record<ShapeKind, string> = {
  box: 'box',
  ball: 'ball',
  cylinder: 'cylinder',
  cone: 'cone',
  tube: 'tube',
  torus: 'torus',
  plane: 'layer',
  disc: 'disc',
  capsule: 'capsule',
  lathe: 'lathe',
  outline: 'outline',
  lettering: 'lettering',
  gear: 'gear',
  rack: 'rack',
  mesh: 'mesh',
};

/** What a part is, in a word or two: "gear, 56 teeth", "mesh from winch.glb". */
export function kindWords(part: Part, shape: Shape | null | undefined): string {
  if (!shape) return PART_WORDS[part.kind];
  const words = SHAPE_WORDS[shape.kind];
  if (shape.kind === 'gear' || shape.kind === 'rack') {
    const teeth = shape.values.teeth;
    return typeof teeth === 'number' ? `${words}, ${teeth} teeth` : words;
  }
  return shape.mesh ? `${words} from ${shape.mesh.file}` : words;
}
