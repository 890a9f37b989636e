import {
  BufferAttribute,
  BufferGeometry,
  Color,
  DirectionalLight,
  Group,
  HemisphereLight,
  Matrix4,
  Mesh,
  MeshStandardMaterial,
  PerspectiveCamera,
  PointLight,
  Scene,
  Vector3,
  type Object3D,
  type Texture,
  type WebGLRenderer,
} from 'three';
import type { Part, ShapeKind } from '../core/document';
import { COPY_LOOK_SIZE, MATRIX_SIZE, type Evaluator, type Instances, type Plan } from '../core/evaluate';
import { buildMesh, sizePaths } from '../core/shape';
import { createEnvironment } from './environment';

/** Width in millimetres of the picture that a camera's lens is told for. */
export const FILM_WIDTH = 36;
const NEAR = 0.05;
const FAR = 2000;
const SHADOW_SIZE = 2048;
/** What metal mirrors of the surroundings without any sky light, and for each unit of it. */
const UNLIT_SHARE = 0.1;
const AMBIENT_SHARE = 0.45;

interface Drawn {
  readonly node: number;
  readonly object: Object3D;
  readonly refresh?: (evaluator: Evaluator) => void;
}

interface ShapeEntry {
  readonly kind: ShapeKind;
  key: string;
  geometry: BufferGeometry;
}

/** An evaluated shot as a three.js scene. `setPlan` after every change of the document, `update` for every frame. */
export class Picture {
  readonly scene = new Scene();
  private plan: Plan | null = null;
  private drawn: Drawn[] = [];
  private readonly shapes = new Map<string, ShapeEntry>();
  private readonly looks = new Map<string, MeshStandardMaterial>();
  private readonly ownLooks = new Map<string, MeshStandardMaterial>();
  private readonly objects = new Map<string, Object3D>();
  private readonly camera = new PerspectiveCamera();
  private readonly matrix = new Matrix4();
  private environment: Texture | null = null;

  constructor() {
    this.scene.matrixWorldAutoUpdate = false;
  }

  /** Makes objects for the parts of a plan; geometry that has not changed is kept. */
  setPlan(plan: Plan): void {
    this.plan = plan;
    this.scene.clear();
    this.drawn = [];
    this.objects.clear();
    this.forgetUnused(plan);
    plan.nodes.forEach((id, node) => {
      const part = plan.shot.parts[id]!;
      const drawn = this.make(id, part, node);
      if (!drawn) return;
      drawn.object.matrixAutoUpdate = false;
      drawn.object.matrixWorldAutoUpdate = false;
      drawn.object.userData.part = id;
      this.objects.set(id, drawn.object);
      this.drawn.push(drawn);
      this.scene.add(drawn.object);
    });
  }

  private forgetUnused(plan: Plan): void {
    for (const [id, entry] of this.shapes)
      if (plan.shot.shapes[id]?.kind !== entry.kind) {
        entry.geometry.dispose();
        this.shapes.delete(id);
      }
    for (const [id, material] of this.looks)
      if (!plan.shot.looks[id]) {
        material.dispose();
        this.looks.delete(id);
      }
    for (const [id, material] of this.ownLooks)
      if (!plan.shot.parts[id]) {
        material.dispose();
        this.ownLooks.delete(id);
      }
  }

  private make(id: string, part: Part, node: number): Drawn | null {
    switch (part.kind) {
      case 'solid':
        return this.makeSolid(id, part, node);
      case 'sun':
        return makeSun(id, node, this.scene);
      case 'sky':
        return makeSky(id, node, this.scene);
      case 'point':
        return makePoint(id, node);
      case 'hub':
      case 'repeat':
      case 'camera':
        return null;
    }
  }

  private makeSolid(id: string, part: Part, node: number): Drawn | null {
    const { shape, look } = part;
    const kind = shape === null ? undefined : this.plan!.shot.shapes[shape]?.kind;
    if (shape === null || look === null || !kind) return null;
    let entry = this.shapes.get(shape);
    if (!entry) {
      entry = { kind, key: '', geometry: new BufferGeometry() };
      this.shapes.set(shape, entry);
    }
    // A part that can fade has a material of its own, since its opacity is not its look's.
    const fades = [part.values, part.tracks, part.links].some((record) => 'opacity' in record);
    const materials = fades ? this.ownLooks : this.looks;
    const key = fades ? id : look;
    let material = materials.get(key);
    if (!material) {
      material = new MeshStandardMaterial();
      materials.set(key, material);
    }
    const solid = material;
    const refreshLook = (evaluator: Evaluator): void => {
      if (!fades) return;
      solid.opacity = evaluator.number(`${id}/opacity`);
      solid.transparent = solid.opacity < 1;
      fillLook(solid, look, evaluator);
    };
    if (this.plan!.nodeWithin[node]! >= 0) {
      const copies = new Copies(solid, id);
      return {
        node,
        object: copies.group,
        refresh: (evaluator) => {
          refreshLook(evaluator);
          const own = fades ? evaluator.number(`${id}/opacity`) : 1;
          copies.refresh(evaluator.copiesOf(id)!, this.geometryOf(shape, evaluator), own);
        },
      };
    }
    const mesh = makeMesh(entry.geometry, material);
    return {
      node,
      object: mesh,
      refresh: (evaluator) => {
        mesh.geometry = this.geometryOf(shape, evaluator);
        refreshLook(evaluator);
      },
    };
  }

  private geometryOf(shape: string, evaluator: Evaluator): BufferGeometry {
    const entry = this.shapes.get(shape)!;
    const key = sizePaths(entry.kind)
      .map((path) => evaluator.number(`${shape}/${path}`))
      .join(' ');
    if (entry.key === key) return entry.geometry;
    const mesh = buildMesh(entry.kind, (path) => evaluator.number(`${shape}/${path}`));
    entry.geometry.dispose();
    entry.geometry = new BufferGeometry();
    entry.geometry.setAttribute('position', new BufferAttribute(mesh.positions, 3));
    entry.geometry.setAttribute('normal', new BufferAttribute(mesh.normals, 3));
    entry.geometry.setIndex(new BufferAttribute(mesh.indices, 1));
    entry.key = key;
    return entry.geometry;
  }

  /** Brings everything to the frame that the evaluator has worked out. */
  update(evaluator: Evaluator): void {
    this.scene.environmentIntensity = UNLIT_SHARE;
    for (const [id, material] of this.looks) fillLook(material, id, evaluator);
    for (const { node, object, refresh } of this.drawn) {
      object.visible = evaluator.shown[node] === 1;
      setMatrix(this.matrix, evaluator.world, node * MATRIX_SIZE);
      object.matrix.copy(this.matrix);
      object.matrixWorld.copy(this.matrix);
      refresh?.(evaluator);
    }
    this.aimLights();
  }

  private aimLights(): void {
    const centre = new Vector3();
    let radius = 1;
    for (const mesh of this.pickable()) {
      if (!mesh.geometry.boundingSphere) mesh.geometry.computeBoundingSphere();
      const sphere = mesh.geometry.boundingSphere!.clone().applyMatrix4(mesh.matrixWorld);
      radius = Math.max(radius, sphere.center.length() + sphere.radius);
    }
    // Steps of a quarter keep the shadow's grain still while things move about.
    radius = 1.25 ** Math.ceil(Math.log(radius) / Math.log(1.25));
    for (const { object } of this.drawn)
      if (object instanceof DirectionalLight) aimSun(object, centre, radius);
  }

  /** Camera of the shot at the evaluated frame for a picture of the given proportions; `null` when there is none. */
  shotCamera(evaluator: Evaluator, aspect: number): PerspectiveCamera | null {
    const id = evaluator.plan.shot.setup.camera;
    const node = id === null ? undefined : evaluator.plan.nodeOf.get(id);
    if (id === null || node === undefined) return null;
    const { camera } = this;
    setMatrix(this.matrix, evaluator.world, node * MATRIX_SIZE);
    // A camera's own size does not enlarge the picture.
    this.matrix.decompose(camera.position, camera.quaternion, camera.scale);
    camera.scale.set(1, 1, 1);
    camera.filmGauge = FILM_WIDTH;
    camera.aspect = aspect;
    camera.near = NEAR;
    camera.far = FAR;
    camera.setFocalLength(evaluator.number(`${id}/lens`));
    camera.updateMatrixWorld(true);
    return camera;
  }

  /** Draws the scene as a camera sees it, over what is there; clear first. */
  draw(renderer: WebGLRenderer, camera: PerspectiveCamera | Parameters<WebGLRenderer['render']>[1]): void {
    this.environment ??= createEnvironment(renderer);
    this.scene.environment = this.environment;
    renderer.toneMappingExposure = this.plan?.shot.setup.exposure ?? 1;
    renderer.render(this.scene, camera);
  }

  /** Object of a part that has one. */
  objectOf(id: string): Object3D | null {
    return this.objects.get(id) ?? null;
  }

  /** Meshes of the shown solids, for picking. */
  pickable(): Mesh[] {
    return this.drawn
      .filter((entry) => entry.object.visible)
      .flatMap(({ object }) =>
        object instanceof Mesh ? [object] : object.children.filter((child) => child instanceof Mesh),
      )
      .filter((mesh) => mesh.visible) as Mesh[];
  }

  dispose(): void {
    for (const entry of this.shapes.values()) entry.geometry.dispose();
    for (const material of [...this.looks.values(), ...this.ownLooks.values()]) material.dispose();
    this.environment?.dispose();
    this.scene.clear();
  }
}

function makeMesh(geometry: BufferGeometry, material: MeshStandardMaterial): Mesh {
  const mesh = new Mesh(geometry, material);
  mesh.castShadow = true;
  mesh.receiveShadow = true;
  return mesh;
}

/** Look of a copy that differs in nothing from its look: opacity, glow, red, green, blue. */
const PLAIN_COPY = [1, 0, 1, 1, 1];

/** The meshes of one solid below a repeat; a copy whose look differs has a material of its own. */
class Copies {
  readonly group = new Group();
  private readonly meshes: Mesh[] = [];
  private readonly own: MeshStandardMaterial[] = [];

  constructor(
    private readonly shared: MeshStandardMaterial,
    private readonly part: string,
  ) {}

  refresh(instances: Instances, geometry: BufferGeometry, opacity: number): void {
    while (this.meshes.length < instances.count) {
      const mesh = makeMesh(geometry, this.shared);
      mesh.matrixAutoUpdate = false;
      mesh.matrixWorldAutoUpdate = false;
      mesh.userData.part = this.part;
      this.meshes.push(mesh);
      this.group.add(mesh);
    }
    this.meshes.forEach((mesh, i) => {
      mesh.visible = i < instances.count;
      if (!mesh.visible) return;
      mesh.geometry = geometry;
      setMatrix(mesh.matrixWorld, instances.matrices, i * MATRIX_SIZE);
      const look = instances.looks.subarray(i * COPY_LOOK_SIZE, (i + 1) * COPY_LOOK_SIZE);
      mesh.material = look.every((value, k) => value === PLAIN_COPY[k])
        ? this.shared
        : this.tinted(i, look, opacity);
    });
  }

  private tinted(index: number, look: Float64Array, opacity: number): MeshStandardMaterial {
    const material = (this.own[index] ??= this.shared.clone());
    const [share = 1, glow = 0, red = 1, green = 1, blue = 1] = look;
    material.color.setRGB(this.shared.color.r * red, this.shared.color.g * green, this.shared.color.b * blue);
    material.emissive.copy(material.color);
    material.emissiveIntensity = this.shared.emissiveIntensity + glow;
    material.metalness = this.shared.metalness;
    material.roughness = this.shared.roughness;
    material.opacity = opacity * share;
    material.transparent = material.opacity < 1;
    return material;
  }
}

/** Draws one frame of a shot for a film or the viewfinder: background, then everything. */
export function drawShot(
  renderer: WebGLRenderer,
  picture: Picture,
  evaluator: Evaluator,
  width: number,
  height: number,
  alpha: boolean,
): void {
  const [r, g, b] = evaluator.plan.shot.setup.background;
  renderer.setClearColor(new Color().setRGB(r, g, b), alpha ? 0 : 1);
  renderer.clear();
  const camera = picture.shotCamera(evaluator, width / height);
  if (camera) picture.draw(renderer, camera);
}

function setMatrix(out: Matrix4, world: Float64Array, at: number): void {
  const w = world;
  out.set(
    w[at]!,
    w[at + 1]!,
    w[at + 2]!,
    w[at + 3]!,
    w[at + 4]!,
    w[at + 5]!,
    w[at + 6]!,
    w[at + 7]!,
    w[at + 8]!,
    w[at + 9]!,
    w[at + 10]!,
    w[at + 11]!,
    0,
    0,
    0,
    1,
  );
}

function fillLook(material: MeshStandardMaterial, look: string, evaluator: Evaluator): void {
  material.color.setRGB(...evaluator.colour(`${look}/colour`));
  material.emissive.copy(material.color);
  material.emissiveIntensity = evaluator.number(`${look}/glow`);
  material.metalness = evaluator.number(`${look}/metallic`);
  material.roughness = evaluator.number(`${look}/roughness`);
}

function makeSun(id: string, node: number, scene: Scene): Drawn {
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
      light.intensity = evaluator.number(`${id}/strength`);
      light.color.setRGB(...evaluator.colour(`${id}/light`));
    },
  };
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

function makeSky(id: string, node: number, scene: Scene): Drawn {
  const light = new HemisphereLight();
  return {
    node,
    object: light,
    refresh: (evaluator) => {
      light.intensity = evaluator.number(`${id}/strength`);
      light.color.setRGB(...evaluator.colour(`${id}/light`));
      light.groundColor.setRGB(...evaluator.colour(`${id}/ground`));
      // Straight up whatever the part's own turn: a sky does not tip over.
      light.matrixWorld.makeTranslation(0, 1, 0);
      scene.environmentIntensity = light.intensity * AMBIENT_SHARE;
    },
  };
}

function makePoint(id: string, node: number): Drawn {
  const light = new PointLight();
  light.decay = 2;
  return {
    node,
    object: light,
    refresh: (evaluator) => {
      light.intensity = evaluator.number(`${id}/strength`);
      light.color.setRGB(...evaluator.colour(`${id}/light`));
      light.distance = evaluator.number(`${id}/reach`);
    },
  };
}
