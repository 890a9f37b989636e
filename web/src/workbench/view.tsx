import { useEffect, useLayoutEffect, useRef, useState, type PointerEvent, type ReactNode } from 'react';
import { Box3, Color, GridHelper, Raycaster, Sphere, Vector2, type Camera, type WebGLRenderer } from 'three';
import { createRenderer, Picture } from '../../../draw';
import { writtenName } from '../../../core/formula';
import { useFormulaDraft } from './formula-draft';
import { Handles } from './handles';
import { useSession, useSessionState, type Session, type Tool, type ViewSide } from './session';
import { ViewCamera } from './view-camera';

const VIEW_GREY = '#b7babb';
const FINDER_WIDTH = 262;
const FINDER_BAR = 22;
const MARGIN = 10;
const CLICK_PX = 4;

interface Size {
  readonly width: number;
  readonly height: number;
}

/** Rectangle with given proportions, as large as fits in the middle of a size. */
function fitted(size: Size, aspect: number): { left: number; top: number; width: number; height: number } {
  const width = Math.min(size.width, size.height * aspect);
  const height = width / aspect;
  return { left: (size.width - width) / 2, top: (size.height - height) / 2, width, height };
}

/** Draws the view and the viewfinder into one canvas, when something has changed. */
class ViewPainter {
  readonly picture = new Picture();
  readonly look = new ViewCamera();
  private readonly renderer: WebGLRenderer;
  private readonly grid = new GridHelper(24, 24, new Color('#8f9597'), new Color('#a3a8aa'));
  private asked = 0;
  private drawnPlan: unknown = null;
  private drawnTimes: number[] = [];
  size: Size = { width: 1, height: 1 };

  constructor(
    canvas: HTMLCanvasElement,
    private readonly session: Session,
  ) {
    this.renderer = createRenderer(canvas, { alpha: false, preserve: true });
    this.renderer.setScissorTest(true);
    this.grid.material.transparent = true;
    this.grid.material.opacity = 0.55;
    this.grid.position.y = 0.002;
    this.grid.updateMatrixWorld();
  }

  /** Camera of the main view at the current frame. */
  camera(): Camera {
    const { side } = this.session.state;
    if (side === 'shot') {
      const { setup } = this.session.state.shot;
      const found = this.picture.shotCamera(this.session.evaluator, setup.width / setup.height);
      if (found) return found;
    }
    return this.look.camera(side, this.size.width / this.size.height);
  }

  /** Part of the view that the main picture fills: all of it, or the frame of the shot's camera. */
  area(): { left: number; top: number; width: number; height: number } {
    const { side, shot } = this.session.state;
    return side === 'shot' && shot.setup.camera !== null
      ? fitted(this.size, shot.setup.width / shot.setup.height)
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
    const { plan, side, finder, shot } = session.state;
    if (this.drawnPlan !== plan) {
      picture.setPlan(plan);
      this.drawnPlan = plan;
    }
    picture.update(session.evaluator);
    renderer.setPixelRatio(window.devicePixelRatio);
    const canvas = renderer.domElement;
    if (
      canvas.clientWidth !== size.width ||
      renderer.getSize(new Vector2()).width !== size.width ||
      renderer.getSize(new Vector2()).height !== size.height
    )
      renderer.setSize(size.width, size.height, false);
    const flip = (top: number, height: number): number => size.height - top - height;
    const background = new Color().setRGB(...(shot.setup.background as [number, number, number]));

    renderer.setViewport(0, 0, size.width, size.height);
    renderer.setScissor(0, 0, size.width, size.height);
    renderer.setClearColor(side === 'shot' ? '#3a4048' : VIEW_GREY, 1);
    renderer.clear();
    const area = this.area();
    renderer.setViewport(area.left, flip(area.top, area.height), area.width, area.height);
    renderer.setScissor(area.left, flip(area.top, area.height), area.width, area.height);
    if (side === 'shot') {
      renderer.setClearColor(background, 1);
      renderer.clear();
    }
    renderer.shadowMap.autoUpdate = true;
    picture.draw(renderer, this.camera());
    if (side !== 'shot') renderer.render(this.grid, this.camera());

    if (finder && side !== 'shot' && shot.setup.camera !== null) {
      const box = finderBox(size, shot.setup.width / shot.setup.height);
      renderer.setViewport(box.left, flip(box.top, box.height), box.width, box.height);
      renderer.setScissor(box.left, flip(box.top, box.height), box.width, box.height);
      renderer.setClearColor(background, 1);
      renderer.clear();
      const camera = picture.shotCamera(session.evaluator, shot.setup.width / shot.setup.height);
      // The shadows of this frame are drawn already.
      renderer.shadowMap.autoUpdate = false;
      if (camera) picture.draw(renderer, camera);
    }
    if (session.state.playing) this.countPicture();
  }

  private countPicture(): void {
    const now = performance.now();
    this.drawnTimes = [...this.drawnTimes.filter((time) => now - time < 1500), now];
    const span = now - this.drawnTimes[0]!;
    if (this.drawnTimes.length > 3) {
      const reached = Math.round(((this.drawnTimes.length - 1) / span) * 1000);
      if (reached !== this.session.state.reached) this.session.store.setState({ reached });
    }
  }

  /** Parts under a point of the view, nearest first. */
  pick(x: number, y: number): string[] {
    const area = this.area();
    const caster = new Raycaster();
    caster.setFromCamera(
      new Vector2(((x - area.left) / area.width) * 2 - 1, 1 - ((y - area.top) / area.height) * 2),
      this.camera(),
    );
    return [
      ...new Set(
        caster
          .intersectObjects(this.picture.pickable(), false)
          .map((hit) => hit.object.userData.part as string),
      ),
    ];
  }

  /** Brings parts (all, when none are named) into view. */
  show(ids: readonly string[]): void {
    const box = new Box3();
    const wanted = new Set(
      ids.flatMap((id) =>
        Object.keys(this.session.state.shot.parts).filter((other) => below(this.session, other, id)),
      ),
    );
    for (const object of this.picture.pickable())
      if (ids.length === 0 || wanted.has(object.userData.part as string)) box.expandByObject(object);
    if (box.isEmpty()) return;
    const sphere = box.getBoundingSphere(new Sphere());
    this.look.show(sphere.center, Math.max(0.2, sphere.radius));
    this.ask();
  }

  dispose(): void {
    cancelAnimationFrame(this.asked);
    this.picture.dispose();
    this.renderer.dispose();
  }
}

function below(session: Session, id: string, ancestor: string): boolean {
  for (let at: string | null = id; at !== null; at = session.state.shot.parts[at]?.parent ?? null)
    if (at === ancestor) return true;
  return false;
}

function finderBox(size: Size, aspect: number): { left: number; top: number; width: number; height: number } {
  const width = Math.min(FINDER_WIDTH, size.width * 0.45);
  const height = Math.min(width / aspect, size.height * 0.6);
  return {
    left: size.width - width - MARGIN,
    top: size.height - height - FINDER_BAR - MARGIN,
    width: height * aspect > width ? width : height * aspect,
    height,
  };
}

const SIDES: readonly [ViewSide, string][] = [
  ['free', 'Free'],
  ['front', 'Front'],
  ['side', 'Side'],
  ['top', 'Top'],
  ['shot', 'Shot'],
];
const TOOLS: readonly [Tool, string, string][] = [
  ['pick', 'Pick', 'Choose parts'],
  ['move', 'Move', 'Move the chosen part (M)'],
  ['turn', 'Turn', 'Turn the chosen part (T)'],
];

/** The scene: look round, choose, move and turn; the viewfinder shows what the camera takes. */
export function View() {
  const session = useSession();
  const canvas = useRef<HTMLCanvasElement>(null);
  const frame = useRef<HTMLDivElement>(null);
  const [painter, setPainter] = useState<ViewPainter | null>(null);
  const [failed, setFailed] = useState<string | null>(null);
  const [size, setSize] = useState<Size>({ width: 1, height: 1 });
  const [, redraw] = useState(0);
  const side = useSessionState((state) => state.side);
  const tool = useSessionState((state) => state.tool);
  const locked = useSessionState((state) => state.lockedAxes);
  const trail = useSessionState((state) => state.trail);
  const finder = useSessionState((state) => state.finder);
  const shot = useSessionState((state) => state.shot);
  const tick = useSessionState((state) => state.tick);
  const draft = useFormulaDraft();

  useEffect(() => {
    let made: ViewPainter | null = null;
    try {
      made = new ViewPainter(canvas.current!, session);
      setPainter(made);
      viewCommands = {
        show: (ids) => {
          made?.show(ids);
          // Handles and trail lie over the picture and have to move with it.
          redraw((count) => count + 1);
        },
      };
    } catch (error) {
      setFailed(error instanceof Error ? error.message : String(error));
    }
    return () => {
      made?.dispose();
      viewCommands = null;
    };
  }, [session]);

  useLayoutEffect(() => {
    const watcher = new ResizeObserver(([entry]) => {
      const { width, height } = entry!.contentRect;
      setSize({ width: Math.max(1, Math.round(width)), height: Math.max(1, Math.round(height)) });
    });
    watcher.observe(frame.current!);
    return () => watcher.disconnect();
  }, []);

  useEffect(() => {
    if (!painter) return;
    painter.size = size;
    painter.ask();
  }, [painter, size, side, finder, tick, shot]);

  // Where the wheel turns the page otherwise, it must be refused, which React's own listener cannot.
  useEffect(() => {
    const element = frame.current!;
    const onWheel = (event: WheelEvent): void => {
      event.preventDefault();
      if (!painter || session.state.side === 'shot') return;
      painter.look.zoom(event.deltaY * (event.shiftKey ? 0.2 : 1));
      painter.ask();
      redraw((count) => count + 1);
    };
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => element.removeEventListener('wheel', onWheel);
  }, [painter, session]);

  const onPointerDown = (event: PointerEvent<HTMLCanvasElement>): void => {
    if (!painter) return;
    const element = event.currentTarget;
    const box = element.getBoundingClientRect();
    element.setPointerCapture(event.pointerId);
    const from = { x: event.clientX, y: event.clientY };
    let last = from;
    let moved = false;
    const pans = event.button !== 0 || event.shiftKey;
    const { side: now } = session.state;
    const onMove = (next: globalThis.PointerEvent): void => {
      if (!moved && Math.hypot(next.clientX - from.x, next.clientY - from.y) < CLICK_PX) return;
      moved = true;
      if (now === 'shot') return;
      const [dx, dy] = [next.clientX - last.x, next.clientY - last.y];
      last = { x: next.clientX, y: next.clientY };
      if (pans || now !== 'free') painter.look.pan(painter.camera(), dx, dy, size.height);
      else painter.look.orbit(dx, dy);
      painter.ask();
      redraw((count) => count + 1);
    };
    const onUp = (up: globalThis.PointerEvent): void => {
      element.removeEventListener('pointermove', onMove);
      element.removeEventListener('pointerup', onUp);
      element.removeEventListener('pointercancel', onUp);
      if (moved || up.type === 'pointercancel' || event.button !== 0) return;
      choose(
        painter.pick(up.clientX - box.left, up.clientY - box.top),
        up.ctrlKey || up.metaKey || up.shiftKey,
      );
    };
    element.addEventListener('pointermove', onMove);
    element.addEventListener('pointerup', onUp);
    element.addEventListener('pointercancel', onUp);
  };

  const choose = (hits: readonly string[], more: boolean): void => {
    const { chosen, shot: document } = session.state;
    if (draft.editing) {
      const part = hits[0] ? document.parts[hits[0]] : null;
      if (part) draft.insert(`${writtenName(part.name)}.`);
      return;
    }
    if (hits.length === 0) {
      if (!more) session.choose([]);
      return;
    }
    // A second click on the same spot goes to what lies behind.
    const at = hits.indexOf(chosen.at(-1) ?? '');
    const next = hits[chosen.length === 1 && at >= 0 ? (at + 1) % hits.length : 0]!;
    session.choose(more ? [...chosen.filter((id) => id !== next), next] : [next]);
  };

  const area = painter && size.width > 1 ? painter.area() : null;
  const aspect = shot.setup.width / shot.setup.height;
  const box = finderBox(size, aspect);
  return (
    <section
      ref={frame}
      className="relative overflow-hidden rounded-lg border border-[#9da1a2] bg-view"
      aria-label="View"
    >
      <canvas
        ref={canvas}
        className="absolute inset-0 size-full touch-none"
        data-testid="view-canvas"
        onPointerDown={onPointerDown}
        onContextMenu={(event) => event.preventDefault()}
      />
      {failed && (
        <p role="alert" className="absolute inset-0 flex items-center justify-center p-8 text-center">
          The view cannot be drawn: this browser offers no WebGL 2. Values, keys and renders work all the
          same. ({failed})
        </p>
      )}
      {painter && area && side !== 'shot' && (
        <Handles
          camera={painter.camera()}
          width={area.width}
          height={area.height}
          left={area.left}
          top={area.top}
        />
      )}
      {painter && area && side === 'shot' && <SafeArea area={area} />}

      <Chips className="left-2.5 top-2.5" label="Look from">
        {SIDES.map(([key, words]) => (
          <Chip key={key} on={side === key} onClick={() => session.store.setState({ side: key })}>
            {words}
          </Chip>
        ))}
      </Chips>
      <Chips className="right-2.5 top-2.5" label="Show">
        <Chip
          on={trail}
          onClick={() => session.store.setState({ trail: !trail })}
          title="Where the chosen part goes, a dot for each frame"
        >
          Trail
        </Chip>
        <Chip
          on={finder}
          onClick={() => session.store.setState({ finder: !finder })}
          title="What the camera takes"
        >
          Viewfinder
        </Chip>
      </Chips>
      {side !== 'shot' && (
        <Chips className="bottom-2.5 left-2.5" label="Tool">
          {TOOLS.map(([key, words, title]) => (
            <Chip
              key={key}
              on={tool === key}
              title={title}
              onClick={() => session.store.setState({ tool: key })}
            >
              {words}
            </Chip>
          ))}
        </Chips>
      )}
      {side !== 'shot' && tool !== 'pick' && (
        <Chips className="bottom-2.5 left-[186px]" label="Axes">
          {(['x', 'y', 'z'] as const).map((axis) => {
            const free = !locked.includes(axis);
            return (
              <button
                key={axis}
                type="button"
                aria-pressed={free}
                title={`${free ? 'Lock' : 'Free'} ${axis.toUpperCase()} (Ctrl+${axis.toUpperCase()})`}
                className="h-[26px] w-7 border-r border-line-soft font-semibold last:border-0"
                style={
                  free
                    ? { background: `var(--color-${axis})`, color: '#fff' }
                    : { color: 'var(--color-ink-3)' }
                }
                onClick={() =>
                  session.store.setState({
                    lockedAxes: free ? [...locked, axis] : locked.filter((other) => other !== axis),
                  })
                }
              >
                {axis.toUpperCase()}
              </button>
            );
          })}
        </Chips>
      )}
      {finder && side !== 'shot' && (
        <div
          className="pointer-events-none absolute overflow-hidden rounded-[7px] border border-[#14202d] shadow-[0_4px_14px_rgb(0_0_0/0.28)]"
          style={{
            left: box.left - 1,
            top: box.top - 1,
            width: box.width + 2,
            height: box.height + FINDER_BAR + 2,
          }}
          data-testid="viewfinder"
        >
          {shot.setup.camera === null && (
            <p
              className="absolute inset-x-0 top-0 flex items-center justify-center bg-[#14202d] p-3 text-center text-paper"
              style={{ height: box.height }}
            >
              No camera yet: add one, and what it takes shows here.
            </p>
          )}
          <div
            className="absolute inset-x-0 bottom-0 flex items-center gap-2 bg-[#14202d] px-2 text-xs font-semibold text-paper"
            style={{ height: FINDER_BAR }}
          >
            Viewfinder
            <span className="num ml-auto opacity-75">
              {shot.setup.width}×{shot.setup.height}
            </span>
          </div>
        </div>
      )}
    </section>
  );
}

/** Lines 5 and 10 per cent inside the picture's edge: action and title safe areas (common practice). */
function SafeArea({ area }: { area: { left: number; top: number; width: number; height: number } }) {
  return (
    <svg
      className="pointer-events-none absolute"
      style={{ left: area.left, top: area.top }}
      width={area.width}
      height={area.height}
      aria-hidden="true"
    >
      {[0.05, 0.1].map((share) => (
        <rect
          key={share}
          x={area.width * share}
          y={area.height * share}
          width={area.width * (1 - 2 * share)}
          height={area.height * (1 - 2 * share)}
          fill="none"
          stroke="#fff"
          strokeOpacity="0.28"
        />
      ))}
    </svg>
  );
}

function Chips({ className, label, children }: { className: string; label: string; children: ReactNode }) {
  return (
    <div
      role="group"
      aria-label={label}
      className={`absolute flex overflow-hidden rounded-[7px] border border-black/15 bg-raised/95 ${className}`}
    >
      {children}
    </div>
  );
}

function Chip({
  on,
  title,
  onClick,
  children,
}: {
  on: boolean;
  title?: string;
  onClick(): void;
  children: ReactNode;
}) {
  return (
    <button
      type="button"
      aria-pressed={on}
      title={title}
      onClick={onClick}
      className={`h-[26px] border-r border-line-soft px-2.5 text-[11.5px] font-semibold last:border-0 ${on ? 'bg-teal text-white' : 'hover:bg-field'}`}
    >
      {children}
    </button>
  );
}

/** What commands can ask of the view while it is open. */
let viewCommands: { show(ids: readonly string[]): void } | null = null;

/** Brings parts into view; all of them when none are named. */
export function bringIntoView(ids: readonly string[]): void {
  viewCommands?.show(ids);
}
