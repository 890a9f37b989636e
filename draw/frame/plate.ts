import {
  AddEquation,
  CustomBlending,
  FloatType,
  HalfFloatType,
  NearestFilter,
  NoBlending,
  OneFactor,
  ShaderMaterial,
  WebGLRenderTarget,
  type Texture,
  type WebGLRenderer,
} from 'three';
import { FullScreenQuad } from 'three/addons/postprocessing/Pass.js';

/** Program of the points of a picture that fills all there is. */
export const ACROSS = 'varying vec2 at; void main() { at = uv; gl_Position = vec4(position.xy, 1.0, 1.0); }';

/** Fewer pictures than this are smoothed at their edges each; more of them smooth one another's. */
const SMOOTHED_BELOW = 4;

/** Gathers the light of one or more pictures in linear numbers, as a photographic plate does. */
export class Plate {
  private readonly picture = new WebGLRenderTarget(1, 1, {
    type: HalfFloatType,
    minFilter: NearestFilter,
    magFilter: NearestFilter,
  });
  private readonly sum = new WebGLRenderTarget(1, 1, {
    type: FloatType,
    depthBuffer: false,
    minFilter: NearestFilter,
    magFilter: NearestFilter,
  });
  private readonly scaled = new WebGLRenderTarget(1, 1, { type: HalfFloatType, depthBuffer: false });
  private readonly add = new ShaderMaterial({
    uniforms: { from: { value: this.picture.texture }, share: { value: 1 } },
    vertexShader: ACROSS,
    fragmentShader: `uniform sampler2D from; uniform float share; varying vec2 at;
      void main() { vec4 light = texture2D(from, at); gl_FragColor = vec4(max(light.rgb, 0.0), light.a) * share; }`,
    blending: CustomBlending,
    blendEquation: AddEquation,
    blendSrc: OneFactor,
    blendDst: OneFactor,
    depthTest: false,
    depthWrite: false,
    toneMapped: false,
  });
  private readonly quad = new FullScreenQuad(this.add);
  /** Pictures that it has taken. */
  taken = 0;
  private several = false;

  /** Makes it ready for pictures of a size in pixels. @param count how many there will be */
  begin(renderer: WebGLRenderer, width: number, height: number, count: number): void {
    this.taken = 0;
    this.several = count > 1;
    const samples = count < SMOOTHED_BELOW ? 4 : 0;
    if (this.picture.samples !== samples) {
      this.picture.dispose();
      this.picture.samples = samples;
    }
    for (const target of [this.picture, ...(this.several ? [this.sum] : [])])
      if (target.width !== width || target.height !== height) target.setSize(width, height);
    if (this.several) this.clear(renderer, this.sum);
  }

  private clear(renderer: WebGLRenderer, target: WebGLRenderTarget): void {
    renderer.setRenderTarget(target);
    renderer.setClearColor(0, 0);
    renderer.clear();
  }

  /** Takes one picture more. @param draw draws it; what nothing covers stays empty */
  take(renderer: WebGLRenderer, draw: () => void): void {
    this.clear(renderer, this.picture);
    draw();
    this.taken += 1;
    if (this.several) {
      this.add.uniforms.from!.value = this.picture.texture;
      this.add.uniforms.share!.value = 1;
      this.add.blending = CustomBlending;
      renderer.setRenderTarget(this.sum);
      this.quad.render(renderer);
    }
    renderer.setRenderTarget(null);
  }

  /** The light of all that was taken: a sum, premultiplied with its cover. */
  get light(): Texture {
    return this.several ? this.sum.texture : this.picture.texture;
  }

  /** Its mean, times a factor, for what asks for a picture of its own. */
  meanTarget(renderer: WebGLRenderer, factor: number): WebGLRenderTarget {
    const { width, height } = this.picture;
    if (this.scaled.width !== width || this.scaled.height !== height) this.scaled.setSize(width, height);
    this.add.uniforms.from!.value = this.light;
    this.add.uniforms.share!.value = factor / Math.max(1, this.taken);
    this.add.blending = NoBlending;
    renderer.setRenderTarget(this.scaled);
    this.quad.render(renderer);
    renderer.setRenderTarget(null);
    return this.scaled;
  }

  dispose(): void {
    for (const part of [this.picture, this.sum, this.scaled, this.add, this.quad]) part.dispose();
  }
}
