import { Color, type Texture } from 'three';
import type { Backdrop, SurroundingsKind } from '../../core/document';
import type { Evaluator } from '../../core/evaluate';
import type { Assets } from './assets';

/** What stands behind everything at a frame. Colours are linear. */
export interface BackdropNow {
  readonly shows: Backdrop['shows'];
  readonly colour: Color;
  readonly upper: Color;
  readonly brightness: number;
  readonly picture: Texture | null;
  readonly surroundings: SurroundingsKind;
  /** How strongly the surroundings are mirrored; `null` where the sky light says it. */
  readonly mirrored: number | null;
  /** Degrees about the upright axis. */
  readonly turn: number;
  readonly fog: { readonly distance: number; readonly colour: Color } | null;
}

const PLAIN: Backdrop = { shows: 'colour', surroundings: 'plain' };

/**
 * The backdrop of a shot at the evaluated frame: that of its first shown backdrop, else the colour of the shot.
 * @param asker for whom a video plays
 */
export function backdropOf(evaluator: Evaluator, assets: Assets, asker: object): BackdropNow {
  const { plan, shown } = evaluator;
  const { shot } = plan;
  const node = plan.nodes.findIndex((id, i) => shot.parts[id]!.kind === 'backdrop' && shown[i] === 1);
  const id = node < 0 ? null : plan.nodes[node]!;
  if (id === null) {
    const colour = new Color().setRGB(...shot.setup.background);
    return {
      ...PLAIN,
      colour,
      upper: colour,
      brightness: 1,
      picture: null,
      mirrored: null,
      turn: 0,
      fog: null,
    };
  }
  const options = shot.parts[id]!.backdrop ?? PLAIN;
  const number = (path: string): number => evaluator.number(`${id}/${path}`);
  const colour = (path: string): Color => new Color().setRGB(...evaluator.colour(`${id}/${path}`));
  const fog = number('fog');
  return {
    shows: options.shows,
    surroundings: options.surroundings,
    colour: colour('colour'),
    upper: colour('upper'),
    brightness: number('brightness'),
    picture: options.picture ? assets.pictureAt(options.picture, [asker, 'backdrop'], evaluator) : null,
    mirrored: number('mirrored'),
    turn: number('turn'),
    fog: fog > 0 ? { distance: fog, colour: colour('fogcolour') } : null,
  };
}
