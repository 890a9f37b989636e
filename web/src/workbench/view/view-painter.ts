import type { Box3, Camera, Color, Matrix4, WebGLRenderer } from 'three';
import { GridHelper, Sphere, Vector2 } from 'three';
import { isWithinAny } from '../../../../core/document';
import { standingOf } from '../../../../core/edit';
import { Evaluator } from '../../../../core/evaluate';
import { createRenderer, drawFrame, intoRegion, Outline, Picture } from '../../../../draw';
import { viewColour } from '../../shared/theme';
import type { Session } from '../session';
import { leftBlank } from './draft';
import { FilmRegions } from './film-regions';
import { GhostShapes } from './ghost-shapes';
import { KeptPictures } from './kept-pictures';
import { OtherState, otherShot } from './other-state';
import { boxOfMoving, boxOfParts } from './parts-box';
import { Pacing, RESTS_MS } from './pacing';
import { calloutsAt, partsAt, partsWithin, surfaceAt, type PickFrom, type SurfaceHit } from './picking';
import { ViewCamera } from './view-camera';
import { finderArea, fitted, shareLeft, type Area, type Size } from './view-size';

/** Share of the picture that is shown past each edge when one looks beyond the frame. */
export const BEYOND = 0.12;
/** On opening a shot the view shows at least so much round what moves, metres. */
const OPENING_RADIUS = 3;
const OPENING_ROOM = 1.15;
/** Share of the screen's pixels across that a draft draws. */
const DRAFT_SCALE = 0.5;

/** Draws the view and the viewfinder into one canvas, when something has changed. */
export class ViewPainter {
  readonly picture: Picture;
  readonly look = new ViewCamera();
  private readonly renderer: WebGLRenderer;
  private readonly grid = new GridHelper(24, 24, viewColour('floor'), viewColour('floor-soft'));
  private readonly outline = new Outline(viewColour('teal'));
  private readonly ghosts = new GhostShapes();
  private asked = 0;
  private readonly pacing = new Pacing(() => this.ask());
  private drawnPlan: unknown = null;
  /** What the shadows were last drawn for: looking from elsewhere leaves them as they are. */
  private shadowsOf: readonly unknown[] | null = null;
  private drawnTimes: number[] = [];
  private readonly kept: KeptPictures;
  private readonly films: FilmRegions;
  /** Until the next of the pictures that make what is at rest finer. */
  private stopRefining: () => void = () => undefined;
  /** Counts files that have come: pictures from before show less. */
  private arrivals = 0;
  private other: OtherState | null = null;
  size: Size = { width: 1, height: 1 };

  private readonly blank = leftBlank();
  private readonly unfollow: () => void;
  private linking = false;
  private left = false;
  private linked = false;

  constructor(
    private readonly canvas: HTMLCanvasElement,
    cover: HTMLCanvasElement,
    private readonly session: Session,
  ) {
    this.kept = new KeptPictures(cover, (frames) => session.time.drew(frames));
    this.picture = new Picture(session.assets);
    this.picture.setInner(session.insets.planOf);
    this.unfollow = session.insets.store.subscribe(() => {
      this.arrivals++;
      this.shadowsOf = null;
      this.ask();
    });
    session.assets.onArrival = () => {
      this.arrivals++;
      this.shadowsOf = null;
      this.ask();
    };
    session.assets.onPicture = () => this.ask();
    this.renderer = createRenderer(canvas, { alpha: false, preserve: true });
    this.renderer.setScissorTest(true);
    this.films = new FilmRegions(this.renderer);
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
  camera(evaluator: Evaluator = this.session.evaluator): Camera {
    const { side, beyond } = this.session.view.now;
    if (side === 'shot') {
      const found = this.picture.shotCamera(evaluator, {
        aspect: this.aspect,
        beyond: beyond ? BEYOND : 0,
      });
      if (found) return found;
    }
    const { width, height } = this.room();
    return this.look.camera(side, width / height);
  }

  /** What is left by a viewfinder beside it; half of that where two states stand beside one another. */
  private room(): Area {
    const { height } = this.size;
    const { compare, view } = this.session;
    const width = Math.max(1, Math.floor(this.size.width * shareLeft(view.now)));
    const beside = compare.now.with !== null && compare.now.manner === 'beside';
    return beside
      ? { left: Math.ceil(width / 2), top: 0, width: Math.floor(width / 2), height }
      : { left: 0, top: 0, width, height };
  }

  /** Part of the view that the main picture fills: all there is for it, or the frame of the shot's camera. */
  area(): Area {
    const { side } = this.session.view.now;
    const { shot } = this.session;
    const room = this.room();
    if (side !== 'shot' || shot.setup.camera === null) return room;
    const within = fitted(room, this.aspect);
    return { ...within, left: room.left + within.left, top: room.top + within.top };
  }

  ask(): void {
    if (this.asked) return;
    this.asked = requestAnimationFrame(() => {
      this.asked = 0;
      this.paint();
    });
  }

  private paint(): void {
    const { session, renderer, size } = this;
    const { playing } = session.time.now;
    if (this.ahead) this.pacing.whole();
    else this.pacing.choose(playing);
    this.prepare();
    if (this.blank) {
      this.picture.update(session.evaluator);
      this.picture.showTo('view');
      if (playing) this.countPicture();
      return;
    }
    if (!this.linked) {
      this.link();
      return;
    }
    const drawn = renderer.getSize(new Vector2());
    if (drawn.width !== size.width || drawn.height !== size.height)
      renderer.setSize(size.width, size.height, false);
    const { frame } = session.evaluator;
    this.kept.meant(this.meaning());
    if (playing && this.kept.show(frame)) {
      // What handles and picking ask of the picture is up to date all the same.
      this.picture.update(session.evaluator);
      this.countPicture();
      return;
    }
    this.compose(session.evaluator);
    this.refineLater();
    this.tellFineness();
    if (!this.ahead) this.kept.uncover();
    if (playing) {
      if (this.pacing.finest && !this.coming) this.kept.keep(frame, this.canvas);
      this.countPicture();
    }
  }

  /** Builds the film up from more pictures when nothing has changed for a moment. */
  private refineLater(): void {
    this.stopRefining();
    if (!this.refines) return;
    const next = (): void => {
      if (this.left || !this.refines) return;
      // Lamps stood elsewhere: their shadows are those of no picture that comes.
      this.shadowsOf = null;
      if (this.films.refine()) this.stopRefining = this.films.whenDrawn(next);
      this.picture.showTo('view');
      this.tellFineness();
    };
    const timer = setTimeout(next, RESTS_MS);
    this.stopRefining = () => clearTimeout(timer);
  }

  private get refines(): boolean {
    const { view, time } = this.session;
    return this.pacing.finest && !time.now.playing && !view.now.draft && this.films.unfinished;
  }

  /** Whether a video shows a picture of another frame still. */
  private get coming(): boolean {
    return this.session.assets.coming;
  }

  /** Says on the page whether the picture is still to become finer. */
  private tellFineness(): void {
    if (this.session.time.now.playing || (this.pacing.finest && !this.refines && !this.coming))
      delete this.canvas.dataset.waiting;
    else this.canvas.dataset.waiting = 'finer';
  }

  /** Readies picture and renderer for the plan and the fineness of now. */
  private prepare(): void {
    const { plan } = this.session.doc.now;
    const { draft } = this.session.view.now;
    if (this.drawnPlan !== plan) {
      this.picture.setPlan(plan);
      this.drawnPlan = plan;
    }
    const { scale, shadows } = this.pacing.fineness;
    this.picture.throwShadows(!draft && shadows);
    const ratio = window.devicePixelRatio * Math.min(scale, draft ? DRAFT_SCALE : 1);
    // Each time it is told, the canvas is given new memory, whatever it had.
    if (this.renderer.getPixelRatio() !== ratio) this.renderer.setPixelRatio(ratio);
  }

  /** What a picture depends on beside its frame. */
  private meaning(): readonly unknown[] {
    const { doc, view, choice, compare, plot } = this.session;
    const { side, finder, finderAt, finderShare, beyond, ghosts, draft } = view.now;
    return [
      doc.now.plan,
      side,
      finder,
      finderAt,
      finderShare,
      beyond,
      ghosts,
      draft,
      choice.now.chosen,
      otherShot(compare.now, plot.now.before, doc.now.shot),
      compare.now.manner,
      compare.now.share,
      this.look.place,
      this.size.width,
      this.size.height,
      window.devicePixelRatio,
      viewColour('view'),
      this.arrivals,
    ];
  }

  /** Draws all of the view: the picture now, the other state where two are compared, and the viewfinder. */
  private compose(evaluator: Evaluator): void {
    const { session, renderer, picture, size } = this;
    const { plan, shot, tick } = session.doc.now;
    const { side, finder, beyond, ghosts, draft } = session.view.now;
    const { frame } = evaluator;
    this.stopRefining();
    this.films.begin();
    picture.update(evaluator);
    const main = side === 'shot' && shot.setup.camera !== null;

    if (main || shareLeft(session.view.now) < 1)
      this.clear({ left: 0, top: 0, ...size }, viewColour('view-outside'));
    const standing = standingOf(shot);
    const audiencesDiffer = standing.away.size + standing.out.size > 0;
    const casters = [plan, tick, frame, draft, this.pacing.fineness.shadows];
    renderer.shadowMap.autoUpdate =
      audiencesDiffer || !this.shadowsOf || casters.some((cause, i) => cause !== this.shadowsOf![i]);
    this.shadowsOf = casters;
    const camera = this.camera(evaluator);
    const { tolerance } = this.pacing.fineness;
    const fine = tolerance === undefined ? {} : { tolerance };
    const film = { evaluator, aspect: this.aspect, beyond: beyond ? BEYOND : 0, ...fine };
    const free = { audience: 'view', background: viewColour('view'), ...fine } as const;
    if (main) this.films.draw('main', picture, { ...film, region: this.area() }, size.height);
    else drawFrame(renderer, picture, { camera, ...free, region: this.area() }, size.height);
    if (!main) renderer.render(this.grid, camera);
    if (ghosts) this.ghosts.draw(renderer, session, picture, this.camera(), frame);
    if (!main) this.drawOutline();
    this.drawOther(camera, free, frame, main);

    if (finder !== 'off' && (main || shot.setup.camera !== null)) {
      const box = finderArea(size, this.aspect, session.view.now);
      // The shadows of this frame are drawn already, unless other parts are seen here.
      renderer.shadowMap.autoUpdate = audiencesDiffer;
      const looking = this.look.camera('free', box.width / box.height);
      if (main) drawFrame(renderer, picture, { camera: looking, ...free, region: box }, size.height);
      else this.films.draw('finder', picture, { ...film, region: box }, size.height);
    }
    picture.showTo('view');
  }

  /** Draws the state that is compared, left of the line. */
  private drawOther(
    free: Camera,
    look: { readonly audience: 'view'; readonly background: string },
    frame: number,
    main: boolean,
  ): void {
    const { session, renderer, size } = this;
    const { compare, plot, view } = session;
    const shot = otherShot(compare.now, plot.now.before, session.shot);
    if (!shot) {
      this.other?.dispose();
      this.other = null;
      return;
    }
    this.other ??= new OtherState(session.assets, session.insets.planOf);
    this.other.show(shot, frame, this.session.doc.now.plan.loudness);
    const { share, manner } = compare.now;
    const area = this.area();
    const beside = manner === 'beside';
    const region = beside ? { ...area, left: area.left - this.room().left } : area;
    const room = size.width * shareLeft(view.now);
    const edge = Math.round(beside ? room / 2 : room * share);
    const clip = {
      ...region,
      width: Math.max(0, Math.min(region.left + region.width, edge) - region.left),
    };
    const beyond = view.now.beyond ? BEYOND : 0;
    const shadows = !view.now.draft;
    renderer.shadowMap.autoUpdate = true;
    if (main)
      this.other.drawFilm(this.films, { aspect: this.aspect, beyond, region, clip }, size.height, shadows);
    else {
      this.other.draw(renderer, { camera: free, ...look }, region, clip, size.height, shadows);
      renderer.render(this.grid, free);
    }
    // Its shadows were drawn for other places.
    this.shadowsOf = null;
  }

  /** Frames that are being drawn ahead. */
  private ahead: { stop: boolean } | null = null;

  /**
   * Draws the pictures of a range that are not there yet and keeps them, so that play-back runs at its true rate. Stops where
   * an edit, play-back or `stop` asks for it, or where there is no more room.
   * @returns whether all of the range is there
   */
  async drawAhead(first: number, last: number): Promise<boolean> {
    const { session } = this;
    if (this.ahead || this.blank || !this.linked || session.time.now.playing) return false;
    const run = { stop: false };
    this.ahead = run;
    this.pacing.whole();
    this.prepare();
    this.kept.meant(this.meaning());
    this.compose(session.evaluator);
    this.kept.put(this.canvas);
    const { plan } = session.doc.now;
    const evaluator = new Evaluator(plan);
    const meaning = this.meaning();
    const meansTheSame = (): boolean => this.meaning().every((one, i) => one === meaning[i]);
    const total = last - first + 1;
    let done = 0;
    for (let frame = first; frame <= last && !run.stop; frame++, done++) {
      session.time.draws({ done, total });
      if (this.kept.has(frame)) continue;
      // The page answers between two pictures.
      await new Promise((next) => setTimeout(next));
      if (run.stop || this.left || session.time.now.playing || !meansTheSame()) break;
      evaluator.evaluate(frame);
      this.picture.update(evaluator);
      await session.assets.settled();
      if (run.stop || this.left || !meansTheSame()) break;
      this.compose(evaluator);
      if (!this.kept.keep(frame, this.canvas)) break;
    }
    this.ahead = null;
    session.time.draws(null);
    if (this.left) return false;
    this.ask();
    return done === total;
  }

  stopDrawing(): void {
    if (this.ahead) this.ahead.stop = true;
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

  /** A line round what is chosen, and round what hangs below a chosen hub. */
  private drawOutline(): void {
    const { shot } = this.session;
    const { chosen } = this.session.choice.now;
    if (chosen.length === 0) return;
    const roots = new Set(chosen);
    const meshes = this.picture
      .pickable()
      .filter((mesh) => isWithinAny(shot, mesh.userData.part as string, roots));
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

  /** Parts under a point of the view that are not locked, nearest first. */
  pick(x: number, y: number): string[] {
    return partsAt(this.pickFrom(), x, y);
  }

  /** The callout whose words are at a point of the view. */
  wordsAt(x: number, y: number): string | null {
    return calloutsAt(this.pickFrom(), x, y)[0] ?? null;
  }

  /** The nearest surface under a point of the view. */
  surface(x: number, y: number): SurfaceHit | null {
    return surfaceAt(this.pickFrom(), x, y);
  }

  /** Parts that are not locked and lie wholly or partly in a box of the view. */
  within(left: number, top: number, right: number, bottom: number): string[] {
    return partsWithin(this.pickFrom(), left, top, right, bottom);
  }

  private pickFrom(): PickFrom {
    return { picture: this.picture, camera: this.camera(), area: this.area(), shot: this.session.shot };
  }

  private showBox(box: Box3, least: number, room?: number): void {
    if (box.isEmpty()) return;
    const sphere = box.getBoundingSphere(new Sphere());
    this.look.show(sphere.center, Math.max(least, sphere.radius), room);
    this.ask();
  }

  /** Brings parts (all, when none are named) into view. */
  show(ids: readonly string[]): void {
    this.showBox(boxOfParts(this.picture, this.session.evaluator, ids), 0.2);
  }

  /** Looks, when a shot is opened, at what moves in it: where that is at its beginning, middle and end. */
  showMoving(): void {
    const { plan } = this.session.doc.now;
    this.picture.setPlan(plan);
    this.drawnPlan = plan;
    const box = boxOfMoving(this.picture, plan);
    if (box) this.showBox(box, OPENING_RADIUS, OPENING_ROOM);
  }

  /** Matrix of the free view's camera. */
  freeMatrix(): Matrix4 {
    return this.look.camera('free', this.aspect).matrixWorld.clone();
  }

  dispose(): void {
    this.left = true;
    this.pacing.stop();
    this.stopRefining();
    this.films.dispose();
    this.other?.dispose();
    this.unfollow();
    this.kept.forget();
    cancelAnimationFrame(this.asked);
    this.session.assets.onArrival = this.session.assets.onPicture = () => undefined;
    this.picture.dispose();
    this.outline.dispose();
    this.ghosts.dispose();
    this.renderer.dispose();
  }
}
