import { X } from 'lucide-react';
import { useState } from 'react';
import { shownLength } from '../../../../core/check';
import { WATCHED, type Nearness } from '../../../../core/clearance';
import type { Shot } from '../../../../core/document';
import { goTo } from '../actions/time';
import { useSession, useShot } from '../session';
import { PartSelect } from '../values/part-select';
import { bringIntoView } from '../view/view-commands';
import { frameWords, holdOneAnother } from './finding-words';

/** Pairs whose least distance is told. */
export function Watching(props: {
  watched: readonly (readonly [string, string])[];
  near: readonly Nearness[];
  from: number;
}) {
  const { watched, near, from } = props;
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const [one, setOne] = useState<string | null>(null);
  const name = (part: string): string => shot.parts[part]?.name ?? 'gone';
  const known = (a: string, b: string): boolean =>
    watched.some((pair) => pair.includes(a) && pair.includes(b)) || holdOneAnother(shot, a, b);
  return (
    <div className="flex flex-col gap-1">
      {watched.map(([a, b]) => {
        const found = near.find((each) => each.a === a && each.b === b);
        return (
          <div
            key={`${a} ${b}`}
            className="flex items-center gap-2"
            aria-label={`Distance of ${name(a)} and ${name(b)}`}
            role="group"
          >
            <span className="w-[280px] truncate">
              <b>{name(a)}</b> to <b>{name(b)}</b>
            </span>
            {found && <Distances distances={found.distances} />}
            <span className="num flex-1 text-ink-2">{found ? nearWords(shot, found) : ''}</span>
            {found && !Number.isNaN(found.least) && (
              <button
                type="button"
                className="btn h-[22px]"
                onClick={() => {
                  session.sheets.show(null);
                  session.choice.parts(shot, [a, b]);
                  goTo(session, found.frame);
                  bringIntoView([a, b]);
                }}
              >
                Go there
              </button>
            )}
            <button
              type="button"
              aria-label={`Watch ${name(a)} and ${name(b)} no longer`}
              className="rounded p-0.5 text-ink-3 hover:bg-line-soft hover:text-now"
              onClick={() =>
                session.clearance.watch(watched.filter((pair) => pair[0] !== a || pair[1] !== b))
              }
            >
              <X size={13} aria-hidden="true" />
            </button>
          </div>
        );
      })}
      {watched.length < WATCHED && (
        <div className="flex items-center gap-2">
          <span className="w-[150px] flex-none text-ink-2" title={`From frame ${from} on`}>
            Tell how near these come:
          </span>
          <span className="flex w-[190px]">
            <PartSelect
              shot={shot}
              value={one}
              none="a part..."
              title="First part whose distance is told"
              fits={() => true}
              onChoose={setOne}
            />
          </span>
          <span className="flex w-[190px]">
            <PartSelect
              shot={shot}
              value={null}
              none="and another one..."
              title="Second part whose distance is told"
              fits={(id) => one !== null && !known(one, id)}
              onChoose={(other) => {
                if (one === null || other === null) return;
                session.clearance.watch([...watched, [one, other]]);
                setOne(null);
              }}
            />
          </span>
        </div>
      )}
    </div>
  );
}

function nearWords(shot: Shot, { least, frame }: Nearness): string {
  if (Number.isNaN(least)) return 'never shown together';
  if (least === 0) return `touch, first at frame ${frameWords(frame)}`;
  return `${shownLength(shot, least)} at frame ${frameWords(frame)}`;
}

const SPARK = { width: 120, height: 18 };

/** Distances over the frames as a small curve. */
function Distances({ distances }: { distances: Float64Array }) {
  const most = Math.max(...distances.filter((value) => !Number.isNaN(value)), 1e-9);
  const points = [...distances]
    .map((value, i) => [
      (i / Math.max(1, distances.length - 1)) * SPARK.width,
      SPARK.height - (value / most) * (SPARK.height - 2) - 1,
    ])
    .filter(([, y]) => !Number.isNaN(y))
    .map((at) => at.map((value) => value.toFixed(1)).join(','))
    .join(' ');
  return (
    <svg width={SPARK.width} height={SPARK.height} aria-hidden="true" className="flex-none">
      <line
        x1="0"
        x2={SPARK.width}
        y1={SPARK.height - 0.5}
        y2={SPARK.height - 0.5}
        stroke="var(--color-line)"
      />
      <polyline points={points} fill="none" stroke="var(--color-teal)" strokeWidth="1.25" />
    </svg>
  );
}
