import { METRES_PER_UNIT } from '../formula';
import { MATRIX_SIZE } from './node-place';
import type { Evaluator } from './evaluator';

/** Width in millimetres of the picture that a camera's lens is told for. */
export const FILM_WIDTH = 36;
/** Nearer than this nothing is taken, metres. */
export const NEAREST = 0.05;

/** How much of the scene a camera takes across: twice `half + slope * depth`, in metres. */
export interface CameraWidth {
  readonly half: number;
  readonly slope: number;
}

/**
 * How wide the camera of a part sees at the evaluated frame. Through a lens the width grows with the depth, with parallel
 * lines it is the same everywhere, and pixel for pixel it is that of the picture, a pixel a centimetre, at depth 0 of the
 * world.
 */
export function cameraWidth(evaluator: Evaluator, camera: string): CameraWidth {
  const { shot, nodeOf } = evaluator.plan;
  const { projection } = shot.parts[camera]!;
  if (projection === 'parallel') return { half: evaluator.number(`${camera}/width`) / 2, slope: 0 };
  if (projection === 'pixels') {
    const distance = Math.abs(evaluator.world[nodeOf.get(camera)! * MATRIX_SIZE + 11]!);
    return { half: 0, slope: (shot.setup.width * METRES_PER_UNIT.px) / 2 / Math.max(NEAREST, distance) };
  }
  return { half: 0, slope: FILM_WIDTH / 2 / evaluator.number(`${camera}/lens`) };
}
