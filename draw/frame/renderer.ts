import { RectAreaLightUniformsLib } from 'three/addons/lights/RectAreaLightUniformsLib.js';
import {
  ACESFilmicToneMapping,
  AgXToneMapping,
  LinearToneMapping,
  NeutralToneMapping,
  PCFShadowMap,
  SRGBColorSpace,
  WebGLRenderer,
  type ToneMapping,
} from 'three';
import type { Tones } from '../../core/document';

export interface RendererOptions {
  /** Leave the background empty, so that the picture has transparency. */
  readonly alpha: boolean;
  readonly antialias?: boolean;
  /** Keep the drawn picture readable after the frame. */
  readonly preserve?: boolean;
}

/**
 * The one way in which pictures are made, in the view and on render machines: 4x multisampling, neutral tone
 * mapping (Khronos PBR Neutral), sRGB out.
 */
export function createRenderer(
  canvas: HTMLCanvasElement | OffscreenCanvas,
  options: RendererOptions,
): WebGLRenderer {
  const renderer = new WebGLRenderer({
    canvas,
    alpha: options.alpha,
    antialias: options.antialias ?? true,
    preserveDrawingBuffer: options.preserve ?? false,
  });
  renderer.toneMapping = NeutralToneMapping;
  renderer.outputColorSpace = SRGBColorSpace;
  renderer.shadowMap.enabled = true;
  renderer.shadowMap.type = PCFShadowMap;
  renderer.autoClear = false;
  // Asking each shader for its errors would hold the page up until it is compiled.
  renderer.debug.checkShaderErrors = false;
  RectAreaLightUniformsLib.init();
  return renderer;
}

const TONES: Record<Tones, ToneMapping> = {
  none: LinearToneMapping,
  aces: ACESFilmicToneMapping,
  agx: AgXToneMapping,
  neutral: NeutralToneMapping,
};

/** Chooses how what is drawn next becomes colours of the screen. */
export function setTones(renderer: WebGLRenderer, tones: Tones): void {
  renderer.toneMapping = TONES[tones];
}

/** Name of the drawing library in use, e.g. to tell a graphics card from software drawing. */
export function drawingLibrary(renderer: WebGLRenderer): string {
  const gl = renderer.getContext();
  const info = gl.getExtension('WEBGL_debug_renderer_info');
  return String(gl.getParameter(info ? info.UNMASKED_RENDERER_WEBGL : gl.RENDERER));
}

/** Most pixels along a side of a picture that the card draws at once. */
export function largestSide(renderer: WebGLRenderer): number {
  const gl = renderer.getContext();
  const viewport = gl.getParameter(gl.MAX_VIEWPORT_DIMS) as Int32Array;
  const numbers = [gl.MAX_TEXTURE_SIZE, gl.MAX_RENDERBUFFER_SIZE].map((name) =>
    Number(gl.getParameter(name)),
  );
  return Math.min(...numbers, ...viewport);
}
