import type { PerspectiveCamera } from 'three';
import {
  DirectionalLight,
  FogExp2,
  Light,
  Matrix4,
  Mesh,
  Object3D,
  PointLight,
  Scene,
  SpotLight,
  type BufferGeometry,
  type Camera,
  type OrthographicCamera,
  type WebGLRenderer,
} from 'three';
import { programPaths, type Part } from '../../core/document';
import { standingOf } from '../../core/edit';
import { MATRIX_SIZE, type Evaluator, type Plan } from '../../core/evaluate';
import type { SubFrame, Tile } from '../../core/film';
import { finenessFor, isRound } from '../../core/shape';
import { Assets } from './assets';
import { Batches } from './batches';
import { Copies, makeMesh } from './copies';
import { backdropOf, type BackdropNow } from './backdrop';
import { DrawnCallout, Overlay, seenAt, type CalloutBox } from './callouts';
import { ShotCameras, type CameraOf } from './cameras';
import type { Audience, Drawn } from './drawn';
import { DropShadow } from './drop-shadow';
import { Geometries } from './geometries';
import { InnerPictures } from './inner-pictures';
import { aimSuns, makeArea, makePoint, makeSky, makeSpot, makeSun } from './lights';
import { LookMaterial } from './looks';
import { setMatrix } from './matrix';
import { pixelsOfMetre } from './size-seen';
import { mirroredSurroundings, seenSurroundings } from './surroundings';

/** What metal mirrors of the surroundings without any sky light. */
const UNLIT_SHARE = 0.1;

/** Plans of the shots that can be shown in others, by their ids; `null` for those that are not known. */
export type InnerPlans = (shot: string) => Plan | null;

/** What a picture inside another one is drawn as. */
export interface DrawnWithin {
  /** Part of the outermost shot that all of it is taken for. */
  readonly as: string | null;
  /** Shots that it lies in, itself with them. */
  readonly within: readonly string[];
}

/** What decides which objects a part is drawn with: when none of it changes, they are kept. */
function makeup(part: Part): string {
  return `${part.kind} ${part.shape} ${part.look} ${programPaths(part).length > 0}`;
}

/** An evaluated shot as a three.js scene. `setPlan` after every change of the document, `update` for every frame. */
export class Picture {
  readonly scene = new Scene();
  private plan: Plan | null = null;
  private drawn: Drawn[] = [];
  private drawnNodes: readonly string[] | null = null;
  private drawnAs: string[] = [];
  private readonly geometries: Geometries;
  private readonly looks = new Map<string, LookMaterial>();
  /** Materials of parts that can fade, since their opacity is not their look's. */
  private readonly ownLooks = new Map<string, LookMaterial>();
  private readonly objects = new Map<string, Object3D>();
  private readonly cameras = new ShotCameras();
  private readonly matrix = new Matrix4();
  private evaluator: Evaluator | null = null;
  private hidden: readonly Drawn[] = [];
  private shadowed = true;
  /** What stands behind everything at the frame last brought up. */
  backdrop: BackdropNow | null = null;

  private readonly batches = new Batches();
  private readonly overlay = new Overlay();
  private inner: InnerPlans = () => null;
  /** Share of its opacity with which all of it is drawn. */
  fade = 1;

  constructor(
    readonly assets: Assets = new Assets(() => Promise.reject(new Error('no files here'))),
    readonly drawnWithin: DrawnWithin = { as: null, within: [] },
  ) {
    this.scene.matrixWorldAutoUpdate = false;
    this.geometries = new Geometries(assets);
  }

  /** Takes the plans of the shots that are shown in this one. */
  setInner(inner: InnerPlans): void {
    this.inner = inner;
  }

  /** Takes another document; objects are made anew only where parts, shapes or looks came, went or were exchanged. */
  setPlan(plan: Plan): void {
    this.plan = plan;
    const { shot } = plan;
    const as = plan.nodes.map((id) => makeup(shot.parts[id]!));
    const same =
      this.drawnNodes !== null &&
      this.drawnNodes.length === plan.nodes.length &&
      plan.nodes.every((id, i) => id === this.drawnNodes![i] && as[i] === this.drawnAs[i]);
    this.geometries.keep(shot.shapes);
    for (const [id, look] of this.looks)
      if (!shot.looks[id]) {
        look.dispose();
        this.looks.delete(id);
      }
    if (same) return;
    this.drawnNodes = plan.nodes;
    this.drawnAs = as;
    this.batches.forget();
    this.scene.clear();
    for (const { inner, drop, callout } of this.drawn) {
      inner?.dispose();
      drop?.dispose();
      callout?.dispose();
    }
    this.drawn = [];
    this.objects.clear();
    for (const [id, look] of this.ownLooks)
      if (!shot.parts[id]) {
        look.dispose();
        this.ownLooks.delete(id);
      }
    plan.nodes.forEach((id, node) => {
      const made = this.make(id, shot.parts[id]!, node);
      if (!made) return;
      const { object } = made;
      object.matrixAutoUpdate = false;
      object.matrixWorldAutoUpdate = false;
      object.userData.part = this.drawnWithin.as ?? id;
      this.objects.set(id, object);
      this.drawn.push({ id, ...made });
      this.scene.add(object);
    });
  }

  private make(id: string, part: Part, node: number): Omit<Drawn, 'id'> | null {
    switch (part.kind) {
      case 'solid':
        return this.makeSolid(id, part, node);
      case 'sun':
        return makeSun(id, node, this.scene);
      case 'sky':
        return makeSky(id, node, this.scene);
      case 'point':
        return makePoint(id, node);
      case 'spot':
        return makeSpot(id, node, this.scene);
      case 'area':
        return makeArea(id, node, this.scene);
      case 'shot':
        return this.makeInner(id, node);
      case 'callout':
        return this.makeCallout(id, node);
      case 'hub':
      case 'repeat':
      case 'camera':
      case 'backdrop':
        return null;
    }
  }

  private makeCallout(id: string, node: number): Omit<Drawn, 'id'> {
    const callout = new DrawnCallout(id);
    return {
      node,
      // Carries where it points and whether it is seen.
      object: new Object3D(),
      callout,
      refresh: (evaluator) => callout.refresh(evaluator, this.plan!.shot.parts[id]!.callout!),
    };
  }

  private makeInner(id: string, node: number): Omit<Drawn, 'id'> {
    const { as, within } = this.drawnWithin;
    const inner = new InnerPictures((shot) => {
      const picture = new Picture(this.assets, { as: as ?? id, within: [...within, shot] });
      picture.setInner((other) => this.inner(other));
      return picture;
    });
    const copied = this.plan!.nodeWithin[node]! >= 0;
    return {
      node,
      object: inner.group,
      inner,
      refresh: (evaluator) => {
        const { inset } = this.plan!.shot.parts[id]!;
        const plan = inset && !within.includes(inset.shot) ? this.inner(inset.shot) : null;
        inner.refresh(evaluator, plan && { inset: inset!, plan }, {
          places: copied ? evaluator.copiesOf(id) : null,
          own: inner.group.matrixWorld,
          fade: this.fade * evaluator.number(`${id}/opacity`),
        });
      },
    };
  }

  private makeSolid(id: string, part: Part, node: number): Omit<Drawn, 'id'> | null {
    const { shape, look } = part;
    const form = shape === null ? undefined : this.plan!.shot.shapes[shape];
    if (shape === null || look === null || !form) return null;
    const box = form.kind === 'box';
    const fades = makeup(part).endsWith('true');
    const own = fades ? this.ownLooks : this.looks;
    const key = fades ? id : look;
    let found = own.get(key);
    if (!found) {
      found = new LookMaterial();
      own.set(key, found);
    }
    const material = found;
    const opacity = (evaluator: Evaluator): number =>
      this.fade * (fades ? evaluator.number(`${id}/opacity`) : 1);
    const refreshLook = (evaluator: Evaluator): void => {
      if (fades)
        material.refresh(look, this.plan!.shot.looks[look]!, evaluator, this.assets, opacity(evaluator));
    };
    const geometry = (evaluator: Evaluator): BufferGeometry =>
      this.geometries.of(shape, this.plan!.shot.shapes[shape]!, evaluator);
    if (this.plan!.nodeWithin[node]! >= 0) {
      const copies = new Copies(material, box, this.drawnWithin.as ?? id);
      return {
        node,
        object: copies.group,
        ...(isRound(form) ? { round: shape } : {}),
        refresh: (evaluator) => {
          refreshLook(evaluator);
          copies.refresh(evaluator.copiesOf(id)!, geometry(evaluator), this.plan!.shot.looks[look]!);
        },
      };
    }
    const mesh = makeMesh();
    const drop = form.kind === 'plane' ? new DropShadow() : null;
    // Hidden with it.
    if (drop) mesh.add(drop.mesh);
    return {
      node,
      object: mesh,
      ...(drop ? { drop } : {}),
      ...(isRound(form) ? { round: shape } : {}),
      refresh: (evaluator) => {
        refreshLook(evaluator);
        mesh.geometry = geometry(evaluator);
        mesh.material = material.get(box);
        mesh.castShadow = material.throws;
        mesh.receiveShadow = material.takes;
        if (!drop) return;
        drop.mesh.matrixWorld.copy(mesh.matrixWorld);
        drop.refresh({ shape, look }, evaluator, material);
      },
    };
  }

  /** Whether lights throw shadows; without them a picture is drawn faster. */
  throwShadows(on: boolean): void {
    this.shadowed = on;
  }

  /**
   * Brings everything to the frame that the evaluator has worked out.
   * @param sub which of several pictures of the frame it is for; lamps of some size stand elsewhere in each
   */
  update(evaluator: Evaluator, sub: SubFrame | null = null): void {
    this.evaluator = evaluator;
    this.hidden = [];
    this.geometries.begin();
    this.scene.environmentIntensity = UNLIT_SHARE;
    this.backdrop = backdropOf(evaluator, this.assets, this);
    const { looks } = this.plan!.shot;
    for (const [id, material] of this.looks)
      material.refresh(id, looks[id]!, evaluator, this.assets, this.fade);
    for (const { node, object, shade, refresh } of this.drawn) {
      object.visible = evaluator.shown[node] === 1;
      setMatrix(this.matrix, evaluator.world, node * MATRIX_SIZE);
      object.matrix.copy(this.matrix);
      object.matrixWorld.copy(this.matrix);
      refresh?.(evaluator, sub);
      if (!this.shadowed && object instanceof Light) object.castShadow = false;
      if (!this.shadowed && shade) shade.visible = false;
    }
    this.scene.environmentIntensity = this.backdrop.mirrored ?? this.scene.environmentIntensity;
    this.scene.environmentRotation.y = (this.backdrop.turn * Math.PI) / 180;
    this.aimLights();
  }

  /** Whether the shadows differ from one of several pictures of a frame to the next. */
  get softLights(): boolean {
    const { evaluator } = this;
    if (!evaluator) return false;
    return this.drawn.some(({ id, object, beam, shade, inner }) => {
      if (inner) return inner.softLights;
      if (!object.visible) return false;
      if (beam) return evaluator.number(`${id}/contact`) > 0;
      if (shade) return evaluator.number(`${id}/shadow`) === 1;
      const sized =
        object instanceof DirectionalLight || object instanceof SpotLight || object instanceof PointLight;
      return sized && evaluator.number(`${id}/size`) > 0;
    });
  }

  /** Whether light is bent by something that is shown. */
  get hasGlass(): boolean {
    return (
      [...this.looks.values(), ...this.ownLooks.values()].some((look) => look.glass) ||
      this.drawn.some(({ inner }) => inner?.hasGlass)
    );
  }

  /** Hides what the trays hide from an audience; holds until the next `update` or another audience. */
  showTo(audience: Audience): void {
    for (const { object } of this.hidden) object.visible = true;
    for (const { inner } of this.drawn) inner?.showTo(audience);
    const standing = standingOf(this.plan!.shot);
    const gone = audience === 'view' ? standing.away : standing.out;
    this.hidden =
      gone.size === 0 ? [] : this.drawn.filter(({ id, object }) => object.visible && gone.has(id));
    for (const { object } of this.hidden) object.visible = false;
  }

  private aimLights(): void {
    const suns = this.drawn.flatMap(({ object, beam }) => [
      ...(object instanceof DirectionalLight ? [object] : []),
      ...(beam?.visible ? [beam] : []),
    ]);
    if (suns.length > 0) aimSuns(suns, this.pickable());
  }

  /** Camera of the shot at the evaluated frame; `null` when there is none. */
  shotCamera(evaluator: Evaluator, asked: CameraOf): PerspectiveCamera | OrthographicCamera | null {
    return this.cameras.of(evaluator, asked);
  }

  /**
   * Has the programs of all materials linked beside the page, where the browser can: drawing before that would hold the
   * page up until they are (KHR_parallel_shader_compile).
   */
  async link(renderer: WebGLRenderer, camera: Camera): Promise<void> {
    this.surround(renderer, false);
    this.batches.gather(this.scene, this.pickable(), camera);
    await renderer.compileAsync(this.scene, camera);
  }

  private surround(renderer: WebGLRenderer, film: boolean, alpha = false): void {
    const { scene, backdrop } = this;
    const kind = backdrop?.surroundings ?? 'plain';
    scene.environment = mirroredSurroundings(renderer, kind);
    const fog = film ? (backdrop?.fog ?? null) : null;
    scene.fog = fog && new FogExp2(fog.colour, 1 / fog.distance);
    const behind = film && !alpha && backdrop?.shows === 'surroundings';
    scene.background = behind ? seenSurroundings(renderer, kind) : null;
    scene.backgroundIntensity = backdrop?.brightness ?? 1;
    scene.backgroundRotation.y = scene.environmentRotation.y;
  }

  /**
   * Draws the scene as a camera sees it, over what is there; clear first.
   * @param film with the fog and the surroundings that are seen in the film
   * @param alpha without what stands behind everything
   * @param exposure factor on all light; missing, that of the shot
   */
  draw(renderer: WebGLRenderer, camera: Camera, film = false, alpha = false, exposure?: number): void {
    this.surround(renderer, film, alpha);
    this.batches.gather(this.scene, this.pickable(), camera);
    renderer.toneMappingExposure = exposure ?? this.plan?.shot.setup.exposure ?? 1;
    renderer.render(this.scene, camera);
  }

  /**
   * Gives round shapes as many sides as their size in a picture asks for: what is drawn depends on the frame, the camera
   * and the size of the picture alone. Holds until the next `update`.
   * @param height of the picture, pixels
   * @param tolerance how far an edge may be off, pixels
   */
  refine(camera: Camera, height: number, tolerance: number): void {
    const { evaluator, plan } = this;
    if (!evaluator || !plan) return;
    const { shapes } = plan.shot;
    for (const { object, round, inner } of this.drawn) {
      if (!object.visible) continue;
      inner?.refine(camera, height, tolerance);
      const form = round === undefined ? undefined : shapes[round];
      if (round === undefined || !form) continue;
      const size = (path: string): number => evaluator.number(`${round}/${path}`);
      for (const mesh of (object instanceof Mesh ? [object] : object.children) as Mesh[]) {
        if (!mesh.visible) continue;
        const pixels = pixelsOfMetre(mesh, this.geometries.of(round, form, evaluator), camera, height);
        mesh.geometry = this.geometries.of(
          round,
          form,
          evaluator,
          finenessFor(form, size, pixels, tolerance),
        );
      }
    }
  }

  /** Callouts that are shown, each with where a camera sees its point. */
  private pointed(
    camera: Camera,
    aspect: number,
    tile?: Tile,
  ): { callout: DrawnCallout; at: [number, number] }[] {
    return this.drawn.flatMap(({ object, callout }) => {
      const at = callout && object.visible ? seenAt(object.matrixWorld, camera, aspect, tile) : null;
      return callout && at ? [{ callout, at }] : [];
    });
  }

  /**
   * Lays the callouts over a picture that is drawn already: no light, lens or tone changes them.
   * @param camera that the picture was taken with
   * @param aspect width of the whole picture for a height of 1
   * @param tile the piece of it that the camera was for
   */
  drawOver(renderer: WebGLRenderer, camera: Camera, aspect: number, tile?: Tile): void {
    const pointed = this.pointed(camera, aspect, tile);
    if (pointed.length === 0) return;
    pointed.forEach(({ callout, at }, i) => callout.place(at, pointed.length - 1 - i));
    this.overlay.draw(
      renderer,
      pointed.map(({ callout }) => callout),
      aspect,
      tile,
    );
  }

  /** Where the words of the shown callouts lie in a picture, the last drawn first. */
  calloutBoxes(camera: Camera, aspect: number): CalloutBox[] {
    return this.pointed(camera, aspect)
      .flatMap(({ callout, at }) => callout.box(at, aspect) ?? [])
      .reverse();
  }

  /** Object of a part that has one. */
  objectOf(id: string): Object3D | null {
    return this.objects.get(id) ?? null;
  }

  /** Geometry of a shape at the frame last brought up. */
  geometryOf(shape: string): BufferGeometry | null {
    const form = this.plan?.shot.shapes[shape];
    return form && this.evaluator ? this.geometries.of(shape, form, this.evaluator) : null;
  }

  /** Meshes of the shown solids, for picking; those of shots in the shot are taken for the part that shows them. */
  pickable(): Mesh[] {
    return this.drawn
      .filter((entry) => entry.object.visible)
      .flatMap(({ object, inner }) => {
        if (inner) return inner.pickable();
        return object instanceof Mesh ? [object] : object.children.filter((child) => child instanceof Mesh);
      })
      .filter((mesh) => mesh.visible) as Mesh[];
  }

  /**
   * Moves all that is drawn, worked out by `update`, to where another shot shows it.
   * @param lit whether its lights shine there
   */
  moveTo(place: Matrix4, lit: boolean): void {
    for (const { object, inner, beam, shade, drop } of this.drawn) {
      if (beam) beam.visible &&= lit;
      if (shade) {
        shade.visible &&= lit;
        for (const one of [shade, shade.target]) one.matrixWorld.premultiply(place);
      }
      drop?.mesh.matrixWorld.premultiply(place);
      if (inner) inner.moveTo(place, lit);
      else if (object instanceof Mesh || object instanceof Light) object.matrixWorld.premultiply(place);
      else for (const child of object.children) child.matrixWorld.premultiply(place);
      if (object instanceof SpotLight) object.target.matrixWorld.premultiply(place);
      if (object instanceof Light) object.visible &&= lit;
    }
    if (lit) this.aimLights();
  }

  /** Frees what it made; the assets are left to whoever gave them. */
  dispose(): void {
    for (const { inner, drop, callout } of this.drawn) {
      inner?.dispose();
      drop?.dispose();
      callout?.dispose();
    }
    this.geometries.dispose();
    this.assets.leave(this);
    for (const material of [...this.looks.values(), ...this.ownLooks.values()]) material.dispose();
    this.batches.forget();
    this.scene.clear();
  }
}
