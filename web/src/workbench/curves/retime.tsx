import { memo, useMemo, useState } from 'react';
import { linkOf, trackOf, type Shot } from '../../../../core/document';
import {
  apply,
  bake,
  EditRefused,
  flattenKeys,
  holdOnSteps,
  keyedChannels,
  matchSlope,
  moveKeys,
  pushAfter,
  reverseKeys,
  scaleKeys,
  slowRange,
  smoothKeys,
  snapKeys,
  thin,
  type Change,
  type KeyAddress,
} from '../../../../core/edit';
import { METRES_PER_UNIT } from '../../../../core/formula';
import { toast } from 'sonner';
import { useChoice, useSession, useShot, useTime } from '../session';
import { ExactField } from '../shaping/exact-field';
import { keepTrial, tryOut } from '../shaping/trial';
import type { Line } from './lines';

type Make = (shot: Shot) => Change;

/** A number and a button that uses it; hovering the button shows on the plot what it would do. */
function Tool(props: {
  label: string;
  title: string;
  number?: {
    readonly name: string;
    readonly value: number;
    readonly unit?: string;
    onChange(value: number): void;
  };
  disabled?: string | null;
  make: Make;
  onDone?(): void;
}) {
  const { label, title, number, disabled = null, make, onDone } = props;
  const session = useSession();
  return (
    <div className="flex items-center gap-1">
      <button
        type="button"
        className="btn min-w-0 flex-1 truncate px-1.5"
        disabled={disabled !== null}
        title={disabled ?? title}
        onPointerEnter={() => disabled === null && tryOut(session, make)}
        onPointerLeave={() => tryOut(session, null)}
        onClick={() => keepTrial(session, make) && onDone?.()}
      >
        {label}
      </button>
      {number && (
        <ExactField
          label={number.name}
          text={String(Number(number.value.toPrecision(6)))}
          unit={number.unit}
          className="w-[68px] flex-none"
          onType={(text) => {
            const value = Number(text.replace(',', '.'));
            if (!Number.isFinite(value)) return `"${text}" is no number.`;
            number.onChange(value);
            return null;
          }}
        />
      )}
    </div>
  );
}

/** Tools that change many keys at once: in time, in number, and from links into keys. */
export const Retime = memo(function Retime({ line, lines }: { line: Line; lines: readonly Line[] }) {
  const shot = useShot((state) => state.shot);
  const chosen = useChoice((state) => state.chosenKeys);
  const frames = chosen.flatMap(({ address, key }) => trackOf(shot, address)?.keys[key]?.frame ?? []);
  const span = frames.length > 1 ? { from: Math.min(...frames), to: Math.max(...frames) } : null;
  const meant: Meant = {
    ...{ line, lines, chosen, span },
    none: chosen.length === 0 ? 'Choose keys first' : null,
    two: span && span.to > span.from ? null : 'Choose keys at two frames or more: they are the range',
  };
  return (
    <div className="flex flex-col gap-1">
      <h4 className="font-semibold text-ink-2">
        {chosen.length === 0
          ? 'No keys chosen'
          : `${chosen.length} chosen ${chosen.length === 1 ? 'key' : 'keys'}`}
      </h4>
      <TimeTools {...meant} />
      <KeyTools {...meant} />
      <CurveTools {...meant} />
    </div>
  );
});

/** What the tools work on. */
interface Meant {
  /** The curve that leads. */
  readonly line: Line;
  readonly lines: readonly Line[];
  readonly chosen: readonly KeyAddress[];
  /** Frames of the first and the last chosen key. */
  readonly span: { readonly from: number; readonly to: number } | null;
  /** Why what needs a chosen key cannot be done. */
  readonly none: string | null;
  /** Why what needs keys at two frames cannot be done. */
  readonly two: string | null;
}

// Asked of the shot: a curve shows what is tried while the pointer is on a button.
const isLinked = (shot: Shot, address: string): boolean => linkOf(shot, address) !== null;
const hasKeys = (shot: Shot, address: string): boolean =>
  trackOf(shot, address) !== null && !isLinked(shot, address);

/** Moves keys in time, and what follows them. */
function TimeTools({ lines, chosen, span, none, two }: Meant) {
  const shot = useShot((state) => state.shot);
  const frame = useTime((state) => Math.round(state.frame));
  const [factor, setFactor] = useState(2);
  const [by, setBy] = useState(12);
  const [step, setStep] = useState(1);
  const [along, setAlong] = useState(true);
  const [whole, setWhole] = useState(true);
  /** Channels that are pushed: all of the shot, or those that are drawn. */
  const pushed = whole
    ? keyedChannels(shot)
    : lines.map(({ address }) => address).filter((address) => hasKeys(shot, address));
  const rest = { markers: along, range: along };
  return (
    <>
      <Tool
        label={`Times as long, about ${frame}`}
        title="Scale the chosen keys in time about the playhead"
        number={{ name: 'Times as long', value: factor, unit: '×', onChange: setFactor }}
        disabled={none}
        make={(now) => scaleKeys(now, chosen, frame, factor)}
      />
      <Tool
        label="Slow down, push rest"
        title="Play the range of the chosen keys so many times as long; what follows is pushed"
        number={{ name: 'Slow down by', value: factor, unit: '×', onChange: setFactor }}
        disabled={two}
        make={(now) => slowRange(now, pushed, span!.from, span!.to, factor, rest)}
      />
      <Tool
        label={`Push all after ${frame}`}
        title="Push the keys behind the playhead later; below 0 pulls them back"
        number={{ name: 'Push by', value: by, unit: 'f', onChange: setBy }}
        make={(now) => pushAfter(now, pushed, frame, by, rest)}
      />
      <div className="flex flex-wrap gap-x-3 text-xs text-ink-2">
        <label className="flex items-center gap-1" title="Else only the curves that are drawn">
          <input type="checkbox" className="accent-teal" checked={whole} onChange={() => setWhole(!whole)} />
          of the whole shot
        </label>
        <label
          className="flex items-center gap-1"
          title="Markers, sounds and the last frame of the shot are pushed, too"
        >
          <input type="checkbox" className="accent-teal" checked={along} onChange={() => setAlong(!along)} />
          markers, range along
        </label>
      </div>
      <Tool
        label="Stagger the curves"
        title="The chosen keys of each curve come so many frames later than those of the curve above it"
        number={{ name: 'Stagger by', value: step, unit: 'f', onChange: setStep }}
        disabled={
          new Set(chosen.map(({ address }) => address)).size > 1 ? null : 'Choose keys of two curves or more'
        }
        make={(now) => stagger(now, lines, chosen, step)}
      />
    </>
  );
}

/** Changes the chosen keys themselves. */
function KeyTools({ chosen, none, two }: Meant) {
  const [strength, setStrength] = useState(0.5);
  return (
    <>
      <div className="grid grid-cols-2 gap-1">
        <Tool
          label="Reverse"
          title="Turn the order of the chosen keys round"
          disabled={two}
          make={(now) => reverseKeys(now, chosen)}
        />
        <Tool
          label="To frames"
          title="Move the chosen keys to whole frames"
          disabled={none}
          make={(now) => snapKeys(now, chosen)}
        />
        <Tool
          label="Flatten"
          title="Lay the handles of the chosen keys level"
          disabled={none}
          make={(now) => flattenKeys(now, chosen)}
        />
        <Tool
          label="Match slope"
          title="Leave the chosen keys as steeply as the curve arrives"
          disabled={none}
          make={(now) => matchSlope(now, chosen)}
        />
      </div>
      <Tool
        label="Smooth"
        title="Move the chosen keys towards the line between their neighbours, by this share"
        number={{ name: 'Smooth by', value: strength, onChange: setStrength }}
        disabled={none}
        make={(now) => smoothKeys(now, chosen, strength)}
      />
    </>
  );
}

/** Fewer keys, keys of steps, and keys in place of links. */
function CurveTools({ line, lines, span }: Meant) {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const plan = useShot((state) => state.plan);
  const [every, setEvery] = useState(2);
  const [each, setEach] = useState(1);
  const [tolerance, setTolerance] = useState<number | null>(null);
  const { first, last, unit } = shot.setup;
  const per = line.spec.quantity === 'length' ? METRES_PER_UNIT[unit] : 1;
  const allowed = tolerance ?? Math.max(1e-6, (line.high - line.low) * 0.005);
  const thinnable = hasKeys(shot, line.address) && line.spec.kind === 'number';
  const thinned = useMemo(() => {
    if (!thinnable) return null;
    try {
      return thin(shot, [line.address], allowed);
    } catch (error) {
      if (error instanceof EditRefused) return null;
      throw error;
    }
  }, [shot, line.address, allowed, thinnable]);
  const bakeable = lines.map(({ address }) => address).filter((address) => isLinked(shot, address));
  return (
    <>
      <h4 className="mt-1 font-semibold text-ink-2">Curves</h4>
      <div
        onPointerEnter={() => session.plot.tolerate(thinned ? allowed : null)}
        onPointerLeave={() => session.plot.tolerate(null)}
        onFocus={() => session.plot.tolerate(thinned ? allowed : null)}
        onBlur={() => session.plot.tolerate(null)}
      >
        <Tool
          label={thinned ? `Thin: ${thinned.before} to ${thinned.after} keys` : 'Thin'}
          title="As few keys as stay within this of the curve that leads; the band shows it"
          number={{
            name: 'Tolerance',
            value: allowed / per,
            unit: line.spec.quantity === 'length' ? unit : line.spec.quantity === 'angle' ? '°' : '',
            onChange: (value) => {
              setTolerance(Math.max(1e-9, value * per));
              session.plot.tolerate(Math.max(1e-9, value * per));
            },
          }}
          disabled={
            !thinned
              ? 'Only keys of numbers can be thinned'
              : thinned.after >= thinned.before
                ? 'Within this tolerance no key can be spared'
                : null
          }
          make={(now) => thin(now, [line.address], allowed).change}
        />
      </div>
      <Tool
        label={every === 2 ? 'Hold on twos' : `Hold on every ${every}`}
        title="Hold each pose for so many frames, over the range of the chosen keys or of the shot"
        number={{ name: 'Hold for', value: every, unit: 'f', onChange: setEvery }}
        disabled={isLinked(shot, line.address) ? 'This curve is linked: bake it first' : null}
        make={(now) => holdOnSteps(now, [line.address], span?.from ?? first, span?.to ?? last, every)}
      />
      <Tool
        label={bakeable.length > 1 ? `Bake ${bakeable.length} links` : 'Bake the link'}
        title="Write what linked curves do into keys, one each so many frames, and take their links away"
        number={{ name: 'A key each', value: each, unit: 'f', onChange: setEach }}
        disabled={bakeable.length === 0 ? 'No curve that is drawn is linked' : null}
        make={(now) => bake(now, plan, bakeable, first, last, Math.max(1, each)).change}
        onDone={() => toast('What the links did is keys now. Thin takes out those that are not needed.')}
      />
    </>
  );
}

/** Moves the keys of each curve later than those of the curve above it. */
function stagger(shot: Shot, lines: readonly Line[], targets: readonly KeyAddress[], by: number): Change {
  const patches = [];
  let now = shot;
  let count = 0;
  for (const { address } of lines) {
    const own = targets.filter((target) => target.address === address);
    if (own.length === 0) continue;
    if (count > 0 && by !== 0) {
      const change = moveKeys(now, own, by * count);
      patches.push(...change.patches);
      now = apply(now, change);
    }
    count++;
  }
  return { label: `Stagger ${count} curves by ${by} frames`, patches };
}
