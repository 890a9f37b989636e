import {
  DirectionalLight,
  HemisphereLight,
  PointLight,
  RectAreaLight,
  ShaderChunk,
  Sphere,
  SpotLight,
  Vector3,
  type Light,
  type Mesh,
  type Object3D,
  type Scene,
} from 'three';
import { lampLight, type Evaluator } from '../../core/evaluate';
import type { SubFrame } from '../../core/film';

const SHADOW_SIZE = 2048;
/** What a sky light lends to what metal mirrors, for each unit of its strength. */
const AMBIENT_SHARE = 0.45;

/** A light of the scene and how it is brought to a frame. */
export interface DrawnLight {
  readonly node: number;
  readonly object: Object3D;
  /** @param sub the picture that is taken of several; `null` where there is one alone */
  readonly refresh: (evaluator: Evaluator, sub: SubFrame | null) => void;
  /** A lamp that stands in for part of it while several pictures are taken. */
  readonly beam?: DirectionalLight;
  /** A lamp that takes away what is hidden of it while several pictures are taken. */
  readonly shade?: SpotLight;
}

const DEGREE = Math.PI / 180;

function shine(light: Light, id: string, evaluator: Evaluator): void {
  const { strength, colour } = lampLight(evaluator, id);
  light.intensity = strength;
  light.color.setRGB(...colour);
}

export function makeSun(id: string, node: number, scene: Scene): DrawnLight {
  const light = new DirectionalLight();
  light.castShadow = true;
  light.shadow.mapSize.set(SHADOW_SIZE, SHADOW_SIZE);
  light.shadow.normalBias = 0.02;
  light.shadow.bias = -0.0004;
  light.target.matrixAutoUpdate = false;
  light.target.matrixWorldAutoUpdate = false;
  scene.add(light.target);
  return {
    node,
    object: light,
    refresh: (evaluator, sub) => {
      shine(light, id, evaluator);
      light.castShadow = throws(id, evaluator);
      const size = evaluator.number(`${id}/size`);
      if (!sub || size === 0) return;
      // Its rays come from a disc in the sky: turned off its middle by up to half its size.
      const [x, y] = sub.lamp(node);
      const wide = Math.tan((size * DEGREE) / 2);
      const along = new Vector3(x * wide, y * wide, -1).transformDirection(light.matrixWorld);
      light.matrixWorld.lookAt(new Vector3(), along, upBeside(along));
    },
  };
}

/** An axis that does not lie along a direction. */
function upBeside(direction: Vector3): Vector3 {
  return Math.abs(direction.y) > 0.99 ? new Vector3(1, 0, 0) : new Vector3(0, 1, 0);
}

const throws = (id: string, evaluator: Evaluator): boolean => evaluator.number(`${id}/shadow`) === 1;

/** Moves a lamp to a point within its globe. */
function withinGlobe(light: Light, id: string, node: number, evaluator: Evaluator, sub: SubFrame): void {
  const radius = evaluator.number(`${id}/size`) / 2;
  if (radius === 0) return;
  const [x, y] = sub.lamp(node);
  const [z] = sub.lamp(node + 4099);
  const deep = z * Math.sqrt(Math.max(0, 1 - x * x - y * y));
  const at = new Vector3(x * radius, y * radius, deep * radius).applyMatrix4(light.matrixWorld);
  light.matrixWorld.setPosition(at);
}

/** A sun shines along its own -z from far away, wherever it stands. */
function aimSun(light: DirectionalLight, centre: Vector3, radius: number): void {
  const direction = new Vector3(0, 0, -1).transformDirection(light.matrixWorld);
  light.matrixWorld.setPosition(centre.clone().addScaledVector(direction, -2 * radius));
  light.target.matrixWorld.setPosition(centre);
  const shadow = light.shadow.camera;
  shadow.left = shadow.bottom = -radius;
  shadow.right = shadow.top = radius;
  shadow.near = 0.1;
  shadow.far = 4 * radius;
  shadow.updateProjectionMatrix();
}

const BALL = new Sphere();

/** Has the shadows of suns reach over all meshes. */
export function aimSuns(suns: readonly DirectionalLight[], meshes: readonly Mesh[]): void {
  const centre = new Vector3();
  let radius = 1;
  for (const mesh of meshes) {
    if (!mesh.geometry.boundingSphere) mesh.geometry.computeBoundingSphere();
    const sphere = BALL.copy(mesh.geometry.boundingSphere!).applyMatrix4(mesh.matrixWorld);
    if (sphere.radius >= 0) radius = Math.max(radius, sphere.center.length() + sphere.radius);
  }
  // Steps of a quarter keep the shadow's grain still while things move about.
  radius = 1.25 ** Math.ceil(Math.log(radius) / Math.log(1.25));
  for (const sun of suns) aimSun(sun, centre, radius);
}

/** Radius of shadow that marks a lamp whose light is not mirrored; of what is sampled round a point its sign says nothing. */
const DULL = -1;

/**
 * Lets a lamp light what is dull alone where a shadow of it is marked so: nothing mirrors it.
 * @param light the call that adds its light
 * @param shadow its shadow, in the program
 * @param guard whether it has one
 */
const dullWhereMarked = (light: string, shadow: string, guard: string): string => `
    #if ${guard}
    if ( ${shadow}.shadowRadius < 0.0 ) {
      vec3 mirrored = reflectedLight.directSpecular;
      #ifdef USE_CLEARCOAT
      vec3 coatMirrored = clearcoatSpecularDirect;
      #endif
      ${light}
      reflectedLight.directSpecular = mirrored;
      #ifdef USE_CLEARCOAT
      clearcoatSpecularDirect = coatMirrored;
      #endif
    } else
    #endif
    ${light}`;
const shadowed = (kind: string): string =>
  `defined( USE_SHADOWMAP ) && ( UNROLLED_LOOP_INDEX < NUM_${kind}_LIGHT_SHADOWS )`;

// A sky has no bright point: the beam that stands in for it lights what is dull.
ShaderChunk.lights_fragment_begin = ShaderChunk.lights_fragment_begin.replace(
  /(#if defined\( USE_SHADOWMAP \) && \( UNROLLED_LOOP_INDEX < NUM_DIR_LIGHT_SHADOWS \)[\s\S]*?)(RE_Direct\([^;]*;)/,
  `$1${dullWhereMarked('$2', 'directionalLightShadow', shadowed('DIR'))}`,
);

/** Evenly over the half globe, a beam of twice the strength lights a surface as the whole sky does. */
const BEAM_OF_SKY = 2;

export function makeSky(id: string, node: number, scene: Scene): DrawnLight {
  const light = new HemisphereLight();
  const beam = new DirectionalLight();
  beam.castShadow = true;
  beam.shadow.mapSize.set(SHADOW_SIZE / 2, SHADOW_SIZE / 2);
  beam.shadow.normalBias = 0.03;
  beam.shadow.bias = -0.0006;
  beam.shadow.radius = DULL;
  for (const object of [beam, beam.target]) {
    object.matrixAutoUpdate = false;
    object.matrixWorldAutoUpdate = false;
    scene.add(object);
  }
  beam.visible = false;
  return {
    node,
    object: light,
    beam,
    refresh: (evaluator, sub) => {
      shine(light, id, evaluator);
      light.groundColor.setRGB(...evaluator.colour(`${id}/ground`));
      const contact = evaluator.number(`${id}/contact`);
      beam.visible = sub !== null && contact > 0 && light.visible && light.intensity > 0;
      if (beam.visible && sub) {
        beam.color.copy(light.color);
        beam.intensity = BEAM_OF_SKY * light.intensity * contact;
        light.color.multiplyScalar(1 - contact);
        const down = new Vector3(...sub.sky).negate();
        beam.matrixWorld.identity().lookAt(new Vector3(), down, upBeside(down));
      }
      // Straight up whatever the part's own turn: a sky does not tip over.
      light.matrixWorld.makeTranslation(0, 1, 0);
      scene.environmentIntensity = light.intensity * AMBIENT_SHARE;
    },
  };
}

export function makePoint(id: string, node: number): DrawnLight {
  const light = new PointLight();
  light.decay = 2;
  light.shadow.mapSize.set(SHADOW_SIZE / 4, SHADOW_SIZE / 4);
  light.shadow.normalBias = 0.02;
  light.shadow.bias = -0.002;
  return {
    node,
    object: light,
    refresh: (evaluator, sub) => {
      shine(light, id, evaluator);
      light.distance = evaluator.number(`${id}/reach`);
      light.castShadow = throws(id, evaluator);
      if (sub) withinGlobe(light, id, node, evaluator, sub);
    },
  };
}

/** A spot shines along its own -z. */
export function makeSpot(id: string, node: number, scene: Scene): DrawnLight {
  const light = new SpotLight();
  light.decay = 2;
  light.castShadow = true;
  light.shadow.mapSize.set(SHADOW_SIZE / 2, SHADOW_SIZE / 2);
  light.shadow.normalBias = 0.02;
  light.shadow.bias = -0.0004;
  light.target.matrixAutoUpdate = false;
  light.target.matrixWorldAutoUpdate = false;
  scene.add(light.target);
  return {
    node,
    object: light,
    refresh: (evaluator, sub) => {
      shine(light, id, evaluator);
      light.distance = evaluator.number(`${id}/reach`);
      light.castShadow = throws(id, evaluator);
      if (sub) withinGlobe(light, id, node, evaluator, sub);
      light.angle = (evaluator.number(`${id}/cone`) * Math.PI) / 360;
      light.penumbra = evaluator.number(`${id}/softness`);
      const ahead = new Vector3(0, 0, -1).applyMatrix4(light.matrixWorld);
      light.target.matrixWorld.setPosition(ahead);
    },
  };
}

/** Half of the cone in which a panel throws shadows: 93 % of its light goes there, more would spread the shadow map thin. */
const SHADED_CONE = (75 * Math.PI) / 180;

// A point of a panel does not shine: where something hides it, it takes away the share of the panel's light that comes from it.
// Light leaves a panel by Lambert's cosine law.
ShaderChunk.lights_fragment_begin = ShaderChunk.lights_fragment_begin.replace(
  /(spotLightShadow = spotLightShadows\[ i \];\s*directLight\.color \*= )([^;]*)(;\s*#endif\s*)(RE_Direct\([^;]*;)/,
  `$1 spotLightShadow.shadowRadius < 0.0
      ? max( dot( directLight.direction, spotLight.direction ), 0.0 ) * ( ( $2 ) - 1.0 )
      : ( $2 )$3${dullWhereMarked('$4', 'spotLightShadow', shadowed('SPOT'))}`,
);

/** A shining panel; it shines along its own -z. In each of several pictures another point of it throws its shadow. */
export function makeArea(id: string, node: number, scene: Scene): DrawnLight {
  const light = new RectAreaLight();
  const shade = new SpotLight();
  shade.decay = 2;
  shade.angle = SHADED_CONE;
  shade.penumbra = 1e-3;
  shade.castShadow = true;
  shade.shadow.mapSize.set(SHADOW_SIZE / 2, SHADOW_SIZE / 2);
  shade.shadow.normalBias = 0.02;
  shade.shadow.bias = -0.0006;
  shade.shadow.radius = DULL;
  shade.visible = false;
  for (const object of [shade, shade.target]) {
    object.matrixAutoUpdate = false;
    object.matrixWorldAutoUpdate = false;
    scene.add(object);
  }
  return {
    node,
    object: light,
    shade,
    refresh: (evaluator, sub) => {
      shine(light, id, evaluator);
      light.width = evaluator.number(`${id}/width`);
      light.height = evaluator.number(`${id}/height`);
      shade.visible = sub !== null && light.visible && light.intensity > 0 && throws(id, evaluator);
      if (!shade.visible || !sub) return;
      shade.color.copy(light.color);
      shade.intensity = light.intensity * light.width * light.height;
      const [x, y] = sub.panel(node);
      const at = new Vector3((x - 0.5) * light.width, (y - 0.5) * light.height, 0);
      shade.matrixWorld.makeTranslation(at.applyMatrix4(light.matrixWorld));
      const ahead = new Vector3(0, 0, -1).transformDirection(light.matrixWorld).add(at);
      shade.target.matrixWorld.makeTranslation(ahead);
    },
  };
}
