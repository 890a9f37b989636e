import { useMemo, useState, type PointerEvent as ReactPointerEvent } from 'react';
import { Plane, Vector3, type Camera } from 'three';
import { toast } from 'sonner';
import { linkOf, trackOf, type Value } from '../../../../core/document';
import { keyChannels } from '../../../../core/edit';
import { sample } from '../../../../core/evaluate';
import { METRES_PER_UNIT } from '../../../../core/formula';
import { formatNumber } from '../../shared/format';
import { beginDrag } from '../../ui/drag';
import { evaluatorAt } from '../actions/values';
import { useSession, useShot, useTime, type Session } from '../session';
import { AXES, rayAt, toPixel } from './handle-geometry';
import { matricesOf } from './part-place';

const FRAMES_AT_MOST = 2000;
/** Share by which coarser chords may be shorter on a smooth way. */
const SMOOTH = 0.1;

/**
 * Length of a smooth way through points, metres: chords from each point to the next and over every second one, from which what
 * chords cut off is worked out (Richardson's extrapolation).
 */
export function lengthOf(points: readonly Vector3[]): number {
  const chords = (step: number): number => {
    let sum = 0;
    for (let i = step; i < points.length; i += step) sum += points[i]!.distanceTo(points[i - step]!);
    return sum;
  };
  const even = points.length - 1 - ((points.length - 1) % 2);
  const rest = even < points.length - 1 ? points[even]!.distanceTo(points.at(-1)!) : 0;
  const [fine, coarse] = [chords(1), chords(2) + rest];
  // What turns sharply is no smooth way: there the chords are all that is known.
  return fine - coarse < SMOOTH * fine ? fine + (fine - coarse) / 3 : fine;
}

/** Keys the place moved by a way of the world at a frame. */
function keyMoved(session: Session, id: string, frame: number, way: Vector3): void {
  const then = evaluatorAt(session, frame);
  const inverse = matricesOf(then, id).frame.invert();
  const local = way.applyMatrix4(inverse).sub(new Vector3().applyMatrix4(inverse));
  const entries = AXES.flatMap((axis, i): [string, Value][] => {
    const by = local.getComponent(i);
    const address = `${id}/location.${axis}`;
    return Math.abs(by) > 1e-6 ? [[address, Number((then.number(address) + by).toFixed(6))]] : [];
  });
  if (entries.length > 0) session.edit((shot) => keyChannels(shot, frame, entries));
}

interface Props {
  readonly camera: Camera;
  readonly width: number;
  readonly height: number;
  readonly left: number;
  readonly top: number;
  readonly id: string;
}

/** Where the pivot of a part is at each frame of the range, and the frames at which its place has keys. */
function useWay(id: string) {
  const plan = useShot((state) => state.plan);
  const { first, last } = plan.shot.setup;
  const path = useMemo(() => {
    const columns = [`${id}/world`, ...AXES.map((axis) => `${id}/pivot.${axis}`)];
    const table = sample(plan, columns, first, Math.min(last, first + FRAMES_AT_MOST));
    return Array.from(table.frames, (frame, i) => {
      const m = table.values.subarray(i * table.columns, (i + 1) * table.columns);
      const [px, py, pz] = [m[16]!, m[17]!, m[18]!];
      const at = (row: number): number => m[row]! * px + m[row + 1]! * py + m[row + 2]! * pz + m[row + 3]!;
      return { frame, point: new Vector3(at(0), at(4), at(8)) };
    });
  }, [plan, id, first, last]);
  const keyed = useMemo(
    () =>
      new Set(
        AXES.flatMap((axis) =>
          ['location', 'rotation'].flatMap((name) =>
            Object.values(trackOf(plan.shot, `${id}/${name}.${axis}`)?.keys ?? {}).map((key) => key.frame),
          ),
        ),
      ),
    [plan, id],
  );
  return { path, keyed };
}

/** Where a part's pivot goes over the range: a dot for every frame, larger ones at its keys, which can be dragged. */
export function Trail({ camera, width, height, left, top, id }: Props) {
  const session = useSession();
  const plan = useShot((state) => state.plan);
  const now = useTime((state) => state.frame);
  const [drag, setDrag] = useState<{ frame: number; point: Vector3 } | null>(null);
  const { unit } = plan.shot.setup;

  const { path, keyed } = useWay(id);

  const begin = (event: ReactPointerEvent<SVGElement>, frame: number, from: Vector3): void => {
    event.stopPropagation();
    if (event.button !== 0) return;
    const linked = AXES.find((axis) => linkOf(plan.shot, `${id}/location.${axis}`));
    if (linked) {
      toast.error(`Location ${linked.toUpperCase()} is linked: change its formula, or unlink it.`);
      return;
    }
    const element = event.currentTarget;
    const box = element.ownerSVGElement!.getBoundingClientRect();
    const plane = new Plane().setFromNormalAndCoplanarPoint(camera.getWorldDirection(new Vector3()), from);
    const { lockedAxes } = session.view.now;
    let to = from;
    beginDrag(element, event, {
      move: (e) => {
        const ray = rayAt(e.clientX - box.left, e.clientY - box.top, camera, width, height);
        const hit = ray.intersectPlane(plane, new Vector3());
        if (!hit) return;
        to = hit;
        for (const axis of lockedAxes) to[axis] = from[axis];
        setDrag({ frame, point: to });
      },
      end: (kept) => {
        setDrag(null);
        if (kept && to !== from) keyMoved(session, id, frame, to.clone().sub(from));
      },
    });
  };

  const gone = useMemo(() => lengthOf(path.map(({ point }) => point)), [path]);
  const points = path
    .map(({ frame, point }) => {
      const moved = drag?.frame === frame ? drag.point : point;
      return { frame, world: moved, ...toPixel(moved, camera, width, height) };
    })
    .filter((point) => point.ahead);
  return (
    <svg
      className="on-view pointer-events-none absolute"
      style={{ left, top }}
      width={width}
      height={height}
      data-testid="trail"
    >
      <polyline
        points={points.map((point) => `${point.x.toFixed(1)},${point.y.toFixed(1)}`).join(' ')}
        fill="none"
        stroke="var(--color-teal)"
        strokeWidth="1.2"
        opacity="0.7"
      />
      {gone > 1e-6 && points.length > 0 && <WayLength at={points.at(-1)!} metres={gone} unit={unit} />}
      {points.map((point) => {
        const key = keyed.has(point.frame);
        return (
          <circle
            key={point.frame}
            cx={point.x}
            cy={point.y}
            r={key ? 4.5 : 1.7}
            className={key ? 'pointer-events-auto cursor-grab' : undefined}
            data-trail-key={key ? point.frame : undefined}
            fill={point.frame === now ? 'var(--color-now)' : key ? 'var(--color-key)' : 'var(--color-teal)'}
            stroke="var(--color-halo)"
            strokeWidth={key ? 1 : 0}
            onPointerDown={key ? (event) => begin(event, point.frame, point.world) : undefined}
          >
            {key && <title>{`frame ${point.frame}: drag to change where it is then`}</title>}
          </circle>
        );
      })}
    </svg>
  );
}

function WayLength({
  at,
  metres,
  unit,
}: {
  at: { readonly x: number; readonly y: number };
  metres: number;
  unit: keyof typeof METRES_PER_UNIT;
}) {
  return (
    <text
      x={at.x + 8}
      y={at.y - 8}
      className="num text-[11px] font-semibold"
      fill="var(--color-ink)"
      stroke="var(--color-halo)"
      strokeWidth="3"
      paintOrder="stroke"
      data-testid="trail-length"
    >
      {formatNumber(metres / METRES_PER_UNIT[unit], 3)} {unit}
      <title>Length of the way over the range of the shot</title>
    </text>
  );
}
