import { ChevronLeft, ChevronRight, List, X } from 'lucide-react';
import { useId, useMemo } from 'react';
import { Vector3, type Camera } from 'three';
import { meantToTouch, meetingsOf } from '../../../../core/clearance';
import { useClearance, useSession, useShot, useTime } from '../session';
import { goTo } from '../actions/time';
import { toPixel } from '../view/handle-geometry';
import { useEscape } from '../view/use-escape';
import type { Area } from '../view/view-size';
import { bodyName, depthWords, frameWords, stretchWords } from './finding-words';
import { showFinding } from './show-finding';
import { silhouette, trianglesOf } from './silhouettes';

const INKS = ['var(--color-now)', 'var(--color-teal)'] as const;

/** The finding that is shown: both bodies tinted, all else faint, and where they meet. */
export function ClearanceMarks(props: Area & { readonly camera: Camera }) {
  const { camera, width, height, left, top } = props;
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const shown = useClearance((state) => state.shown);
  const frame = useTime((state) => state.frame);
  useShot((state) => state.tick);
  const mask = useId();
  if (!shown || !shot.parts[shown.a.part] || !shot.parts[shown.b.part]) return null;
  const { evaluator } = session;
  const paths = [shown.a, shown.b].map((body) => {
    const triangles = trianglesOf(shot, evaluator, body.part, session.assets);
    return triangles ? silhouette(triangles, evaluator, body, camera, { width, height }) : '';
  });
  const spot =
    Math.abs(frame - shown.from) < 0.5 && toPixel(new Vector3(...shown.place), camera, width, height);
  return (
    <svg
      className="on-view pointer-events-none absolute"
      style={{ left, top }}
      width={width}
      height={height}
      role="img"
      aria-label={`${bodyName(shot, shown.a)} and ${bodyName(shot, shown.b)}`}
      data-testid="clearance"
    >
      <mask id={mask}>
        <rect width={width} height={height} fill="white" />
        {paths.map((path, i) => (
          <path key={i} d={path} fill="black" />
        ))}
      </mask>
      <rect
        width={width}
        height={height}
        fill="var(--color-panel)"
        fillOpacity="0.72"
        mask={`url(#${mask})`}
      />
      {paths.map((path, i) => (
        <path key={i} d={path} fill={INKS[i]} fillOpacity="0.4" data-body={i} />
      ))}
      {spot && spot.ahead && (
        <g data-place="" stroke="var(--color-now)" fill="none" strokeWidth="2">
          <circle cx={spot.x} cy={spot.y} r="9" fill="var(--color-halo)" fillOpacity="0.6" />
          <path
            d={`M${spot.x - 14},${spot.y}h8M${spot.x + 6},${spot.y}h8M${spot.x},${spot.y - 14}v8M${spot.x},${spot.y + 6}v8`}
          />
        </g>
      )}
    </svg>
  );
}

/** What is shown of the clearance check, in words, with the way to the other findings. */
export function ClearanceBar() {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const shown = useClearance((state) => state.shown);
  const findings = useClearance((state) => state.findings);
  const frame = useTime((state) => state.frame);
  const order = useMemo(() => {
    const there = findings.filter(({ a, b }) => shot.parts[a.part] && shot.parts[b.part]);
    return meetingsOf(there, meantToTouch(shot))
      .filter(({ kind }) => kind !== 'still')
      .flatMap((meeting) => [...meeting.findings]);
  }, [findings, shot]);
  const leave = (): void => session.clearance.show(null);
  useEscape(shown !== null, leave);
  if (!shown || !shot.parts[shown.a.part] || !shot.parts[shown.b.part]) return null;
  const known = order.find(({ id }) => id === shown.id) ?? shown;
  const at = order.findIndex(({ id }) => id === shown.id);
  const to = (by: 1 | -1): void => {
    const next = order[(at + by + order.length) % order.length];
    if (next) showFinding(session, next, next.from);
  };
  const icon = 'rounded p-1 text-ink-2 hover:bg-line-soft hover:text-ink';
  return (
    <div
      role="group"
      aria-label="Finding"
      className="panel absolute left-1/2 top-[46px] z-10 flex max-w-[94%] -translate-x-1/2 items-center gap-2 px-2 py-1 shadow"
    >
      {order.length > 1 && (
        <button type="button" className={icon} aria-label="Finding before" onClick={() => to(-1)}>
          <ChevronLeft size={15} aria-hidden="true" />
        </button>
      )}
      <span className="min-w-0 truncate">
        <b style={{ color: INKS[0] }}>{bodyName(shot, shown.a)}</b> and{' '}
        <b style={{ color: INKS[1] }}>{bodyName(shot, shown.b)}</b>
      </span>
      <span className="num whitespace-nowrap text-ink-2">
        {stretchWords(known)}, {depthWords(shot, known)}
      </span>
      <Moment label="First" title="The first frame at which they touch" to={known.from} now={frame} />
      {known.deepest !== null && known.depth! > 0 && (
        <Moment
          label="Deepest"
          title="The frame at which they are deepest in one another"
          to={known.deepest}
          now={frame}
        />
      )}
      {order.length > 1 && (
        <button type="button" className={icon} aria-label="Next finding" onClick={() => to(1)}>
          <ChevronRight size={15} aria-hidden="true" />
        </button>
      )}
      <button
        type="button"
        className={icon}
        aria-label="List of findings"
        title="List of findings"
        onClick={() => session.sheets.show('clearance')}
      >
        <List size={15} aria-hidden="true" />
      </button>
      <button
        type="button"
        className={icon}
        aria-label="Show all as it is"
        title="Show all as it is (Escape)"
        onClick={leave}
      >
        <X size={15} aria-hidden="true" />
      </button>
    </div>
  );
}

function Moment(props: { label: string; title: string; to: number; now: number }) {
  const { label, title, to, now } = props;
  const session = useSession();
  return (
    <button
      type="button"
      className={`btn h-[22px] whitespace-nowrap ${now === to ? 'border-teal text-teal' : ''}`}
      aria-pressed={now === to}
      title={`${title}: ${frameWords(to)}`}
      onClick={() => goTo(session, to)}
    >
      {label}
    </button>
  );
}
