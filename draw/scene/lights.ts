import {
  DirectionalLight,
  HemisphereLight,
  PointLight,
  RectAreaLight,
  SpotLight,
  Vector3,
  type Light,
  type Object3D,
  type Scene,
} from 'three';
import type { Evaluator } from '../../core/evaluate';

const SHADOW_SIZE = 2048;
/** What a sky light lends to what metal mirrors, for each unit of its strength. */
const AMBIENT_SHARE = 0.45;

/** A light of the scene and how it is brought to a frame. */
export interface DrawnLight {
  readonly node: number;
  readonly object: Object3D;
  readonly refresh: (evaluator: Evaluator) => void;
}

function shine(light: Light, id: string, evaluator: Evaluator): void {
  light.intensity = evaluator.number(`${id}/strength`);
  light.color.setRGB(...evaluator.colour(`${id}/light`));
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
    refresh: (evaluator) => {
      shine(light, id, evaluator);
    },
  };
}

/** A sun shines along its own -z from far away, wherever it stands. */
export function aimSun(light: DirectionalLight, centre: Vector3, radius: number): void {
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

export function makeSky(id: string, node: number, scene: Scene): DrawnLight {
  const light = new HemisphereLight();
  return {
    node,
    object: light,
    refresh: (evaluator) => {
      shine(light, id, evaluator);
      light.groundColor.setRGB(...evaluator.colour(`${id}/ground`));
      // Straight up whatever the part's own turn: a sky does not tip over.
      light.matrixWorld.makeTranslation(0, 1, 0);
      scene.environmentIntensity = light.intensity * AMBIENT_SHARE;
    },
  };
}

export function makePoint(id: string, node: number): DrawnLight {
  const light = new PointLight();
  light.decay = 2;
  return {
    node,
    object: light,
    refresh: (evaluator) => {
      shine(light, id, evaluator);
      light.distance = evaluator.number(`${id}/reach`);
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
    refresh: (evaluator) => {
      shine(light, id, evaluator);
      light.distance = evaluator.number(`${id}/reach`);
      light.angle = (evaluator.number(`${id}/cone`) * Math.PI) / 360;
      light.penumbra = evaluator.number(`${id}/softness`);
      const ahead = new Vector3(0, 0, -1).applyMatrix4(light.matrixWorld);
      light.target.matrixWorld.setPosition(ahead);
    },
  };
}

/** A shining panel; it shines along its own -z and throws no shadow. */
export function makeArea(id: string, node: number): DrawnLight {
  const light = new RectAreaLight();
  return {
    node,
    object: light,
    refresh: (evaluator) => {
      shine(light, id, evaluator);
      light.width = evaluator.number(`${id}/width`);
      light.height = evaluator.number(`${id}/height`);
    },
  };
}
