import { ArrowDown, ArrowUp, X } from 'lucide-react';
import { useMemo, useState } from 'react';
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
import { Chip, Chips } from '../../ui/chips';
import { DialogFrame, DialogLeave, DialogTitle } from '../../ui/dialog-frame';
import { NumberBox } from '../../ui/number-box';
import { Switch } from '../../ui/switch';
import { goTo } from '../actions/time';
import { useChoice, useSession, useSheets, useShot } from '../session';
import { STRETCHES } from './key-words';

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
};

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

function TakeApartForm() {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const chosen = useChoice((state) => state.chosen);
  const [order, setOrder] = useState<readonly string[]>(() => chosen.filter((id) => shot.parts[id]));
  const per = METRES_PER_UNIT[shot.setup.unit];
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
  const whole: TakingApart = { ...options, parts };
  const set = (change: Partial<typeof options>): void => setOptions({ ...options, ...change });
  // Refusals are told while it is set up: nothing is done that would be taken back.
  const made = useMemo((): { readonly trouble: string | null } => {
    try {
      takeApart(shot, { ...options, parts });
      return { trouble: null };
    } catch (error) {
      if (!(error instanceof EditRefused)) throw error;
      return { trouble: error.message };
    }
  }, [shot, options, parts]);
  const journeys = parts.length > 0 ? journeysOf(whole) : [];
  const apart = journeys.at(-1)?.out[1] ?? options.first;
  const last = Math.max(apart, ...journeys.flatMap(({ back }) => back ?? []));
  const move = (at: number, by: number): void => {
    const next = [...parts];
    const [id] = next.splice(at, 1);
    next.splice(at + by, 0, id!);
    setOrder(next);
  };
  const run = (): void => {
    if (made.trouble !== null || !session.edit((now) => takeApart(now, whole))) return;
    session.sheets.show(null);
    goTo(session, apart);
  };
  const label = 'w-[110px] flex-none text-ink-2';
  const row = 'flex items-center gap-2';
  const { unit } = shot.setup;
  return (
    <>
      <DialogTitle>Take apart</DialogTitle>
      <p className="text-ink-2">
        The parts leave in this order; their ways are written as keys of their location.
      </p>
      <ol
        className="min-h-0 flex-1 overflow-y-auto rounded border border-line-soft"
        aria-label="Parts in order"
      >
        {parts.length === 0 && (
          <li className="p-3 text-ink-2">Choose parts first, in the tree or in the view.</li>
        )}
        {journeys.map(({ part, out, back }, i) => (
          <li key={part} className="flex h-7 items-center gap-2 border-b border-line-soft px-2 last:border-0">
            <span className="num w-6 flex-none text-right text-ink-3">{i + 1}</span>
            <span className="truncate font-semibold">{shot.parts[part]!.name}</span>
            <span className="num ml-auto whitespace-nowrap text-ink-3">
              {out[0]}–{out[1]}
              {back && `, back ${back[0]}–${back[1]}`}
            </span>
            <button
              type="button"
              className="rounded p-0.5 hover:bg-line-soft disabled:opacity-30"
              aria-label={`${shot.parts[part]!.name} leaves earlier`}
              disabled={i === 0}
              onClick={() => move(i, -1)}
            >
              <ArrowUp size={13} aria-hidden="true" />
            </button>
            <button
              type="button"
              className="rounded p-0.5 hover:bg-line-soft disabled:opacity-30"
              aria-label={`${shot.parts[part]!.name} leaves later`}
              disabled={i === parts.length - 1}
              onClick={() => move(i, 1)}
            >
              <ArrowDown size={13} aria-hidden="true" />
            </button>
            <button
              type="button"
              className="rounded p-0.5 hover:bg-line-soft"
              aria-label={`${shot.parts[part]!.name} stays`}
              title="Leave it out"
              onClick={() => setOrder(parts.filter((id) => id !== part))}
            >
              <X size={13} aria-hidden="true" />
            </button>
          </li>
        ))}
      </ol>
      <div className={row}>
        <button
          type="button"
          className="font-semibold text-teal hover:underline disabled:opacity-50"
          disabled={parts.length < 2}
          onClick={() => setOrder([...parts].reverse())}
        >
          Turn the order round
        </button>
      </div>
      <label className={row}>
        <span className={label}>They go</span>
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
      <div className={row}>
        <span className={label}>How far</span>
        <NumberBox
          label="How far"
          value={options.distance / per}
          min={-1e6}
          max={1e6}
          digits={4}
          step={0.1}
          onValue={(value) => set({ distance: value * per })}
        />
        <span>{unit}, each</span>
        <NumberBox
          label="How much further each"
          value={options.more / per}
          min={-1e6}
          max={1e6}
          digits={4}
          step={0.1}
          onValue={(value) => set({ more: value * per })}
        />
        <span>{unit} further than the one before</span>
      </div>
      <div className={row}>
        <span className={label}>When</span>
        <span>from frame</span>
        <NumberBox
          label="From frame"
          value={options.first}
          min={-1e6}
          max={1e6}
          onValue={(first) => set({ first })}
        />
        <span>for</span>
        <NumberBox
          label="Frames on the way"
          value={options.length}
          min={1}
          max={1e5}
          onValue={(length) => set({ length })}
        />
        <span>frames, each</span>
        <NumberBox
          label="Frames later each"
          value={options.stagger}
          min={0}
          max={1e5}
          onValue={(stagger) => set({ stagger })}
        />
        <span>later</span>
      </div>
      <div className={row}>
        <span className={label}>How</span>
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
      <div className={row}>
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
      {made.trouble !== null && parts.length > 0 && (
        <p role="alert" className="rounded bg-now-wash px-2 py-1 text-now">
          {made.trouble}
        </p>
      )}
      <div className="flex items-center gap-2">
        <span className="num mr-auto text-ink-3">
          frames {options.first} to {last}
          {last > shot.setup.last && `, the shot ends at ${shot.setup.last}`}
        </span>
        <DialogLeave />
        <button type="button" className="btn btn-strong" disabled={made.trouble !== null} onClick={run}>
          Take apart
        </button>
      </div>
    </>
  );
}
