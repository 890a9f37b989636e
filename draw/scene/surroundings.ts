import {
  BackSide,
  BoxGeometry,
  Color,
  CubeCamera,
  Float32BufferAttribute,
  HalfFloatType,
  Mesh,
  MeshBasicMaterial,
  PMREMGenerator,
  Scene,
  SphereGeometry,
  WebGLCubeRenderTarget,
  type Texture,
  type WebGLRenderer,
} from 'three';
import type { SurroundingsKind } from '../../core/document';

/** Light of a sky by the height of a point on it: -1 straight down, 1 straight up. Linear. */
type Dome = (height: number, colour: Color) => unknown;

/** A shining or dark panel of the surroundings: where it stands, how large it is, its light. */
interface Panel {
  readonly at: readonly [number, number, number];
  readonly size: readonly [number, number];
  readonly light: readonly [number, number, number];
}

const mix =
  (from: Color, to: Color) =>
  (share: number, colour: Color): Color =>
    colour.lerpColors(from, to, Math.min(1, Math.max(0, share)));

/** Surroundings of our own making: a dome and what stands in it. */
const MADE: Record<SurroundingsKind, { readonly dome: Dome; readonly panels: readonly Panel[] }> = {
  // A plain sky with one bright window.
  plain: {
    dome: (height, colour) => {
      if (height >= 0)
        mix(new Color(0.95, 0.86, 0.74), new Color(0.55, 0.66, 0.85))(Math.sqrt(height), colour);
      else mix(new Color(0.95, 0.86, 0.74), new Color(0.36, 0.3, 0.24))(-height * 4, colour);
    },
    panels: [{ at: [5, 5, 5], size: [4, 3], light: [6, 5.6, 5] }],
  },
  // Dim walls of wood, tall windows on one side, lamps under the roof.
  workshop: {
    dome: (height, colour) => {
      if (height >= 0) mix(new Color(0.2, 0.16, 0.12), new Color(0.07, 0.06, 0.055))(height, colour);
      else mix(new Color(0.2, 0.16, 0.12), new Color(0.16, 0.13, 0.1))(-height * 2, colour);
    },
    panels: [
      ...[-6, -2, 2, 6].map((z): Panel => ({ at: [-8, 2.5, z], size: [2.4, 4.5], light: [5.2, 6, 7] })),
      ...[-4, 0, 4].map((z): Panel => ({ at: [2.5, 7, z], size: [3.2, 0.5], light: [9, 7, 4.6] })),
      { at: [8, -0.5, 0], size: [7, 3], light: [0.34, 0.26, 0.18] },
    ],
  },
  // Deep blue above an orange rim over the water, and the lamps of the quay.
  quay: {
    dome: (height, colour) => {
      const rim = new Color(1.1, 0.46, 0.16);
      if (height >= 0) {
        mix(rim, new Color(0.16, 0.2, 0.4))(Math.min(1, height * 3.2), colour);
        if (height > 0.25) colour.lerp(new Color(0.035, 0.06, 0.15), Math.min(1, (height - 0.25) * 1.6));
      } else mix(new Color(0.3, 0.15, 0.1), new Color(0.02, 0.03, 0.05))(-height * 4, colour);
    },
    panels: Array.from({ length: 9 }, (_, i): Panel => {
      const angle = 0.5 + (i / 9) * Math.PI * 2;
      return {
        at: [9 * Math.cos(angle), 1.4 + 0.3 * (i % 3), 9 * Math.sin(angle)],
        size: [0.35, 0.35],
        light: [26, 17, 8],
      };
    }),
  },
  // The same light from everywhere.
  white: { dome: (_, colour) => colour.set(1, 1, 1), panels: [] },
  // White cloth all round with a bright roof and a grey floor.
  tent: {
    dome: (height, colour) => {
      if (height >= 0) mix(new Color(0.78, 0.78, 0.78), new Color(1.15, 1.15, 1.15))(height, colour);
      else mix(new Color(0.78, 0.78, 0.78), new Color(0.5, 0.5, 0.5))(-height * 3, colour);
    },
    panels: [
      { at: [0, 8, 0], size: [7, 7], light: [2.2, 2.2, 2.15] },
      { at: [-8, 2, 2], size: [4, 5], light: [1.7, 1.7, 1.7] },
    ],
  },
};

function sceneOf(kind: SurroundingsKind): Scene {
  const { dome, panels } = MADE[kind];
  const scene = new Scene();
  const sphere = new SphereGeometry(10, 64, 64);
  const positions = sphere.getAttribute('position');
  const colours: number[] = [];
  const colour = new Color();
  for (let i = 0; i < positions.count; i++) {
    dome(positions.getY(i) / 10, colour);
    colours.push(colour.r, colour.g, colour.b);
  }
  sphere.setAttribute('color', new Float32BufferAttribute(colours, 3));
  scene.add(new Mesh(sphere, new MeshBasicMaterial({ vertexColors: true, side: BackSide })));
  for (const { at, size, light } of panels) {
    const panel = new Mesh(
      new BoxGeometry(size[0], size[1], 0.1),
      new MeshBasicMaterial({ color: new Color(...light) }),
    );
    panel.position.set(...at);
    panel.lookAt(0, 0, 0);
    scene.add(panel);
  }
  return scene;
}

interface Made {
  /** What is mirrored, for every roughness. */
  readonly mirrored: Texture;
  /** What is seen behind everything; made when it is asked for. */
  seen: Texture | null;
}

/** Radius by which the surroundings are blurred before they are mirrored, so that no panel has a hard edge, radians. */
const SOFTENED = 0.04;

/** Pixels along each side of the six pictures that are mirrored: softened so far they hardly gain from twice as many. */
export const MIRRORED_SIDE = 128;

/**
 * Makes the pictures for mirrors of every roughness at a side of our choice. The generator takes no less than 256, and
 * where a processor draws, that is the better part of a second each time a picture is set up.
 */
class MirrorGenerator extends PMREMGenerator {
  declare protected _cubeSize: number;

  protected _setSize(): void {
    this._cubeSize = MIRRORED_SIDE;
  }
}

/** @returns the surroundings prefiltered for mirrors of every roughness, rougher by each of the levels of the texture */
export function mirroredOf(renderer: WebGLRenderer, kind: SurroundingsKind): Texture {
  const generator = new MirrorGenerator(renderer);
  const { texture } = generator.fromScene(sceneOf(kind), SOFTENED);
  generator.dispose();
  return texture;
}

const made = new WeakMap<WebGLRenderer, Map<SurroundingsKind, Made>>();

function entryOf(renderer: WebGLRenderer, kind: SurroundingsKind): Made {
  let kinds = made.get(renderer);
  if (!kinds) made.set(renderer, (kinds = new Map<SurroundingsKind, Made>()));
  let entry = kinds.get(kind);
  if (!entry) {
    entry = { mirrored: mirroredOf(renderer, kind), seen: null };
    kinds.set(kind, entry);
  }
  return entry;
}

/** Surroundings as they are mirrored. One for each renderer. */
export function mirroredSurroundings(renderer: WebGLRenderer, kind: SurroundingsKind): Texture {
  return entryOf(renderer, kind).mirrored;
}

const SEEN_SIDE = 512;

/** Surroundings as they are seen behind everything. */
export function seenSurroundings(renderer: WebGLRenderer, kind: SurroundingsKind): Texture {
  const entry = entryOf(renderer, kind);
  if (!entry.seen) {
    const target = new WebGLCubeRenderTarget(SEEN_SIDE, { type: HalfFloatType });
    const { autoClear } = renderer;
    renderer.autoClear = true;
    new CubeCamera(0.1, 50, target).update(renderer, sceneOf(kind));
    renderer.autoClear = autoClear;
    entry.seen = target.texture;
  }
  return entry.seen;
}
