import { ChevronLeft, ChevronRight, Pause, Play, SkipBack, SkipForward } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useState, type ReactNode } from 'react';
import { FRAME_LIMIT, RANGE_LIMIT } from '../../../core/document';
import { changeSetup, moveKeys } from '../../../core/edit';
import {
  COMMON_RATES,
  framesPerSecond,
  parseTypedTime,
  rateLabel,
  timecodeOf,
  type TypedTime,
} from '../../../core/time';
import { toast } from 'sonner';
import { formatLength } from '../shared/format';
import { keyPose } from './commands';
import { KeysEditor } from './keys-editor';
import { lanesOf } from './lanes';
import { useSession, useSessionState } from './session';

/** Transport, the current frame, and the lanes. */
export function Foot() {
  const session = useSession();
  const playing = useSessionState((state) => state.playing);
  const frame = useSessionState((state) => state.frame);
  const setup = useSessionState((state) => state.shot.setup);
  const autoKey = useSessionState((state) => state.autoKey);
  const reached = useSessionState((state) => state.reached);
  const chosen = useSessionState((state) => state.chosen);
  const looseCount = useSessionState((state) => Object.keys(state.loose).length);
  const go = (to: number): void => {
    session.stop();
    session.goTo(to);
  };
  return (
    <section className="panel flex h-full flex-col" aria-label="Time">
      <div className="flex h-[38px] flex-none items-center gap-2.5 overflow-hidden border-b border-line-soft px-2.5">
        <div className="flex gap-1">
          <Transport label="First frame" onClick={() => go(setup.first)}>
            <SkipBack size={14} aria-hidden="true" />
          </Transport>
          <Transport label="One frame back" onClick={() => go(Math.round(frame) - 1)}>
            <ChevronLeft size={15} aria-hidden="true" />
          </Transport>
          <button
            type="button"
            aria-label={playing ? 'Stop' : 'Play'}
            className="flex h-[26px] w-10 items-center justify-center rounded-md bg-ink text-white"
            onClick={() => (playing ? session.stop() : session.play())}
          >
            {playing ? <Pause size={14} aria-hidden="true" /> : <Play size={14} aria-hidden="true" />}
          </button>
          <Transport label="One frame on" onClick={() => go(Math.round(frame) + 1)}>
            <ChevronRight size={15} aria-hidden="true" />
          </Transport>
          <Transport label="Last frame" onClick={() => go(setup.last)}>
            <SkipForward size={14} aria-hidden="true" />
          </Transport>
        </div>
        <FrameField />
        <span className="num text-ink-2" data-testid="timecode">
          {timecodeOf(Math.round(frame) - setup.first, setup.rate)}
        </span>
        <RangeAndRate />
        {playing && reached !== null && (
          <span
            className={`num ${reached + 1 < framesPerSecond(setup.rate) ? 'text-brass' : 'text-good'}`}
            title="Pictures shown per second; time keeps the true rate"
          >
            {reached} shown/s
          </span>
        )}
        <button
          type="button"
          role="switch"
          aria-checked={autoKey}
          onClick={() => session.store.setState({ autoKey: !autoKey })}
          className="ml-1 flex items-center gap-1.5 font-semibold"
          title="Every change of a value makes a key at this frame (A)"
        >
          <span
            className={`relative inline-block h-[15px] w-[26px] rounded-full ${autoKey ? 'bg-teal' : 'bg-[#9a978c]'}`}
          >
            <span
              className={`absolute top-[2px] size-[11px] rounded-full bg-white ${autoKey ? 'right-[2px]' : 'left-[2px]'}`}
            />
          </span>
          Auto-key
        </button>
        <button
          type="button"
          className="btn"
          disabled={chosen.length === 0}
          onClick={() => keyPose(session)}
          title="Key location, rotation and scale of the part and all below it (J)"
        >
          <svg width="8" height="14" viewBox="0 0 8 14" aria-hidden="true">
            <rect x="1" y="0.5" width="6" height="13" rx="3" fill="var(--color-key)" />
          </svg>
          Key pose
        </button>
        {looseCount > 0 && (
          <span className="flex items-center gap-2 font-semibold text-now" role="status">
            {looseCount} changed, not keyed
            <button
              type="button"
              className="btn h-[22px]"
              onClick={() => session.keyNow(Object.keys(session.state.loose))}
            >
              Key
            </button>
            <button type="button" className="btn h-[22px]" onClick={() => session.dropLoose()}>
              Drop
            </button>
          </span>
        )}
      </div>
      <KeysEditor />
    </section>
  );
}

function Transport({ label, onClick, children }: { label: string; onClick(): void; children: ReactNode }) {
  return (
    <button
      type="button"
      aria-label={label}
      title={label}
      onClick={onClick}
      className="flex h-[26px] w-[30px] items-center justify-center rounded-md border border-line bg-raised hover:bg-field"
    >
      {children}
    </button>
  );
}

/** The current frame, large and editable: a frame, `+12`, `2s` or a timecode. */
function FrameField() {
  const session = useSession();
  const frame = useSessionState((state) => state.frame);
  const setup = useSessionState((state) => state.shot.setup);
  const [text, setText] = useState<string | null>(null);
  const read = (typed: string): TypedTime =>
    parseTypedTime(typed, { rate: setup.rate, first: setup.first, current: frame });
  const keep = (): void => {
    const typed = text === null ? null : read(text);
    if (typed?.ok && Math.abs(typed.frame) <= FRAME_LIMIT) {
      session.stop();
      session.goTo(Math.round(typed.frame * 1000) / 1000);
      if (typed.said) toast(typed.said);
    } else if (typed && !typed.ok && text?.trim()) toast.error(typed.message);
    setText(null);
  };
  const typing = text !== null && text.trim() !== '' ? read(text) : null;
  const wrong = typing !== null && !typing.ok;
  return (
    <input
      aria-label="Current frame"
      aria-invalid={wrong}
      title={typing && !typing.ok ? typing.message : (typing?.said ?? 'Frame, +12, 2s or 00:00:02:00')}
      className={`w-[58px] rounded bg-transparent px-1 text-right font-mono text-[22px] font-bold tracking-tight outline-none [font-variation-settings:normal] focus:bg-field focus:outline-2 focus:outline-teal ${wrong ? 'text-ink-3' : 'text-now'}`}
      value={text ?? String(Math.round(frame * 100) / 100)}
      onFocus={(event) => event.target.select()}
      onChange={(event) => setText(event.target.value)}
      onBlur={keep}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === 'Enter') event.currentTarget.blur();
        if (event.key === 'Escape') {
          setText(null);
          requestAnimationFrame(() => (document.activeElement as HTMLElement | null)?.blur());
        }
      }}
    />
  );
}

/** First, last, rate: opens a small form. Changing the rate asks whether keys keep their frames or their seconds. */
function RangeAndRate() {
  const session = useSession();
  const setup = useSessionState((state) => state.shot.setup);
  const [open, setOpen] = useState(false);
  const [first, setFirst] = useState('');
  const [last, setLast] = useState('');
  const [rate, setRate] = useState('');
  const [keepSeconds, setKeepSeconds] = useState(false);
  const label = rateLabel(setup.rate);
  const choice = COMMON_RATES.find((entry) => entry.label === rate)?.rate ?? setup.rate;
  const [from, to] = [Number(first), Number(last)];
  const reason =
    !Number.isInteger(from) || !Number.isInteger(to)
      ? 'Frames are whole numbers.'
      : to < from
        ? `The last frame, ${to}, is before the first, ${from}.`
        : to - from + 1 > RANGE_LIMIT
          ? `${to - from + 1} frames are too many: at most ${RANGE_LIMIT}.`
          : Math.abs(from) > FRAME_LIMIT || Math.abs(to) > FRAME_LIMIT
            ? `Frames go from -${FRAME_LIMIT} to ${FRAME_LIMIT}.`
            : null;
  const apply = (): void => {
    if (reason) return;
    session.edit((shot) => {
      const change = changeSetup(shot, { first: from, last: to, rate: choice });
      if (rate === label || !keepSeconds) return change;
      const share = framesPerSecond(choice) / framesPerSecond(setup.rate);
      const moved = lanesOf(shot).flatMap((lane) =>
        lane.keys.map((key) => ({
          address: lane.address,
          key: key.id,
          by: (key.frame - setup.first) * (share - 1),
        })),
      );
      return moved.reduce(
        (all, { address, key, by }) => ({
          label: all.label,
          patches: [...all.patches, ...moveKeys(shot, [{ address, key }], by).patches],
        }),
        change,
      );
    });
    setOpen(false);
  };
  return (
    <Popover.Root
      open={open}
      onOpenChange={(next) => {
        setOpen(next);
        setFirst(String(setup.first));
        setLast(String(setup.last));
        setRate(label);
      }}
    >
      <Popover.Trigger
        className="num rounded px-1.5 py-1 text-ink-2 hover:bg-raised"
        title="First and last frame, frames per second"
      >
        {label} fps · {setup.first}–{setup.last}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          className="menu-surface w-64 p-3"
          sideOffset={6}
          side="top"
          onKeyDown={(event) => event.key === 'Enter' && apply()}
        >
          <div className="grid grid-cols-[92px_1fr] items-center gap-2">
            <label htmlFor="range-first">First frame</label>
            <input
              id="range-first"
              className="input-field num"
              value={first}
              onChange={(event) => setFirst(event.target.value)}
            />
            <label htmlFor="range-last">Last frame</label>
            <input
              id="range-last"
              className="input-field num"
              value={last}
              onChange={(event) => setLast(event.target.value)}
            />
            <label htmlFor="range-rate">Frames a second</label>
            <select
              id="range-rate"
              className="input-field"
              value={rate}
              onChange={(event) => setRate(event.target.value)}
            >
              {!COMMON_RATES.some((entry) => entry.label === label) && <option>{label}</option>}
              {COMMON_RATES.map((entry) => (
                <option key={entry.label}>{entry.label}</option>
              ))}
            </select>
            {rate !== label && (
              <fieldset className="col-span-2 flex gap-4">
                <legend className="mb-1">The rate changes. Keys keep their</legend>
                <label className="flex gap-1.5">
                  <input
                    type="radio"
                    className="accent-teal"
                    checked={!keepSeconds}
                    onChange={() => setKeepSeconds(false)}
                  />
                  frames
                </label>
                <label className="flex gap-1.5">
                  <input
                    type="radio"
                    className="accent-teal"
                    checked={keepSeconds}
                    onChange={() => setKeepSeconds(true)}
                  />
                  seconds
                </label>
              </fieldset>
            )}
          </div>
          <p className={`mt-2 ${reason ? 'text-now' : 'text-ink-2'}`} role={reason ? 'alert' : undefined}>
            {reason ?? formatLength(to - from + 1, choice)}
          </p>
          <button
            type="button"
            className="btn btn-strong mt-2 w-full"
            disabled={reason !== null}
            onClick={apply}
          >
            Set
          </button>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
