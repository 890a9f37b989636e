import type { Evaluator } from '../../core/evaluate';

/** What a camera and the shot do to a picture at a frame. */
export interface FilmLook {
  /** Factor on all light. */
  readonly exposure: number;
  /** f-number; 0 is sharp all through. */
  readonly aperture: number;
  /** Share of a frame that the shutter is open. */
  readonly open: number;
  readonly bloom: number;
  readonly bloomReach: number;
  readonly vignette: number;
  readonly grain: number;
}

/** The look of the film at the evaluated frame; plain without a camera. */
export function filmLookOf(evaluator: Evaluator): FilmLook {
  const { camera, exposure } = evaluator.plan.shot.setup;
  if (camera === null || !evaluator.plan.nodeOf.has(camera)) return plainLook(exposure);
  const number = (path: string): number => evaluator.number(`${camera}/${path}`);
  return {
    exposure: exposure * 2 ** number('exposure'),
    aperture: number('aperture'),
    open: number('shutter') / 360,
    bloom: number('bloom'),
    bloomReach: number('bloomreach'),
    vignette: number('vignette'),
    grain: number('grain'),
  };
}

/** A look with no more than its exposure. */
export function plainLook(exposure: number): FilmLook {
  return { exposure, aperture: 0, open: 0, bloom: 0, bloomReach: 0, vignette: 0, grain: 0 };
}
