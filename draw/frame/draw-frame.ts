import { Color, Vector2, type Camera, type WebGLRenderer } from 'three';
import type { Tile } from '../../core/film';
import type { Audience, Picture } from '../scene';

/** Where on the canvas a frame is drawn: pixels of the page, from the left and from the top. */
export interface Region {
  readonly left: number;
  readonly top: number;
  readonly width: number;
  readonly height: number;
}

/** What a frame is drawn of. */
export interface FrameOf {
  readonly camera: Camera | null;
  /** For whom: the view has what is left out of the film, the film what is put away. */
  readonly audience: Audience;
  /** Colour of what nothing covers; `null` leaves it transparent. */
  readonly background: Color | string | null;
  /** Missing where it fills the canvas. */
  readonly region?: Region;
  /** Part of the region that is drawn; all of it where it is missing. */
  readonly clip?: Region;
  /** How far the edges of round shapes may be off, pixels; missing where nobody is to see it. */
  readonly tolerance?: number;
  /** Factor on all light; missing, that of the shot. */
  readonly exposure?: number;
  /** The piece of the picture that the camera is for. */
  readonly tile?: Tile;
}

/** An edge that is off by less is not seen, however long one looks. */
export const UNSEEN_PX = 0.12;

const SIZE = new Vector2();

/** Linear colour of a document as three has it. */
export function shotColour([r, g, b]: readonly [number, number, number]): Color {
  return new Color().setRGB(r, g, b);
}

/** Lets what comes be drawn into one place of the canvas alone. @param clip part of it that is drawn */
export function intoRegion(
  renderer: WebGLRenderer,
  canvasHeight: number,
  region: Region,
  clip: Region = region,
): void {
  const bottomOf = ({ top, height }: Region): number => canvasHeight - top - height;
  renderer.setViewport(region.left, bottomOf(region), region.width, region.height);
  renderer.setScissor(clip.left, bottomOf(clip), clip.width, clip.height);
}

/**
 * Draws one frame of a shot: background, then everything that a camera sees. The view, the viewfinder, the cards of
 * shots and the frames of films are all drawn by it, so that what is seen is what is filmed.
 * @param canvasHeight height of the canvas in pixels of the page; asked for where there is a region
 */
export function drawFrame(
  renderer: WebGLRenderer,
  picture: Picture,
  { camera, audience, background, region, clip, tolerance = UNSEEN_PX, exposure, tile }: FrameOf,
  canvasHeight = 0,
): void {
  if (region) intoRegion(renderer, canvasHeight, region, clip);
  renderer.setClearColor(background ?? 0, background === null ? 0 : 1);
  renderer.clear();
  picture.showTo(audience);
  if (!camera) return;
  const ratio = renderer.getPixelRatio();
  const height = region?.height ?? renderer.getSize(SIZE).y;
  picture.refine(camera, height * ratio, tolerance);
  picture.draw(renderer, camera, audience === 'film', background === null, exposure);
  const size = tile?.whole ?? region ?? renderer.getSize(SIZE);
  picture.drawOver(renderer, camera, size.width / size.height, tile);
}
