import {
  Color,
  ShaderMaterial,
  Vector2,
  Vector4,
  type Texture,
  type WebGLRenderer,
  type WebGLRenderTarget,
} from 'three';
import { FullScreenQuad } from 'three/addons/postprocessing/Pass.js';
import { UnrealBloomPass } from 'three/addons/postprocessing/UnrealBloomPass.js';
import type { Tones } from '../../core/document';
import { windowOf, type Tile } from '../../core/film';
import type { BackdropNow } from '../scene';
import type { FilmLook } from './film-look';
import { ACROSS, type Plate } from './plate';

/** Brightness from which light shines over what is beside it. */
const BLOOMS_FROM = 1;
/** The pass adds up five blurs: of this much of them a bloom of 1 is as bright as what shines. */
const BLOOM_SHARE = 0.35;

const TONES: Record<Tones, number> = { none: 0, aces: 1, agx: 2, neutral: 3 };
const BACKGROUND = { none: 0, colour: 1, gradient: 2, picture: 3 } as const;

/** Background at a point of the picture, in linear display colours. */
export const BACKGROUND_PROGRAM = `
uniform int background;
uniform vec3 lower;
uniform vec3 upper;
uniform float brightness;
uniform sampler2D behind;
uniform vec2 cover;
uniform vec4 piece;
vec3 encoded(vec3 c) { return mix(1.055 * pow(max(c, 0.0), vec3(1.0 / 2.4)) - 0.055, 12.92 * c, lessThanEqual(c, vec3(0.0031308))); }
vec3 decoded(vec3 c) { return mix(pow((c + 0.055) / 1.055, vec3(2.4)), c / 12.92, lessThanEqual(c, vec3(0.04045))); }
vec2 inWhole(vec2 at) { return piece.xy + at * piece.zw; }
vec3 backgroundAt(vec2 at) {
  if (background == 2) return decoded(mix(encoded(lower), encoded(upper), at.y)) * brightness;
  if (background == 3) return texture2D(behind, (at - 0.5) * cover + 0.5).rgb * brightness;
  return background == 1 ? lower * brightness : vec3(0.0);
}`;

/** What the program of a background reads. */
export function backgroundUniforms(): Record<string, { value: unknown }> {
  return {
    background: { value: 0 },
    lower: { value: new Color() },
    upper: { value: new Color() },
    brightness: { value: 1 },
    behind: { value: null },
    cover: { value: new Vector2(1, 1) },
    piece: { value: new Vector4(0, 0, 1, 1) },
  };
}

/**
 * Brings the background to what a backdrop says.
 * @param aspect width of the whole picture for a height of 1
 * @param tile the piece of it that is drawn
 */
export function setBackground(
  uniforms: Record<string, { value: unknown }>,
  backdrop: BackdropNow,
  alpha: boolean,
  aspect: number,
  tile?: Tile,
): void {
  (uniforms.piece!.value as Vector4).fromArray(tile ? windowOf(tile) : [0, 0, 1, 1]);
  const picture = backdrop.shows === 'picture' ? backdrop.picture : null;
  const shows =
    alpha || backdrop.shows === 'surroundings'
      ? 'none'
      : backdrop.shows === 'picture' && !picture
        ? 'colour'
        : backdrop.shows;
  uniforms.background!.value = BACKGROUND[shows];
  uniforms.lower!.value = backdrop.colour;
  uniforms.upper!.value = backdrop.upper;
  uniforms.brightness!.value = backdrop.brightness;
  uniforms.behind!.value = picture;
  (uniforms.cover!.value as Vector2).copy(coverOf(picture, aspect));
}

/** Share of a picture across and up that fills a frame without leaving a rim or bending it. */
function coverOf(picture: Texture | null, aspect: number): Vector2 {
  const image = picture?.image as { width: number; height: number } | undefined;
  if (!image) return new Vector2(1, 1);
  const own = image.width / image.height;
  return own > aspect ? new Vector2(aspect / own, 1) : new Vector2(1, own / aspect);
}

export interface Developing {
  readonly look: FilmLook;
  readonly tones: Tones;
  readonly backdrop: BackdropNow;
  readonly alpha: boolean;
  readonly aspect: number;
  readonly frame: number;
  /** Whether the background was drawn with the picture already, for glass to show it. */
  readonly baked: boolean;
  /** Size in pixels. */
  readonly width: number;
  readonly height: number;
  /** The piece of a picture that this is. */
  readonly tile?: Tile;
  /** Where it goes to; `null`, to the canvas. */
  readonly target?: WebGLRenderTarget | null;
}

/** Makes the picture of a plate: exposure, bloom, tone mapping, background, vignette, grain, sRGB. */
export class Developer {
  private readonly material = new ShaderMaterial({
    uniforms: {
      ...backgroundUniforms(),
      plate: { value: null },
      toneMappingExposure: { value: 1 },
      tones: { value: 3 },
      share: { value: 1 },
      bloom: { value: null },
      blooms: { value: 0 },
      vignette: { value: 0 },
      grain: { value: 0 },
      aspect: { value: 1 },
      baked: { value: 0 },
      frame: { value: 0 },
      origin: { value: new Vector2() },
    },
    vertexShader: ACROSS,
    fragmentShader: `
      #include <tonemapping_pars_fragment>
      uniform sampler2D plate;
      uniform sampler2D bloom;
      uniform int tones;
      uniform float share, blooms, vignette, grain, aspect, baked;
      uniform int frame;
      uniform vec2 origin;
      varying vec2 at;
      ${BACKGROUND_PROGRAM}
      vec3 toned(vec3 light) {
        if (tones == 1) return ACESFilmicToneMapping(light);
        if (tones == 2) return AgXToneMapping(light);
        if (tones == 3) return NeutralToneMapping(light);
        return LinearToneMapping(light);
      }
      float hashed(ivec3 p) {
        uint h = uint(p.x) * 1664525u + uint(p.y) * 2246822519u + uint(p.z) * 3266489917u;
        h ^= h >> 15; h *= 2654435761u; h ^= h >> 13; h *= 668265263u; h ^= h >> 16;
        return float(h >> 8) / 16777216.0;
      }
      void main() {
        vec4 light = texture2D(plate, at) * share;
        float cover = clamp(light.a, 0.0, 1.0);
        vec3 behind = backgroundAt(inWhole(at));
        light.rgb -= baked * behind * (1.0 - cover);
        vec2 off = (inWhole(at) - 0.5) * vec2(aspect, 1.0) * 2.0 / sqrt(aspect * aspect + 1.0);
        // A lens loses light towards its rim by the fourth power of the cosine.
        float fall = 1.0 + vignette * dot(off, off);
        float dim = 1.0 / (fall * fall);
        vec3 colour = cover > 0.0 ? toned(light.rgb / cover * dim) * cover : vec3(0.0);
        colour += behind * dim * (1.0 - cover);
        if (blooms > 0.0) {
          vec3 shine = toned(texture2D(bloom, at).rgb * dim / max(toneMappingExposure, 1e-6));
          colour = 1.0 - (1.0 - colour) * (1.0 - shine);
          cover = max(cover, max(shine.r, max(shine.g, shine.b)));
        }
        if (background > 0) cover = 1.0;
        vec3 shown = encoded(clamp(colour / max(cover, 1e-6), 0.0, 1.0));
        if (grain > 0.0) {
          ivec2 pixel = ivec2(gl_FragCoord.xy + origin);
          vec3 seed = vec3(hashed(ivec3(pixel, frame)), hashed(ivec3(pixel, frame + 7919)), hashed(ivec3(pixel, frame + 104729)));
          float grey = dot(seed, vec3(1.0)) / 3.0 - 0.5;
          // Most of it lies in the middle tones.
          vec3 middle = 4.0 * shown * (1.0 - shown);
          shown = clamp(shown + grain * 0.4 * mix(vec3(grey), seed - 0.5, 0.3) * (0.25 + 0.75 * middle), 0.0, 1.0);
        }
        gl_FragColor = vec4(shown * cover, cover);
      }`,
    depthTest: false,
    depthWrite: false,
    toneMapped: false,
  });
  private readonly quad = new FullScreenQuad(this.material);
  private bloom: UnrealBloomPass | null = null;

  /** Draws the developed picture into the viewport that the renderer has been given. */
  draw(renderer: WebGLRenderer, plate: Plate, of: Developing): void {
    const { uniforms } = this.material;
    const { look } = of;
    setBackground(uniforms, of.backdrop, of.alpha, of.aspect, of.tile);
    const { tile } = of;
    (uniforms.origin!.value as Vector2).set(
      tile?.left ?? 0,
      tile ? tile.whole.height - tile.top - tile.height : 0,
    );
    uniforms.plate!.value = plate.light;
    uniforms.share!.value = 1 / Math.max(1, plate.taken);
    uniforms.toneMappingExposure!.value = look.exposure;
    uniforms.tones!.value = TONES[of.tones];
    uniforms.vignette!.value = look.vignette;
    uniforms.grain!.value = look.grain;
    uniforms.aspect!.value = of.aspect;
    uniforms.baked!.value = of.baked ? 1 : 0;
    uniforms.frame!.value = Math.round(of.frame);
    uniforms.blooms!.value = look.bloom;
    uniforms.bloom!.value = look.bloom > 0 ? this.shine(renderer, plate, of) : null;
    if (of.target) renderer.setRenderTarget(of.target);
    this.quad.render(renderer);
  }

  private shine(renderer: WebGLRenderer, plate: Plate, { look, width, height }: Developing): Texture {
    let pass = this.bloom;
    if (!pass) {
      pass = this.bloom = new UnrealBloomPass(new Vector2(width, height), 1, 0, BLOOMS_FROM);
      // What shines is added after the tones are mapped, not to the plate.
      pass.blendMaterial.visible = false;
    }
    if (pass.resolution.x !== width || pass.resolution.y !== height) {
      pass.resolution.set(width, height);
      pass.setSize(width, height);
    }
    pass.strength = look.bloom * BLOOM_SHARE;
    pass.radius = look.bloomReach;
    const from = plate.meanTarget(renderer, look.exposure);
    pass.render(renderer, from, from, 0, false);
    renderer.setRenderTarget(null);
    return pass.renderTargetsHorizontal[0]!.texture;
  }

  dispose(): void {
    this.bloom?.dispose();
    this.material.dispose();
    this.quad.dispose();
  }
}
