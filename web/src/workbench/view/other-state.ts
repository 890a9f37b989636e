import type { Camera, WebGLRenderer } from 'three';
import type { Shot } from '../../../../core/document';
import { compile, Evaluator, type LoudnessTables } from '../../../../core/evaluate';
import {
  drawFrame,
  Picture,
  type Assets,
  type FilmFrameOf,
  type FrameOf,
  type InnerPlans,
} from '../../../../draw';
import type { CompareState } from '../state/compare';
import type { FilmRegions } from './film-regions';
import type { Area } from './view-size';

/** The document that is held against the one now. */
export function otherShot(compare: CompareState, before: Shot | null, now: Shot): Shot | null {
  if (compare.with === null) return null;
  return { before: before ?? now, opened: compare.opened, aside: compare.aside?.shot ?? now }[compare.with];
}

/** Another state of the shot, drawn beside or over the one now. */
export class OtherState {
  private readonly picture: Picture;
  private shot: Shot | null = null;
  private evaluator: Evaluator | null = null;

  constructor(assets: Assets, inner: InnerPlans) {
    this.picture = new Picture(assets);
    this.picture.setInner(inner);
  }

  /** Works out a document at a frame. */
  show(shot: Shot, frame: number, loudness: LoudnessTables): void {
    if (this.shot !== shot) {
      this.shot = shot;
      const plan = compile(shot, loudness);
      this.picture.setPlan(plan);
      this.evaluator = new Evaluator(plan);
    }
    this.evaluator!.evaluate(frame);
    this.picture.update(this.evaluator!);
  }

  draw(
    renderer: WebGLRenderer,
    frame: Omit<FrameOf, 'region' | 'camera'> & { readonly camera: Camera },
    region: Area,
    clip: Area,
    canvasHeight: number,
    shadows: boolean,
  ): void {
    this.picture.throwShadows(shadows);
    drawFrame(renderer, this.picture, { ...frame, region, clip }, canvasHeight);
    this.picture.showTo('view');
  }

  /** Draws it as its camera takes it. */
  drawFilm(
    films: FilmRegions,
    of: Omit<FilmFrameOf, 'evaluator'>,
    canvasHeight: number,
    shadows: boolean,
  ): void {
    this.picture.throwShadows(shadows);
    films.draw('other', this.picture, { ...of, evaluator: this.evaluator! }, canvasHeight);
    this.picture.showTo('view');
  }

  dispose(): void {
    this.picture.dispose();
  }
}
