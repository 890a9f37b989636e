import {
  Mesh,
  NoBlending,
  PlaneGeometry,
  ShaderMaterial,
  SRGBColorSpace,
  Vector2,
  type OrthographicCamera,
  type PerspectiveCamera,
  type WebGLRenderTarget,
  type WebGLRenderer,
} from 'three';
import { Evaluator } from '../../core/evaluate';
import { subFrame, tilesOf, type Tile } from '../../core/film';
import type { Picture } from '../scene';
import { BACKGROUND_PROGRAM, backgroundUniforms, Developer, setBackground } from './develop';
import { drawFrame, intoRegion, UNSEEN_PX, type Region } from './draw-frame';
import { filmLookOf, plainLook, type FilmLook } from './film-look';
import { ACROSS, Plate } from './plate';
import { largestSide, setTones } from './renderer';

/** A frame as the camera of the shot takes it. */
export interface FilmFrameOf {
  /** At the frame. */
  readonly evaluator: Evaluator;
  /** Width of the picture for a height of 1. */
  readonly aspect: number;
  /** Share of the picture that is seen past each edge. */
  readonly beyond?: number;
  /** Leave the background out and keep the transparency. */
  readonly alpha?: boolean;
  /** Pictures that it is built up from; missing, as many as the shot says. */
  readonly samples?: number;
  /** `false` leaves out what lens and film do: blur, glow, dark corners, grain. */
  readonly effects?: boolean;
  /** Developed in finer steps than 8 bits: it is to be shown on a target of its own. */
  readonly deep?: boolean;
  /** As in `drawFrame`. */
  readonly region?: Region;
  readonly clip?: Region;
  readonly tolerance?: number;
  /** The piece of the picture that is drawn, as large as the canvas then is; missing, all of it. */
  readonly tile?: Tile;
}

/** Pixels round a piece of a picture that are drawn for what of it is seen in the piece. */
const RIM = { plain: 32, glass: 256, bloom: 704 } as const;

/** Takes frames of shots through their cameras, with all that a camera and the light do to a picture. */
export class Film {
  private readonly plate = new Plate();
  private readonly developer = new Developer();
  private readonly behind = new Mesh(
    new PlaneGeometry(2, 2),
    new ShaderMaterial({
      uniforms: backgroundUniforms(),
      vertexShader: ACROSS,
      fragmentShader: `varying vec2 at; ${BACKGROUND_PROGRAM} void main() { gl_FragColor = vec4(backgroundAt(inWhole(at)), 0.0); }`,
      blending: NoBlending,
      depthTest: false,
      depthWrite: false,
      toneMapped: false,
    }),
  );
  private moving: Evaluator | null = null;

  constructor(private readonly renderer: WebGLRenderer) {
    this.behind.frustumCulled = false;
    this.behind.renderOrder = -1e6;
  }

  /**
   * The pieces in which a frame is drawn where the card, or what is set, is smaller than the picture.
   * @param side most pixels along a side; the card may allow fewer
   */
  tiles(picture: Picture, of: FilmFrameOf, width: number, height: number, side: number): Tile[] {
    const most = Math.min(side, largestSide(this.renderer));
    if (Math.max(width, height) <= most) return tilesOf(width, height, most, 0);
    picture.update(of.evaluator);
    const blooms = of.effects !== false && filmLookOf(of.evaluator).bloom > 0;
    return tilesOf(width, height, most, blooms ? RIM.bloom : picture.hasGlass ? RIM.glass : RIM.plain);
  }

  /** Draws a frame whole. The picture is left at the evaluator's frame. */
  draw(picture: Picture, of: FilmFrameOf, canvasHeight = 0): void {
    const exposure = this.expose(picture, of, canvasHeight);
    while (exposure.take());
    exposure.show();
  }

  /** Begins a frame, which is built up picture by picture and can be shown after each of them. */
  expose(picture: Picture, of: FilmFrameOf, canvasHeight = 0): Exposure {
    return new Exposure(this, picture, of, canvasHeight);
  }

  /** @internal */
  parts(): {
    renderer: WebGLRenderer;
    plate: Plate;
    developer: Developer;
    behind: Mesh<PlaneGeometry, ShaderMaterial>;
  } {
    const { renderer, plate, developer, behind } = this;
    return { renderer, plate, developer, behind };
  }

  /** An evaluator for moments beside a frame, so that whoever shows the frame keeps theirs. @internal */
  beside(of: Evaluator): Evaluator {
    if (this.moving?.plan !== of.plan) this.moving = new Evaluator(of.plan);
    return this.moving;
  }

  dispose(): void {
    this.plate.dispose();
    this.developer.dispose();
    this.behind.geometry.dispose();
    this.behind.material.dispose();
  }
}

/** One frame while it is being taken. */
export class Exposure {
  readonly samples: number;
  private readonly look: FilmLook;
  private readonly direct: boolean;
  private readonly width: number;
  private readonly height: number;
  private next = 0;

  constructor(
    private readonly film: Film,
    private readonly picture: Picture,
    private readonly of: FilmFrameOf,
    private readonly canvasHeight: number,
  ) {
    const { evaluator, region } = of;
    const { renderer } = film.parts();
    this.look = of.effects === false ? plainLook(filmLookOf(evaluator).exposure) : filmLookOf(evaluator);
    this.samples = of.samples ?? evaluator.plan.shot.setup.samples ?? 1;
    picture.update(evaluator);
    const { bloom, vignette, grain } = this.look;
    const shows = picture.backdrop!.shows;
    this.direct =
      this.samples === 1 &&
      !of.deep &&
      bloom === 0 &&
      vignette === 0 &&
      grain === 0 &&
      !picture.hasGlass &&
      shows !== 'gradient' &&
      shows !== 'picture';
    const { width, height } = of.tile ?? region ?? renderer.getSize(new Vector2());
    const ratio = of.tile ? 1 : renderer.getPixelRatio();
    this.width = Math.max(1, Math.round(width * ratio));
    this.height = Math.max(1, Math.round(height * ratio));
  }

  /** Whether all its pictures are taken. */
  get done(): boolean {
    return this.next >= this.samples;
  }

  private camera(evaluator: Evaluator, index: number): PerspectiveCamera | OrthographicCamera | null {
    const { aspect, beyond = 0, tile } = this.of;
    const sub = { at: subFrame(evaluator.frame, index, this.samples), height: this.height };
    return this.picture.shotCamera(evaluator, {
      aspect,
      beyond,
      ...(this.samples > 1 ? { sub } : {}),
      ...(tile ? { tile } : {}),
    });
  }

  /** Takes one picture more. @returns whether there are more to take */
  take(): boolean {
    const { film, picture, of, look, samples } = this;
    if (this.direct || this.done) {
      this.next = samples;
      return false;
    }
    const { renderer, plate, behind } = film.parts();
    const index = this.next;
    if (index === 0) plate.begin(renderer, this.width, this.height, samples);
    const blurred = look.open > 0 && samples > 1;
    const sub = samples > 1 ? subFrame(of.evaluator.frame, index, samples) : null;
    let evaluator = of.evaluator;
    if (blurred) {
      evaluator = film.beside(of.evaluator);
      evaluator.evaluate(of.evaluator.frame + look.open * sub!.time);
    }
    // A video shows one picture in a frame of the film, as the screen before a camera would.
    picture.assets.hold = true;
    picture.update(evaluator, sub);
    picture.assets.hold = false;
    const camera = this.camera(evaluator, index);
    const { autoUpdate } = renderer.shadowMap;
    if (samples > 1) renderer.shadowMap.autoUpdate = index === 0 || blurred || picture.softLights;
    picture.showTo('film');
    plate.take(renderer, () => {
      if (!camera) return;
      picture.refine(camera, this.height, of.tolerance ?? UNSEEN_PX);
      if (this.baked) {
        setBackground(behind.material.uniforms, picture.backdrop!, of.alpha ?? false, of.aspect, of.tile);
        picture.scene.add(behind);
      }
      picture.draw(renderer, camera, true, of.alpha);
      behind.removeFromParent();
    });
    renderer.shadowMap.autoUpdate = autoUpdate;
    this.next += 1;
    if (samples > 1) picture.update(of.evaluator);
    return !this.done;
  }

  private get baked(): boolean {
    const { picture, of } = this;
    return picture.hasGlass && !of.alpha && picture.backdrop!.shows !== 'surroundings';
  }

  /**
   * Draws what has been taken so far.
   * @param target where a deep picture goes to: encoded as for the canvas, premultiplied
   */
  show(target: WebGLRenderTarget | null = null): void {
    const { film, picture, of, look, canvasHeight } = this;
    const { renderer, plate, developer } = film.parts();
    const { shot } = of.evaluator.plan;
    const tones = shot.setup.tones ?? 'neutral';
    const { region, clip, aspect, alpha = false } = of;
    if (this.direct) {
      setTones(renderer, tones);
      drawFrame(
        renderer,
        picture,
        {
          camera: this.camera(of.evaluator, 0),
          audience: 'film',
          background: alpha
            ? null
            : picture.backdrop!.colour.clone().multiplyScalar(picture.backdrop!.brightness),
          exposure: look.exposure,
          ...(region ? { region } : {}),
          ...(clip ? { clip } : {}),
          ...(of.tolerance === undefined ? {} : { tolerance: of.tolerance }),
          ...(of.tile ? { tile: of.tile } : {}),
        },
        canvasHeight,
      );
      setTones(renderer, 'neutral');
      return;
    }
    if (region) intoRegion(renderer, canvasHeight, region, clip);
    this.onTo(target);
    renderer.setClearColor(0, 0);
    renderer.clear();
    developer.draw(renderer, plate, {
      look,
      tones,
      backdrop: picture.backdrop!,
      alpha,
      aspect,
      frame: of.evaluator.frame,
      baked: this.baked,
      width: this.width,
      height: this.height,
      target,
      ...(of.tile ? { tile: of.tile } : {}),
    });
    this.onTo(target);
    picture.showTo('film');
    const { tile, beyond = 0 } = of;
    const camera = picture.shotCamera(of.evaluator, { aspect, beyond, ...(tile ? { tile } : {}) });
    const whole = tile ? tile.whole.width / tile.whole.height : this.width / this.height;
    if (camera) picture.drawOver(renderer, camera, whole, tile);
    renderer.setRenderTarget(null);
  }

  /** What is drawn next goes to a target, encoded as on the canvas: the library does that for headsets only. */
  private onTo(target: WebGLRenderTarget | null): void {
    const { renderer } = this.film.parts();
    if (target) {
      Object.assign(target, { isXRRenderTarget: true });
      target.texture.colorSpace = SRGBColorSpace;
    }
    renderer.setRenderTarget(target);
  }
}
