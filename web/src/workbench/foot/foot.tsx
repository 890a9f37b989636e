import { ChevronDown, ChevronLeft, ChevronRight, Pause, Play, SkipBack, SkipForward } from 'lucide-react';
import { lazy, Suspense, useState, type ReactNode } from 'react';
import { FRAME_LIMIT } from '../../../../core/document';
import {
  framesPerSecond,
  parseTypedTime,
  rateLabel,
  timecodeOf,
  type TypedTime,
} from '../../../../core/time';
import { toast } from 'sonner';
import { formatLength } from '../../shared/format';
import { MenuButton } from '../../ui/menu';
import { Switch } from '../../ui/switch';
import { TabPanel, TabRow, Tabs } from '../../ui/tabs';
import { keyPose } from '../key-commands';
import { KeysEditor } from '../keys/keys-editor';
import { dropLoose, keyNow } from '../actions/keying';
import { goTo, play, stop } from '../actions/time';
import { useSession, useChoice, useKeying, useSheets, useShot, useTime } from '../session';
import { KEY_SETS, type KeySet } from '../state/keying';
import { ClipRows } from '../clips/clip-rows';
import { clipsMenu } from '../clips/strip-menu';
import { SoundRows } from '../sound/sound-rows';
import { CURVES_COLUMNS, KEYS_COLUMNS } from '../timeline/columns';
import type { FootTab } from '../state/sheets';
import { PlayMenu } from './play-menu';

const CurvesEditor = lazy(() => import('../curves/curves-editor'));
const LinksEditor = lazy(() => import('../links/links-editor'));

const FOOT_TABS: readonly (readonly [FootTab, string, string])[] = [
  ['keys', 'Keys', '1'],
  ['curves', 'Curves', '2'],
  ['links', 'Links', '3'],
];

/** Transport, the current frame, and below it the lanes or the links. */
export function Foot() {
  const session = useSession();
  const frame = useTime((state) => state.frame);
  const setup = useShot((state) => state.shot.setup);
  const autoKey = useKeying((state) => state.autoKey);
  const chosen = useChoice((state) => state.chosen);
  const keySnap = useTime((state) => state.keySnap);
  const lanes = useTime((state) => state.lanes);
  const foot = useSheets((state) => state.foot);
  return (
    <section className="panel h-full" aria-label="Time">
      <Tabs value={foot} onChange={(tab) => session.sheets.footTab(tab)} className="flex h-full flex-col">
        <div className="flex h-[38px] flex-none items-center gap-2.5 overflow-hidden border-b border-line-soft px-2.5">
          <TransportBar />
          <FrameField />
          <span className="num text-ink-2" data-testid="timecode">
            {timecodeOf(Math.round(frame) - setup.first, setup.rate)}
          </span>
          <RangeAndRate />
          <Switch
            label="Auto-key"
            title="Every change of a value makes a key at this frame (A)"
            className="ml-1"
            on={autoKey}
            onChange={() => session.keying.toggleAutoKey()}
          />
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
          <KeySets />
          <LooseValues />
          <span className="ml-auto flex items-center gap-2">
            {foot !== 'links' && (
              <MenuButton
                label="Clips"
                title="Make a clip of keys, show one from the playhead on"
                className="btn"
                side="top"
                entries={() => clipsMenu(session)}
              >
                Clips
              </MenuButton>
            )}
            {foot !== 'links' && (
              <button
                type="button"
                aria-pressed={keySnap}
                className={`btn ${keySnap ? 'border-teal text-teal' : ''}`}
                title="Dragged keys catch on the playhead, other keys, markers and the range"
                onClick={() => session.time.toggleSnap()}
              >
                Snap
              </button>
            )}
            <TabRow label="Foot" tabs={FOOT_TABS} />
          </span>
        </div>
        <TabPanel value="keys" className="flex min-h-0 flex-1 flex-col">
          {lanes !== 'clips' && <SoundRows {...KEYS_COLUMNS} />}
          {lanes !== 'sounds' && <ClipRows {...KEYS_COLUMNS} />}
          <KeysEditor />
        </TabPanel>
        <TabPanel value="curves" className="flex min-h-0 flex-1 flex-col">
          <Suspense fallback={<p className="p-4 text-ink-2">Opening the curves...</p>}>
            <SoundRows {...CURVES_COLUMNS} />
            <ClipRows {...CURVES_COLUMNS} />
            <CurvesEditor />
          </Suspense>
        </TabPanel>
        <TabPanel value="links" className="flex min-h-0 flex-1 flex-col">
          <Suspense fallback={<p className="p-4 text-ink-2">Opening the links...</p>}>
            <LinksEditor />
          </Suspense>
        </TabPanel>
      </Tabs>
    </section>
  );
}

/** To the ends of the range, by a frame, and play-back. */
function TransportBar() {
  const session = useSession();
  const playing = useTime((state) => state.playing);
  const frame = useTime((state) => state.frame);
  const setup = useShot((state) => state.shot.setup);
  const go = (to: number): void => {
    stop(session);
    goTo(session, to);
  };
  return (
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
        className="flex h-[26px] w-10 items-center justify-center rounded-md bg-ink text-panel"
        onClick={() => (playing ? stop(session) : play(session))}
      >
        {playing ? <Pause size={14} aria-hidden="true" /> : <Play size={14} aria-hidden="true" />}
      </button>
      <PlayMenu />
      <Transport label="One frame on" onClick={() => go(Math.round(frame) + 1)}>
        <ChevronRight size={15} aria-hidden="true" />
      </Transport>
      <Transport label="Last frame" onClick={() => go(setup.last)}>
        <SkipForward size={14} aria-hidden="true" />
      </Transport>
    </div>
  );
}

/** How many values have been changed and are not keyed yet. */
function LooseValues() {
  const session = useSession();
  const looseCount = useKeying((state) => Object.keys(state.loose).length);
  if (looseCount === 0) return null;
  return (
    <span className="flex items-center gap-2 font-semibold text-now" role="status">
      {looseCount} changed, not keyed
      <button
        type="button"
        className="btn h-[22px]"
        onClick={() => keyNow(session, Object.keys(session.keying.now.loose))}
      >
        Key
      </button>
      <button type="button" className="btn h-[22px]" onClick={() => dropLoose(session)}>
        Drop
      </button>
    </span>
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
  const frame = useTime((state) => state.frame);
  const setup = useShot((state) => state.shot.setup);
  const [text, setText] = useState<string | null>(null);
  const read = (typed: string): TypedTime =>
    parseTypedTime(typed, { rate: setup.rate, first: setup.first, current: frame });
  const keep = (): void => {
    const typed = text === null ? null : read(text);
    if (typed?.ok && Math.abs(typed.frame) <= FRAME_LIMIT) {
      stop(session);
      goTo(session, Math.round(typed.frame * 1e6) / 1e6);
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

/** Rate and range; opens the sheet of the shot. */
function RangeAndRate() {
  const session = useSession();
  const setup = useShot((state) => state.shot.setup);
  const reached = useTime((state) => (state.playing ? state.reached : null));
  const slow = reached !== null && reached + 1 < framesPerSecond(setup.rate);
  // Room for the rate that is reached is kept all along, so that nothing moves when it is told.
  const rate = rateLabel(setup.rate);
  return (
    <button
      type="button"
      className="num whitespace-nowrap rounded px-1.5 py-1 text-ink-2 hover:bg-raised"
      title={`${formatLength(setup.last - setup.first + 1, setup.rate)}. Set up the shot (Shift+S)${reached === null ? '' : `. ${reached} pictures shown per second; time keeps the true rate`}`}
      onClick={() => session.sheets.show('shot')}
    >
      <span className="inline-block text-right" style={{ width: `${rate.length * 2 + 1}ch` }}>
        {reached !== null && (
          <span className={slow ? 'text-brass' : 'text-good'} data-testid="reached">
            {reached}/
          </span>
        )}
        {rate}
      </span>{' '}
      fps · {setup.first}–{setup.last}
    </button>
  );
}

const SET_WORDS: Record<KeySet, string> = {
  place: 'Place: location',
  turn: 'Turn: rotation',
  size: 'Size: scale',
  look: 'Look: colour, glow, opacity, light',
  everything: 'Everything that can be keyed',
};

/** What K and J key of chosen parts, chosen once. */
function KeySets() {
  const session = useSession();
  const sets = useKeying((state) => state.keySets);
  const differing = useKeying((state) => state.keyDiffering);
  const toggle = (name: KeySet): void => {
    const next = sets.includes(name)
      ? sets.filter((other) => other !== name)
      : name === 'everything'
        ? ['everything' as const]
        : [...sets.filter((other) => other !== 'everything'), name];
    session.keying.sets(next.length > 0 ? next : ['place', 'turn', 'size']);
  };
  return (
    <MenuButton
      label="What K and J key"
      title={`K and J key: ${sets.join(', ')}`}
      className="-ml-2 flex h-[26px] items-center rounded-md border border-line bg-raised px-1 hover:bg-field"
      side="top"
      align="start"
      entries={() => [
        { heading: 'K and J key' },
        ...KEY_SETS.map((name) => ({
          label: SET_WORDS[name],
          checked: sets.includes(name),
          stays: true,
          run: () => toggle(name),
        })),
        'line',
        {
          label: 'Only what differs from the pose before',
          title:
            'No lanes for what stands: a pose keys what was changed or moves already, and gives the pose before what it had',
          checked: differing,
          stays: true,
          run: () => session.keying.differing(!differing),
        },
      ]}
    >
      <ChevronDown size={13} aria-hidden="true" />
    </MenuButton>
  );
}
