import {
  BackSide,
  BoxGeometry,
  Color,
  Float32BufferAttribute,
  Mesh,
  MeshBasicMaterial,
  PMREMGenerator,
  Scene,
  SphereGeometry,
  type Texture,
  type WebGLRenderer,
} from 'three';

const ZENITH = new Color(0.55, 0.66, 0.85);
const HORIZON = new Color(0.95, 0.86, 0.74);
const GROUND = new Color(0.36, 0.3, 0.24);

const made = new WeakMap<WebGLRenderer, Texture>();

/** Surroundings that metal mirrors: a plain sky with one bright window, of our own making. One for each renderer. */
export function environmentOf(renderer: WebGLRenderer): Texture {
  let texture = made.get(renderer);
  if (!texture) made.set(renderer, (texture = createEnvironment(renderer)));
  return texture;
}

function createEnvironment(renderer: WebGLRenderer): Texture {
  const scene = new Scene();
  const sphere = new SphereGeometry(10, 32, 16);
  const positions = sphere.getAttribute('position');
  const colours: number[] = [];
  const colour = new Color();
  for (let i = 0; i < positions.count; i++) {
    const height = positions.getY(i) / 10;
    if (height >= 0) colour.lerpColors(HORIZON, ZENITH, Math.sqrt(height));
    else colour.lerpColors(HORIZON, GROUND, Math.min(1, -height * 4));
    colours.push(colour.r, colour.g, colour.b);
  }
  sphere.setAttribute('color', new Float32BufferAttribute(colours, 3));
  scene.add(new Mesh(sphere, new MeshBasicMaterial({ vertexColors: true, side: BackSide })));
  const window = new Mesh(new BoxGeometry(4, 3, 0.1), new MeshBasicMaterial({ color: new Color(6, 5.6, 5) }));
  window.position.set(5, 5, 5);
  window.lookAt(0, 0, 0);
  scene.add(window);
  const generator = new PMREMGenerator(renderer);
  const texture = generator.fromScene(scene, 0.04).texture;
  generator.dispose();
  return texture;
}
