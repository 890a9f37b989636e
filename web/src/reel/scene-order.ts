import type { Shot } from '../../../core/document';
import type { LoudnessTables } from '../../../core/evaluate';

/** A shot as the worker takes it. */
export interface SentScene {
  readonly scene: string;
  readonly shot: Shot;
  readonly loudness: LoudnessTables;
  readonly inner: readonly { readonly id: string; readonly shot: Shot; readonly loudness: LoudnessTables }[];
}

export type ReelOrder =
  | { readonly size: { readonly width: number; readonly height: number } }
  | SentScene
  | { readonly draw: string; readonly frame: number };

export type ReelAnswer =
  | { readonly picture: ImageBitmap; readonly of: string; readonly frame: number }
  | { readonly failed: string; readonly of: string; readonly frame: number };

/** A worker as it is used here, so that tests can stand in for it. */
export interface ReelPort {
  onmessage: ((event: { data: ReelAnswer }) => void) | null;
  postMessage(order: ReelOrder): void;
  terminate(): void;
}
