import { ArrowLeft, ArrowRight, Trash2 } from 'lucide-react';
import { useState, type ReactNode } from 'react';
import { Link } from 'react-router';
import {
  changeItem,
  changeReelRate,
  JOINS,
  mostJoin,
  putSound,
  setJoin,
  SIDES,
  TITLE_LINES,
  TITLE_SIZE,
  type JoinManner,
  type ReelItem,
  type ReelSound,
  type ShotItem,
  type TitleItem,
} from '../../../core/reel';
import { COMMON_RATES, framesPerSecond, rateLabel } from '../../../core/time';
import { Switch } from '../ui/switch';
import { FONTS } from '../workbench/add/lettering';
import { ColourControl } from '../workbench/fields/colour-control';
import { NumberBox } from './number-box';
import { edit, lettered, moveChosen, removeChosen, strideOfItem, TITLE_FONT, withRange } from './reel-edits';
import { useChosen, useReel, useReelSession, useReelShots, useReelSounds } from './reel-session';

const LONGEST = 20_000;
const FRAMES = 1_000_000;

const JOIN_WORDS: Record<JoinManner, string> = { cut: 'Cut', dissolve: 'Dissolve', wipe: 'Wipe' };
const SIDE_WORDS = {
  left: 'from the left',
  right: 'from the right',
  top: 'from above',
  bottom: 'from below',
};
/** Frames of a join that is chosen anew. */
const JOIN_FRAMES = 12;

function Row({ label, children }: { label: string; children: ReactNode }) {
  return (
    <div className="flex min-h-[26px] items-center gap-2 px-2.5">
      <span className="w-[74px] flex-none text-ink-2">{label}</span>
      <span className="flex min-w-0 flex-1 items-center gap-1.5">{children}</span>
    </div>
  );
}

/** What is chosen in the reel, with all that it has; the reel itself where nothing is. */
export function ItemForm() {
  const reel = useReel((state) => state.reel);
  const chosen = useChosen();
  const at = reel.items.findIndex(({ id }) => id === chosen);
  const item = reel.items[at];
  const sound = reel.sounds.find(({ id }) => id === chosen);
  return (
    <section className="panel flex min-h-0 flex-col overflow-y-auto" aria-label="Values">
      {item ? (
        <>
          {item.kind === 'shot' ? <ShotForm item={item} /> : <TitleForm key={item.id} item={item} />}
          <JoinForm item={item} at={at} />
          <Deeds moves />
        </>
      ) : sound ? (
        <>
          <SoundForm sound={sound} />
          <Deeds moves={false} />
        </>
      ) : (
        <ReelForm />
      )}
    </section>
  );
}

function Head({ kind, name }: { kind: string; name: string }) {
  return (
    <h2 className="flex h-8 flex-none items-center gap-2 border-b border-line-soft bg-head px-2.5">
      <b className="truncate" title={name}>
        {name}
      </b>
      <span className="ml-auto flex-none text-ink-3">{kind}</span>
    </h2>
  );
}

function ShotForm({ item }: { item: ShotItem }) {
  const session = useReelSession();
  const known = useReelShots()[item.shot];
  const stride = strideOfItem(session, item);
  const last = Math.round(item.first + item.frames * stride) - 1;
  const setup = known?.shot?.setup;
  const change = (more: Partial<ShotItem>, kind: string): void =>
    edit(session, (reel) => changeItem(reel, item, more), `${kind} ${item.id}`);
  return (
    <>
      <Head kind="shot" name={known?.name ?? item.name} />
      {known?.failed && (
        <p role="alert" className="px-2.5 pt-2 text-now">
          {known.failed} It is black in the reel; bring it back on the Projects page, or take it out.
        </p>
      )}
      <div className="py-1.5">
        <Row label="In">
          <NumberBox
            label="First frame of the shot"
            value={item.first}
            min={-FRAMES}
            max={FRAMES}
            onValue={(first) => change(withRange(session, item, first, Math.max(first, last)), 'in')}
          />
          <span className="text-ink-3">of its own frames</span>
        </Row>
        <Row label="Out">
          <NumberBox
            label="Last frame of the shot"
            value={last}
            min={item.first}
            max={FRAMES}
            onValue={(next) => change(withRange(session, item, item.first, next), 'out')}
          />
          {setup && (
            <button
              type="button"
              className="btn h-[22px]"
              title={`Frames ${setup.first} to ${setup.last}`}
              onClick={() => change(withRange(session, item, setup.first, setup.last), '')}
            >
              All of it
            </button>
          )}
        </Row>
        <Row label="Length">
          <Length item={item} />
        </Row>
        <Row label="Its sound">
          <Switch
            label={item.silent ? 'silent' : 'heard'}
            on={!item.silent}
            onChange={(on) =>
              edit(session, (reel) => {
                const { silent: _silent, ...rest } = item;
                const next = on ? rest : { ...item, silent: true as const };
                return { ...reel, items: reel.items.map((each) => (each.id === item.id ? next : each)) };
              })
            }
          />
          <Link to={`/shots/${item.shot}`} className="ml-auto font-semibold text-teal hover:underline">
            Open the shot
          </Link>
        </Row>
      </div>
    </>
  );
}

function Length({ item }: { item: ReelItem }) {
  const session = useReelSession();
  const rate = useReel((state) => state.reel.rate);
  return (
    <>
      <NumberBox
        label="Length"
        value={item.frames}
        min={1}
        max={LONGEST}
        onValue={(frames) => edit(session, (reel) => changeItem(reel, item, { frames }), `length ${item.id}`)}
      />
      <span className="text-ink-3">
        {item.frames === 1 ? 'frame' : 'frames'},{' '}
        {Math.round((item.frames / framesPerSecond(rate)) * 100) / 100} s
      </span>
    </>
  );
}

function TitleForm({ item }: { item: TitleItem }) {
  const session = useReelSession();
  const written = item.lines.map(({ text }) => text.text).join('\n');
  const font = item.lines[0]?.text.font ?? TITLE_FONT;
  const [typed, setTyped] = useState<string | null>(null);
  const [reason, setReason] = useState<string | null>(null);
  const change = (more: Partial<TitleItem>, kind = ''): void =>
    edit(session, (reel) => changeItem(reel, item, more), kind);
  const write = (text: string, inFont: string): void => {
    if (text.split('\n').filter((line) => line.trim() !== '').length > TITLE_LINES) {
      setReason(`A title has at most ${TITLE_LINES} lines.`);
      return;
    }
    lettered(text, inFont).then(
      (lines) => {
        setTyped(null);
        setReason(null);
        change({ lines });
      },
      (error: unknown) => setReason(error instanceof Error ? error.message : String(error)),
    );
  };
  return (
    <>
      <Head kind="title" name={written.split('\n')[0] || 'Black'} />
      <div className="py-1.5">
        <div className="px-2.5 pb-1">
          <textarea
            aria-label="Words of the title"
            rows={3}
            className="input-field h-auto w-full resize-none py-1 leading-snug"
            value={typed ?? written}
            placeholder="No words: a plain picture"
            onChange={(event) => setTyped(event.target.value)}
            onBlur={() => typed !== null && typed !== written && write(typed, font)}
            onKeyDown={(event) => {
              event.stopPropagation();
              if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) event.currentTarget.blur();
              if (event.key === 'Escape') {
                setTyped(null);
                setReason(null);
              }
            }}
          />
          {reason && (
            <p role="alert" className="text-now">
              {reason}
            </p>
          )}
        </div>
        <Row label="Font">
          <select
            aria-label="Font"
            className="input-field h-[22px] min-w-0 flex-1"
            value={font}
            disabled={item.lines.length === 0}
            onChange={(event) => write(typed ?? written, event.target.value)}
          >
            {FONTS.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </select>
        </Row>
        <Row label="Letter size">
          <NumberBox
            label="Letter size"
            value={item.size * 100}
            min={TITLE_SIZE.least * 100}
            max={TITLE_SIZE.most * 100}
            digits={1}
            onValue={(percent) => change({ size: percent / 100 }, `size ${item.id}`)}
          />
          <span className="text-ink-3">% of the height</span>
        </Row>
        <Row label="Letters">
          <Colour name="Letters" value={item.ink} onValue={(ink) => change({ ink }, `ink ${item.id}`)} />
        </Row>
        <Row label="Ground">
          <Colour
            name="Ground"
            value={item.ground}
            onValue={(ground) => change({ ground }, `ground ${item.id}`)}
          />
        </Row>
        <Row label="Length">
          <Length item={item} />
        </Row>
      </div>
    </>
  );
}

function Colour(props: {
  name: string;
  value: TitleItem['ink'];
  onValue(value: [number, number, number]): void;
}) {
  const { name, value, onValue } = props;
  return (
    <span className="flex items-center gap-1.5 [&>button]:w-9 [&>button]:flex-none">
      <ColourControl
        name={name}
        value={value}
        mixed={false}
        onPreview={(shown) => shown && onValue(shown)}
        onValue={onValue}
      />
    </span>
  );
}

function JoinForm({ item, at }: { item: ReelItem; at: number }) {
  const session = useReelSession();
  const items = useReel((state) => state.reel.items);
  const { join } = item;
  const most = mostJoin(items, at);
  const set = (more: Partial<typeof join>, kind = ''): void =>
    edit(session, (reel) => setJoin(reel, item.id, { ...join, ...more }), kind);
  return (
    <fieldset className="border-t border-line-soft py-1.5">
      <legend className="float-left w-full px-2.5 pb-1 font-bold">
        {at === 0 ? 'Comes out of black by' : 'Follows what is before it by'}
      </legend>
      <Row label="Manner">
        <span
          className="flex overflow-hidden rounded-md border border-line"
          role="radiogroup"
          aria-label="Manner"
        >
          {JOINS.map((manner) => (
            <button
              key={manner}
              type="button"
              role="radio"
              aria-checked={join.manner === manner}
              disabled={manner !== 'cut' && most === 0}
              className={`h-[22px] px-2 font-semibold ${join.manner === manner ? 'bg-ink text-panel' : 'bg-raised hover:bg-field'}`}
              onClick={() =>
                set({ manner, frames: manner === 'cut' ? 0 : join.frames || Math.min(JOIN_FRAMES, most) })
              }
            >
              {JOIN_WORDS[manner]}
            </button>
          ))}
        </span>
      </Row>
      {join.manner !== 'cut' && (
        <Row label="Takes">
          <NumberBox
            label="Frames of the join"
            value={join.frames}
            min={1}
            max={most}
            onValue={(frames) => set({ frames }, `join ${item.id}`)}
          />
          <span className="text-ink-3">frames, {most} at most</span>
        </Row>
      )}
      {join.manner === 'wipe' && (
        <Row label="Comes">
          <select
            aria-label="Side that it comes from"
            className="input-field h-[22px]"
            value={join.from}
            onChange={(event) => set({ from: event.target.value as typeof join.from })}
          >
            {SIDES.map((side) => (
              <option key={side} value={side}>
                {SIDE_WORDS[side]}
              </option>
            ))}
          </select>
        </Row>
      )}
      {join.manner !== 'cut' && at > 0 && (
        <p className="px-2.5 pt-1 text-xs leading-snug text-ink-2">
          Half of it lies before the cut: both shots go on beyond their in and out for it. Nothing moves.
        </p>
      )}
    </fieldset>
  );
}

function SoundForm({ sound }: { sound: ReelSound }) {
  const session = useReelSession();
  const known = useReelSounds()[sound.asset];
  const seconds = known?.facts?.seconds ?? 3600;
  const change = (more: Partial<ReelSound>, kind: string): void =>
    edit(session, (reel) => putSound(reel, sound.id, { ...sound, ...more }), `${kind} ${sound.id}`);
  const number = (
    label: string,
    field: 'start' | 'from' | 'fadeIn' | 'fadeOut',
    words: string,
    min: number,
    max: number,
    digits: number,
  ) => (
    <Row label={label}>
      <NumberBox
        label={label}
        value={sound[field]}
        {...{ min, max, digits }}
        step={digits > 0 ? 0.1 : 1}
        onValue={(value) => change({ [field]: value }, field)}
      />
      <span className="text-ink-3">{words}</span>
    </Row>
  );
  return (
    <>
      <Head kind="sound" name={sound.name} />
      {known?.failed && (
        <p role="alert" className="px-2.5 pt-2 text-now">
          {known.failed}
        </p>
      )}
      <div className="py-1.5">
        {number('Begins at', 'start', 'frame of the reel', -FRAMES, FRAMES, 0)}
        {number('From', 'from', 's of the file', 0, Math.max(0, seconds - 0.01), 2)}
        <Row label="Length">
          <NumberBox
            label="Length of the sound"
            value={sound.length ?? Math.max(0.01, seconds - sound.from)}
            min={0.01}
            max={Math.max(0.01, seconds - sound.from)}
            digits={2}
            step={0.1}
            onValue={(length) => change({ length }, 'length')}
          />
          <span className="text-ink-3">s</span>
        </Row>
        <Row label="Level">
          <NumberBox
            label="Level"
            value={sound.level * 100}
            min={0}
            max={400}
            onValue={(percent) => change({ level: percent / 100 }, 'level')}
          />
          <span className="text-ink-3">%</span>
        </Row>
        {number('Rises over', 'fadeIn', 's', 0, 3600, 2)}
        {number('Falls over', 'fadeOut', 's', 0, 3600, 2)}
      </div>
    </>
  );
}

function ReelForm() {
  const session = useReelSession();
  const { rate, width, height } = useReel((state) => state.reel);
  const known = COMMON_RATES.some(({ rate: each }) => each.num === rate.num && each.den === rate.den);
  const side = (label: 'width' | 'height', value: number) => (
    <NumberBox
      label={`Picture ${label}`}
      value={value}
      min={16}
      max={8192}
      onValue={(next) => edit(session, (reel) => ({ ...reel, [label]: next }), label)}
    />
  );
  return (
    <>
      <Head kind="reel" name={session.opened.name} />
      <div className="py-1.5">
        <Row label="Picture">
          {side('width', width)}×{side('height', height)}
        </Row>
        <Row label="Rate">
          <select
            aria-label="Frames per second"
            className="input-field num h-[22px]"
            value={`${rate.num}/${rate.den}`}
            onChange={(event) => {
              const [num, den] = event.target.value.split('/').map(Number);
              edit(session, (reel) => changeReelRate(reel, { num: num!, den: den! }));
            }}
          >
            {!known && <option value={`${rate.num}/${rate.den}`}>{rateLabel(rate)}</option>}
            {COMMON_RATES.map(({ label, rate: each }) => (
              <option key={label} value={`${each.num}/${each.den}`}>
                {label}
              </option>
            ))}
          </select>
          <span className="text-ink-3">frames a second</span>
        </Row>
        <p className="px-2.5 pt-1.5 leading-snug text-ink-2">
          With another rate everything lasts as long as before. Click a shot, a title or a sound below to
          change it.
        </p>
      </div>
    </>
  );
}

function Deeds({ moves }: { moves: boolean }) {
  const session = useReelSession();
  return (
    <div className="flex gap-1.5 border-t border-line-soft p-2">
      {moves && (
        <>
          <button
            type="button"
            className="btn h-[24px]"
            title="One place earlier (Alt+Left)"
            onClick={() => moveChosen(session, -1)}
          >
            <ArrowLeft size={13} aria-hidden="true" />
            Earlier
          </button>
          <button
            type="button"
            className="btn h-[24px]"
            title="One place later (Alt+Right)"
            onClick={() => moveChosen(session, 1)}
          >
            Later
            <ArrowRight size={13} aria-hidden="true" />
          </button>
        </>
      )}
      <button
        type="button"
        className="btn ml-auto h-[24px] text-now"
        title="Take it out of the reel (Delete)"
        onClick={() => removeChosen(session)}
      >
        <Trash2 size={13} aria-hidden="true" />
        Take out
      </button>
    </div>
  );
}
