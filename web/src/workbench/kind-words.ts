import { partDefinition, shapeDefinition, type Part, type Shape } from '../../../core/document';

/** What a part is, in a word or two: "gear, 56 teeth", "mesh from winch.glb". */
export function kindWords(part: Part, shape: Shape | null | undefined): string {
  if (!shape) return partDefinition(part.kind).word;
  const { word, counted } = shapeDefinition(shape.kind);
  if (counted) {
    const count = shape.values[counted.path];
    return typeof count === 'number' ? `${word}, ${count} ${counted.of}` : word;
  }
  return shape.mesh ? `${word} from ${shape.mesh.file}` : word;
}
