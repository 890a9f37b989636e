import type { DirectionalLight, Object3D, SpotLight } from 'three';
import type { Evaluator } from '../../core/evaluate';
import type { SubFrame } from '../../core/film';
import type { DrawnCallout } from './callouts';
import type { DropShadow } from './drop-shadow';
import type { InnerPictures } from './inner-pictures';

/** For whom it is drawn: what is put away is not in the view, what is left out is not in the film. */
export type Audience = 'view' | 'film';

/** What a part is drawn with. */
export interface Drawn {
  readonly id: string;
  readonly node: number;
  readonly object: Object3D;
  readonly refresh?: (evaluator: Evaluator, sub: SubFrame | null) => void;
  /** Of a sky, the lamp that stands in for part of it. */
  readonly beam?: DirectionalLight;
  /** Of a panel, the lamp that takes away what is hidden of it. */
  readonly shade?: SpotLight;
  /** Shape that is built as finely as its size in the picture asks for. */
  readonly round?: string;
  /** Of a flat layer, the shadow that it throws right behind it. */
  readonly drop?: DropShadow;
  /** Of a shot in the shot, its pictures. */
  readonly inner?: InnerPictures;
  /** Of a callout, what lies over the picture. */
  readonly callout?: DrawnCallout;
}
