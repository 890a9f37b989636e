import type { Matrix4, Color } from 'three';
import {
  Box3,
  GridHelper,
  Group,
  Mesh,
  MeshBasicMaterial,
  Raycaster,
  Sphere,
  Vector2,
  Vector3,
  type Camera,
  type WebGLRenderer,
} from 'three';
import { isWithin } from '../../../../core/document';
import { standingOf } from '../../../../core/edit';
import { Evaluator, type Plan } from '../../../../core/evaluate';
import { createRenderer, drawFrame, intoRegion, Outline, Picture, shotColour } from '../../../../draw';
import { viewColour } from '../../shared/theme';
import type { Session } from '../session';
import { leftBlank } from './draft';
import { matricesOf, matrixAt } from './part-place';
import { ViewCamera } from './view-camera';
import { finderArea, fitted, type Area, type Size } from './view-size';

/** Share of the picture that is shown past each edge when one looks beyond the frame. */
export const BEYOND = 0.12;
/** On opening a shot the view shows at least so much round what moves, metres. */
const OPENING_RADIUS = 3;
const OPENING_ROOM = 1.15;
const MOVING_AT_MOST = 500;
const GHOST_STEPS = [-3, -2, -1, 1, 2, 3];
const GHOST_GAP_S = 1 / 6;
/** Share of the screen's pixels across that a draft draws. */
const DRAFT_SCALE = 0.5;

/** A point of a surface under the pointer. */
export interface SurfaceHit {
  readonly part: string;
  readonly point: Vector3;
  readonly normal: Vector3;
}

/** Draws the view and the viewfinder into one canvas, when something has changed. */
export class ViewPainter {
  readonly picture: Picture;
  readonly look = new ViewCamera();
  private readonly renderer: WebGLRenderer;
  private readonly grid = new GridHelper(24, 24, viewColour('floor'), viewColour('floor-soft'));
  private readonly outline = new Outline(viewColour('teal'));
  private readonly ghosts = new Group();
  private ghostEvaluator: { plan: Plan; evaluator: Evaluator } | null = null;
  private readonly ghostBefore = new MeshBasicMaterial({
    color: viewColour('key'),
    transparent: true,
    opacity: 0.18,
    depthWrite: false,
  });
  private readonly ghostAfter = new MeshBasicMaterial({
    color: viewColour('teal'),
    transparent: true,
    opacity: 0.26,
    depthWrite: false,
  });
  private asked = 0;
  private drawnPlan: unknown = null;
  /** What the shadows were last drawn for: looking from elsewhere leaves them as they are. */
  private shadowsOf: readonly unknown[] | null = null;
  private drawnTimes: number[] = [];
  size: Size = { width: 1, height: 1 };

  private readonly blank = leftBlank();
  private linking = false;
  private left = false;
  private linked = false;

  constructor(
    private readonly canvas: HTMLCanvasElement,
    private readonly session: Session,
  ) {
    this.picture = new Picture(session.assets);
    session.assets.onArrival = () => {
      this.shadowsOf = null;
      this.ask();
    };
    this.renderer = createRenderer(canvas, { alpha: false, preserve: true });
    this.renderer.setScissorTest(true);
    if (!this.blank) canvas.dataset.waiting = 'yes';
    this.grid.material.transparent = true;
    this.grid.material.opacity = 0.55;
    this.grid.position.y = 0.002;
    this.grid.updateMatrixWorld();
  }

  private get aspect(): number {
    const { setup } = this.session.shot;
    return setup.width / setup.height;
  }

  /** Camera of the main view at the current frame. */
  camera(): Camera {
    const { side, beyond } = this.session.view.now;
    if (side === 'shot') {
      const found = this.picture.shotCamera(this.session.evaluator, this.aspect, beyond ? BEYOND : 0);
      if (found) return found;
    }
    return this.look.camera(side, this.size.width / this.size.height);
  }

  /** Part of the view that the main picture fills: all of it, or the frame of the shot's camera. */
  area(): Area {
    const { side } = this.session.view.now;
    const { shot } = this.session;
    return side === 'shot' && shot.setup.camera !== null
      ? fitted(this.size, this.aspect)
      : { left: 0, top: 0, ...this.size };
  }

  ask(): void {
    if (this.asked) return;
    this.asked = requestAnimationFrame(() => {
      this.asked = 0;
      this.paint();
    });
  }

  private paint(): void {
    const { session, renderer, picture, size } = this;
    const { plan, shot, tick } = session.doc.now;
    const { side, finder, beyond, ghosts, draft } = session.view.now;
    if (this.drawnPlan !== plan) {
      picture.setPlan(plan);
      this.drawnPlan = plan;
    }
    picture.update(session.evaluator);
    picture.throwShadows(!draft);
    renderer.setPixelRatio(window.devicePixelRatio * (draft ? DRAFT_SCALE : 1));
    const drawn = renderer.getSize(new Vector2());
    if (drawn.width !== size.width || drawn.height !== size.height)
      renderer.setSize(size.width, size.height, false);
    if (this.blank) {
      picture.showTo('view');
      if (session.time.now.playing) this.countPicture();
      return;
    }
    if (!this.linked) {
      this.link();
      return;
    }
    const background = shotColour(shot.setup.background);
    const main = side === 'shot' && shot.setup.camera !== null;

    if (main) this.clear({ left: 0, top: 0, ...size }, viewColour('view-outside'));
    const standing = standingOf(shot);
    const audiencesDiffer = standing.away.size + standing.out.size > 0;
    const casters = [plan, tick, draft];
    renderer.shadowMap.autoUpdate =
      audiencesDiffer || !this.shadowsOf || casters.some((cause, i) => cause !== this.shadowsOf![i]);
    this.shadowsOf = casters;
    drawFrame(
      renderer,
      picture,
      {
        camera: this.camera(),
        audience: main ? 'film' : 'view',
        background: main ? background : viewColour('view'),
        region: this.area(),
      },
      size.height,
    );
    if (!main) renderer.render(this.grid, this.camera());
    if (ghosts) this.drawGhosts();
    if (!main) this.drawOutline();

    if (finder !== 'off' && (main || shot.setup.camera !== null)) {
      const box = finderArea(size, this.aspect, finder === 'large');
      // The shadows of this frame are drawn already, unless other parts are seen here.
      renderer.shadowMap.autoUpdate = audiencesDiffer;
      const camera = main
        ? this.look.camera('free', box.width / box.height)
        : picture.shotCamera(session.evaluator, this.aspect, beyond ? BEYOND : 0);
      drawFrame(
        renderer,
        picture,
        {
          camera,
          audience: main ? 'view' : 'film',
          background: main ? viewColour('view') : background,
          region: box,
        },
        size.height,
      );
    }
    picture.showTo('view');
    if (session.time.now.playing) this.countPicture();
  }

  /** Leaves the view empty until the programs of the picture are linked: the page is there meanwhile. */
  private link(): void {
    if (this.linking) return;
    this.linking = true;
    this.clear({ left: 0, top: 0, ...this.size }, viewColour('view'));
    const done = (): void => {
      // The view may have been left meanwhile.
      if (this.left) return;
      this.linked = true;
      delete this.canvas.dataset.waiting;
      this.ask();
    };
    // Where the browser cannot link beside the page, drawing links.
    this.picture.link(this.renderer, this.camera()).then(done, done);
  }

  private clear(area: Area, colour: string | Color): void {
    intoRegion(this.renderer, this.size.height, area);
    this.renderer.setClearColor(colour, 1);
    this.renderer.clear();
  }

  /** Shapes of the chosen parts a few frames before and after. */
  private drawGhosts(): void {
    const { shot, plan } = this.session.doc.now;
    const { frame } = this.session.time.now;
    const { chosen } = this.session.choice.now;
    if (this.ghostEvaluator?.plan !== plan) this.ghostEvaluator = { plan, evaluator: new Evaluator(plan) };
    const { evaluator } = this.ghostEvaluator;
    const { rate, first, last } = shot.setup;
    const gap = Math.max(1, Math.round((GHOST_GAP_S * rate.num) / rate.den));
    const solids = plan.nodes.filter(
      (id) => shot.parts[id]!.shape !== null && chosen.some((root) => isWithin(shot, id, root)),
    );
    this.ghosts.clear();
    for (const step of GHOST_STEPS) {
      const at = frame + step * gap;
      if (at < first || at > last) continue;
      evaluator.evaluate(at);
      for (const id of solids) {
        const node = plan.nodeOf.get(id)!;
        const world = matrixAt(evaluator, node);
        if (evaluator.shown[node] !== 1 || world.equals(matrixAt(this.session.evaluator, node))) continue;
        const mesh = new Mesh(
          this.picture.geometryOf(shot.parts[id]!.shape!)!,
          step < 0 ? this.ghostBefore : this.ghostAfter,
        );
        mesh.matrixAutoUpdate = false;
        mesh.matrix.copy(world);
        this.ghosts.add(mesh);
      }
    }
    this.ghosts.updateMatrixWorld(true);
    this.renderer.render(this.ghosts, this.camera());
  }

  /** A line round what is chosen, and round what hangs below a chosen hub. */
  private drawOutline(): void {
    const { shot } = this.session;
    const { chosen } = this.session.choice.now;
    if (chosen.length === 0) return;
    const meshes = this.picture
      .pickable()
      .filter((mesh) => chosen.some((id) => isWithin(shot, mesh.userData.part as string, id)));
    this.outline.draw(this.renderer, meshes, this.camera());
  }

  private countPicture(): void {
    const now = performance.now();
    this.drawnTimes = [...this.drawnTimes.filter((time) => now - time < 1500), now];
    const span = now - this.drawnTimes[0]!;
    if (this.drawnTimes.length > 3) {
      const reached = Math.round(((this.drawnTimes.length - 1) / span) * 1000);
      if (reached !== this.session.time.now.reached) this.session.time.reach(reached);
    }
  }

  private caster(x: number, y: number): Raycaster {
    const area = this.area();
    const caster = new Raycaster();
    caster.setFromCamera(
      new Vector2(((x - area.left) / area.width) * 2 - 1, 1 - ((y - area.top) / area.height) * 2),
      this.camera(),
    );
    return caster;
  }

  private open(): Mesh[] {
    const { locked } = standingOf(this.session.shot);
    return this.picture.pickable().filter((mesh) => !locked.has(mesh.userData.part as string));
  }

  /** Parts under a point of the view that are not locked, nearest first. */
  pick(x: number, y: number): string[] {
    const hits = this.caster(x, y).intersectObjects(this.open(), false);
    return [...new Set(hits.map((hit) => hit.object.userData.part as string))];
  }

  /** The nearest surface under a point of the view. */
  surface(x: number, y: number): SurfaceHit | null {
    const hit = this.caster(x, y).intersectObjects(this.picture.pickable(), false)[0];
    if (!hit?.face) return null;
    const normal = hit.face.normal.clone().transformDirection(hit.object.matrixWorld);
    return { part: hit.object.userData.part as string, point: hit.point.clone(), normal };
  }

  /** Parts that are not locked and lie wholly or partly in a box of the view. */
  within(left: number, top: number, right: number, bottom: number): string[] {
    const area = this.area();
    const camera = this.camera();
    const found = new Set<string>();
    const corner = new Vector3();
    for (const mesh of this.open()) {
      if (!mesh.geometry.boundingBox) mesh.geometry.computeBoundingBox();
      const box = mesh.geometry.boundingBox!;
      const seen = new Box3();
      let ahead = true;
      for (let i = 0; i < 8; i++) {
        corner.set(
          i & 1 ? box.max.x : box.min.x,
          i & 2 ? box.max.y : box.min.y,
          i & 4 ? box.max.z : box.min.z,
        );
        corner.applyMatrix4(mesh.matrixWorld).project(camera);
        if (corner.z > 1) ahead = false;
        seen.expandByPoint(corner);
      }
      if (!ahead) continue;
      const x = (share: number): number => area.left + ((share + 1) / 2) * area.width;
      const y = (share: number): number => area.top + ((1 - share) / 2) * area.height;
      const inside =
        x(seen.max.x) >= left && x(seen.min.x) <= right && y(seen.min.y) >= top && y(seen.max.y) <= bottom;
      const middle = new Vector3().addVectors(seen.min, seen.max).multiplyScalar(0.5);
      const middleIn =
        x(middle.x) >= left && x(middle.x) <= right && y(middle.y) >= top && y(middle.y) <= bottom;
      if (inside && middleIn) found.add(mesh.userData.part as string);
    }
    return [...found];
  }

  /** Smallest box of the world round parts as they are drawn now; round all shown solids when none are named. */
  private boxOf(ids: readonly string[], evaluator: Evaluator): Box3 {
    const { shot } = this.session;
    const box = new Box3();
    const bounds = new Box3();
    for (const mesh of this.picture.pickable()) {
      const part = mesh.userData.part as string;
      if (ids.length > 0 && !ids.some((id) => isWithin(shot, part, id))) continue;
      if (!mesh.geometry.boundingBox) mesh.geometry.computeBoundingBox();
      box.union(bounds.copy(mesh.geometry.boundingBox!).applyMatrix4(mesh.matrixWorld));
    }
    for (const id of ids)
      box.expandByPoint(new Vector3().setFromMatrixPosition(matricesOf(evaluator, id).world));
    return box;
  }

  private showBox(box: Box3, least: number, room?: number): void {
    if (box.isEmpty()) return;
    const sphere = box.getBoundingSphere(new Sphere());
    this.look.show(sphere.center, Math.max(least, sphere.radius), room);
    this.ask();
  }

  /** Brings parts (all, when none are named) into view. */
  show(ids: readonly string[]): void {
    this.showBox(this.boxOf(ids, this.session.evaluator), 0.2);
  }

  /** Looks, when a shot is opened, at what moves in it: where that is at its beginning, middle and end. */
  showMoving(): void {
    const { plan, shot } = this.session.doc.now;
    const { first, last } = shot.setup;
    this.picture.setPlan(plan);
    this.drawnPlan = plan;
    const moving = plan.nodes.filter(
      (id, node) => plan.nodeMoves[node] === 1 && shot.parts[id]!.shape !== null,
    );
    if (moving.length === 0 || moving.length > MOVING_AT_MOST) return;
    const evaluator = new Evaluator(plan);
    const box = new Box3();
    for (const frame of [first, (first + last) / 2, last]) {
      evaluator.evaluate(frame);
      this.picture.update(evaluator);
      box.union(this.boxOf(moving, evaluator));
    }
    this.showBox(box, OPENING_RADIUS, OPENING_ROOM);
  }

  /** Matrix of the free view's camera. */
  freeMatrix(): Matrix4 {
    return this.look.camera('free', this.aspect).matrixWorld.clone();
  }

  dispose(): void {
    this.left = true;
    cancelAnimationFrame(this.asked);
    this.session.assets.onArrival = () => undefined;
    this.picture.dispose();
    this.outline.dispose();
    this.ghostBefore.dispose();
    this.ghostAfter.dispose();
    this.renderer.dispose();
  }
}
