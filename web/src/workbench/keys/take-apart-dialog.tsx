import { useMemo, useState } from 'react';
import type { FreeWay } from '../../../../core/clearance';
import type { Shot } from '../../../../core/document';
import {
  EditRefused,
  journeysOf,
  takeApart,
  WAYS_APART,
  type StretchManner,
  type TakingApart,
  type WayApart,
} from '../../../../core/edit';
import { METRES_PER_UNIT } from '../../../../core/formula';
import { formatNumber } from '../../shared/format';
import { Chip, Chips } from '../../ui/chips';
import { DialogFrame, DialogLeave, DialogTitle } from '../../ui/dialog-frame';
import { NumberBox } from '../../ui/number-box';
import { Switch } from '../../ui/switch';
import { goTo } from '../actions/time';
import { useChoice, useSession, useSheets, useShot } from '../session';
import { STRETCHES } from './key-words';
import { TakeApartDress } from './take-apart-dress';
import { APART_LABEL, APART_ROW, TakeApartNumbers } from './take-apart-numbers';
import { TakeApartOrder } from './take-apart-order';
import { useFreeWays } from './use-free-ways';

const WAY_WORDS: Readonly<Record<WayApart, string>> = {
  x: 'along x of the world',
  '-x': 'against x of the world',
  y: 'up, along y of the world',
  '-y': 'down, against y of the world',
  z: 'along z of the world',
  '-z': 'against z of the world',
  'own x': 'each along its own x',
  'own y': 'each along its own y',
  'own z': 'each along its own z',
  out: 'away from their middle',
  free: 'each where it is free',
};

const AXIS_WORDS = ['x', 'y', 'z'] as const;

/** Where a part goes, and what is in its way. */
function wayWords(shot: Shot, { way, deeper, blocked }: FreeWay, per: number): string {
  const along = way.findIndex((value) => Math.abs(Math.abs(value) - 1) < 1e-3);
  const where =
    along < 0
      ? `along ${way.map((value) => formatNumber(value, 2)).join(', ')}`
      : way[along]! > 0
        ? `along ${AXIS_WORDS[along]!}`
        : `against ${AXIS_WORDS[along]!}`;
  if (blocked === null) return where;
  return `${where}, ${formatNumber(deeper / per, 3)} ${shot.setup.unit} through ${shot.parts[blocked]?.name ?? 'something'}`;
}

/** Lets the chosen parts travel out one after another, and back. */
export function TakeApartDialog() {
  const session = useSession();
  const open = useSheets((state) => state.open === 'apart');
  return (
    <DialogFrame
      open={open}
      onClose={() => session.sheets.show(null)}
      className="top-[8%] flex max-h-[86vh] w-[560px] flex-col gap-2 p-4"
    >
      <TakeApartForm />
    </DialogFrame>
  );
}

/** What is to be taken apart and how, with what comes of it. */
function useTakingApart() {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const chosen = useChoice((state) => state.chosen);
  const [order, setOrder] = useState<readonly string[]>(() => chosen.filter((id) => shot.parts[id]));
  const [options, setOptions] = useState<Omit<TakingApart, 'parts'>>(() => ({
    way: 'out',
    distance: 1,
    more: 0,
    first: Math.round(session.time.now.frame),
    length: Math.round(shot.setup.rate.num / shot.setup.rate.den),
    stagger: Math.round(shot.setup.rate.num / shot.setup.rate.den / 4),
    manner: 'ease-in-out',
    back: null,
  }));
  const parts = useMemo(() => order.filter((id) => shot.parts[id]), [order, shot]);
  const search = useFreeWays(
    options.way === 'free' && parts.length > 0
      ? {
          parts,
          frame: Math.round(options.first),
          distances: parts.map((_, i) => options.distance + options.more * i),
        }
      : null,
  );
  const ways = useMemo(() => new Map((search.ways ?? []).map((way) => [way.part, way])), [search.ways]);
  const whole = useMemo(
    (): TakingApart => ({
      ...options,
      parts,
      free: Object.fromEntries([...ways].map(([part, { way }]) => [part, way])),
    }),
    [options, parts, ways],
  );
  const set = (change: Partial<typeof options>): void => setOptions({ ...options, ...change });
  // Refusals are told while it is set up: nothing is done that would be taken back.
  const made = useMemo((): { readonly trouble: string | null } => {
    try {
      if (search.share === null) takeApart(shot, whole);
      return { trouble: search.failed };
    } catch (error) {
      if (!(error instanceof EditRefused)) throw error;
      return { trouble: error.message };
    }
  }, [shot, whole, search]);
  const journeys = parts.length > 0 ? journeysOf(whole) : [];
  const apart = journeys.at(-1)?.out[1] ?? options.first;
  const last = Math.max(apart, ...journeys.flatMap(({ back }) => back ?? []));
  return {
    parts,
    setOrder,
    options,
    set,
    search,
    ways,
    whole,
    trouble: made.trouble,
    journeys,
    apart,
    /** The frame by which everything has happened. */
    last,
  };
}

function TakeApartForm() {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const { parts, setOrder, options, set, search, ways, whole, trouble, journeys, apart, last } =
    useTakingApart();
  const per = METRES_PER_UNIT[shot.setup.unit];
  const run = (): void => {
    if (trouble !== null || search.share !== null || !session.edit((now) => takeApart(now, whole))) return;
    session.sheets.show(null);
    goTo(session, apart);
  };
  const { unit } = shot.setup;
  return (
    <>
      <DialogTitle>Take apart</DialogTitle>
      <p className="text-ink-2">
        The parts leave in this order; their ways are written as keys like any others.
      </p>
      <TakeApartOrder
        journeys={journeys}
        nameOf={(part) => shot.parts[part]!.name}
        wayOf={(part) => {
          const found = options.way === 'free' ? ways.get(part) : undefined;
          return found ? wayWords(shot, found, per) : null;
        }}
        onOrder={setOrder}
      />
      <div className={APART_ROW}>
        <button
          type="button"
          className="font-semibold text-teal hover:underline disabled:opacity-50"
          disabled={parts.length < 2}
          onClick={() => setOrder([...parts].reverse())}
        >
          Turn the order round
        </button>
      </div>
      <label className={APART_ROW}>
        <span className={APART_LABEL}>They go</span>
        <select
          className="input-field h-[22px] flex-1 px-1"
          value={options.way}
          onChange={(event) => set({ way: event.target.value as WayApart })}
        >
          {WAYS_APART.map((way) => (
            <option key={way} value={way}>
              {WAY_WORDS[way]}
            </option>
          ))}
        </select>
      </label>
      {search.share !== null && (
        <p role="status" className="text-ink-2">
          Looking where they are free: {Math.round(search.share * 100)} %
        </p>
      )}
      <TakeApartNumbers options={options} per={per} unit={unit} onChange={set} />
      <div className={APART_ROW}>
        <span className={APART_LABEL}>How</span>
        <Chips label="Way to move">
          {STRETCHES.filter(([manner]) => manner !== 'hold').map(([manner, words]) => (
            <Chip
              key={manner}
              on={options.manner === manner}
              onClick={() => set({ manner: manner satisfies StretchManner })}
            >
              {words}
            </Chip>
          ))}
        </Chips>
      </div>
      <div className={APART_ROW}>
        <span className={APART_LABEL}>On the way</span>
        <TakeApartDress opacity={options.opacity} colour={options.colour} onChange={set} />
      </div>
      <div className={APART_ROW}>
        <Switch
          label="Back again in mirror"
          on={options.back !== null}
          onChange={(on) => set({ back: on ? options.length : null })}
        />
        {options.back !== null && (
          <>
            <span>after</span>
            <NumberBox
              label="Frames apart"
              value={options.back}
              min={0}
              max={1e5}
              onValue={(back) => set({ back })}
            />
            <span>frames apart</span>
          </>
        )}
      </div>
      {trouble !== null && parts.length > 0 && (
        <p role="alert" className="rounded bg-now-wash px-2 py-1 text-now">
          {trouble}
        </p>
      )}
      <div className="flex items-center gap-2">
        <span className="num mr-auto text-ink-3">
          frames {options.first} to {last}
          {last > shot.setup.last && `, the shot ends at ${shot.setup.last}`}
        </span>
        <DialogLeave />
        <button
          type="button"
          className="btn btn-strong"
          disabled={trouble !== null || search.share !== null || parts.length === 0}
          onClick={run}
        >
          Take apart
        </button>
      </div>
    </>
  );
}
