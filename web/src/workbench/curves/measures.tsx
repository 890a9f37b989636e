import { memo, useMemo, useState } from 'react';
import { compiledComponents, halfway, sampleTrack, seam, speedFacts } from '../../../../core/curve';
import {
  channelAt,
  linkOf,
  sortedKeys,
  trackOf,
  type ChannelSpec,
  type Setup,
} from '../../../../core/document';
import {
  apply,
  channelName,
  closeLoop,
  setStretch,
  takeShape,
  type KeyAddress,
  type StretchManner,
} from '../../../../core/edit';
import { METRES_PER_UNIT } from '../../../../core/formula';
import { framesPerSecond } from '../../../../core/time';
import { describeValue, formatNumber } from '../../shared/format';
import { goTo, stop } from '../actions/time';
import { lanesOf } from '../keys/lanes';
import { mannerWords } from '../keys/key-words';
import { useChoice, usePlot, useSession, useShot, useTime } from '../session';
import { ExactField } from '../shaping/exact-field';
import { stretchesMeant, stretchesWords } from '../shaping/stretches';
import { keepTrial, tryOut } from '../shaping/trial';
import { LaneOptions } from './lane-options';
import type { Line } from './lines';
import { exactValue } from './rolling';
import { SlipMeter } from './slip-meter';
import { readNumber } from './typed-number';

const COMPARED: readonly StretchManner[] = ['hold', 'linear', 'ease-in', 'ease-out', 'ease-in-out'];

const tidy = (value: number): string => String(Math.round(value * 100) / 100);

function perUnit(spec: ChannelSpec, unit: Setup['unit']): { per: number; sign: string } {
  if (spec.quantity === 'length') return { per: METRES_PER_UNIT[unit], sign: ` ${unit}` };
  return { per: 1, sign: spec.quantity === 'angle' ? '°' : '' };
}

/** Where it is halfway, how fast, whether it closes, whether two agree, and whether it slips. */
export const Measures = memo(function Measures({ line }: { line: Line }) {
  return (
    <div className="flex flex-col gap-2.5">
      <Halfway line={line} />
      <Speeds line={line} />
      {line.spec.kind === 'number' && (
        <>
          <SeamMeter line={line} />
          <Laid line={line} />
          {line.spec.quantity === 'angle' && <SlipMeter line={line} />}
        </>
      )}
    </div>
  );
});

function Heading({ children }: { children: React.ReactNode }) {
  return <h4 className="mb-0.5 font-semibold text-ink-2">{children}</h4>;
}

function Fact({
  label,
  children,
  onGo,
  title,
}: {
  label: string;
  children: React.ReactNode;
  onGo?: () => void;
  title?: string;
}) {
  return (
    <div className="flex items-baseline gap-2">
      <span className="text-ink-2">{label}</span>
      {onGo ? (
        <button
          type="button"
          className="num ml-auto whitespace-nowrap rounded px-0.5 text-teal hover:underline"
          title={title}
          onClick={onGo}
        >
          {children}
        </button>
      ) : (
        <span className="num ml-auto whitespace-nowrap" title={title}>
          {children}
        </span>
      )}
    </div>
  );
}

/** The one stretch that is meant of a curve. */
function useStretch(line: Line): KeyAddress | null {
  const shot = useShot((state) => state.shot);
  const chosenKeys = useChoice((state) => state.chosenKeys);
  const frame = useTime((state) => state.frame);
  const own = chosenKeys.filter(({ address }) => address === line.address);
  return stretchesMeant(shot, own, [line.address], frame)[0] ?? null;
}

/** Value and share of the way in the middle of the stretch, and five ways to move side by side when asked. */
function Halfway({ line }: { line: Line }) {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const stretch = useStretch(line);
  const [comparing, setComparing] = useState(false);
  const { unit } = shot.setup;
  const ends = useMemo(() => {
    if (!stretch || !line.track) return null;
    const keys = sortedKeys(trackOf(shot, stretch.address)!);
    const index = keys.findIndex(({ id }) => id === stretch.key);
    return { from: keys[index]!.key.frame, to: keys[index + 1]!.key.frame };
  }, [shot, stretch, line.track]);
  if (!stretch || !ends || !line.components[0])
    return <p className="text-ink-3">Between two keys it is told here what it has halfway.</p>;
  const colour = line.spec.kind === 'colour';
  const facts = (of: typeof shot) => {
    // The middle of a colour is told by the component that it blends in first.
    const [component] = compiledComponents(trackOf(of, line.address)!, colour ? 3 : 1);
    return halfway((frame) => sampleTrack(component!, frame), ends.from, ends.to);
  };
  const told = (of: typeof shot): string => {
    const { value, share } = facts(of);
    const percent = share === null ? '' : ` · ${Math.round(share * 1000) / 10} %`;
    if (colour) return percent.slice(3) || 'no way';
    return `${describeValue(line.spec, value, unit)}${percent}`;
  };
  const middle = (ends.from + ends.to) / 2;
  return (
    <section aria-label="Halfway">
      <Heading>{stretchesWords(shot, [stretch])}</Heading>
      <Fact label={`Halfway, frame ${tidy(middle)}`}>
        <span data-testid="halfway">{told(shot)}</span>
      </Fact>
      <button
        type="button"
        aria-expanded={comparing}
        className="text-teal hover:underline"
        onClick={() => setComparing(!comparing)}
      >
        {comparing ? 'Hide the comparison' : 'Compare five ways to move'}
      </button>
      {comparing && (
        <table className="mt-0.5 w-full" aria-label="Halfway by five ways to move">
          <tbody>
            {COMPARED.map((manner) => (
              <tr
                key={manner}
                className="hover:bg-raised"
                onPointerEnter={() => tryOut(session, (now) => setStretch(now, [stretch], manner))}
                onPointerLeave={() => tryOut(session, null)}
              >
                <th scope="row" className="text-left font-normal text-ink-2">
                  <button
                    type="button"
                    className="hover:underline"
                    title="Let the stretch move so"
                    onClick={() => keepTrial(session, (now) => setStretch(now, [stretch], manner))}
                  >
                    {mannerWords(manner)}
                  </button>
                </th>
                <td className="num whitespace-nowrap text-right">
                  {told(apply(shot, setStretch(shot, [stretch], manner)))}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}

/** Where it is quickest and slowest over the range. */
function Speeds({ line }: { line: Line }) {
  const session = useSession();
  const { first, last, rate, unit } = useShot((state) => state.shot.setup);
  const below = usePlot((state) => state.below);
  const facts = useMemo(() => (line.at ? speedFacts(line.at, first, last) : null), [line, first, last]);
  if (!facts) return null;
  const { per, sign } = perUnit(line.spec, unit);
  const told = (speed: number): string =>
    `${formatNumber((speed * framesPerSecond(rate)) / per, 2)}${sign}/s`;
  const go = (frame: number) => () => {
    stop(session);
    goTo(session, Math.round(frame));
  };
  return (
    <section aria-label="Speed">
      <Fact
        label="Top speed"
        title={`At frame ${tidy(facts.top.frame)}: go there`}
        onGo={go(facts.top.frame)}
      >
        {told(facts.top.speed)}
      </Fact>
      <Fact
        label="Least speed"
        title={`At frame ${tidy(facts.least.frame)}: go there`}
        onGo={go(facts.least.frame)}
      >
        {told(facts.least.speed)}
      </Fact>
      <div
        role="group"
        aria-label="Below the curves"
        className="mt-1 grid grid-cols-3 overflow-hidden rounded-md border border-line"
      >
        {(
          [
            ['nothing', 'no plot'],
            ['speed', 'speed'],
            ['acceleration', 'accel.'],
          ] as const
        ).map(([name, words]) => (
          <button
            key={name}
            type="button"
            aria-pressed={below === name}
            title={name === 'nothing' ? 'Nothing below the curves' : `Plot the ${name} below the curves`}
            className={`h-[22px] truncate ${below === name ? 'bg-ink text-panel' : 'bg-raised hover:bg-field'}`}
            onClick={() => session.plot.show(name)}
          >
            {words}
          </button>
        ))}
      </div>
    </section>
  );
}

/** What is amiss where the end meets the beginning, and the cure. */
function SeamMeter({ line }: { line: Line }) {
  const session = useSession();
  const plan = useShot((state) => state.plan);
  const trial = usePlot((state) => state.trial);
  const { first, last, rate, unit } = useShot((state) => state.shot.setup);
  const facts = useMemo(
    () => seam(exactValue(plan, trial, line.address), first, last + 1),
    [plan, trial, line.address, first, last],
  );
  const { per, sign } = perUnit(line.spec, unit);
  const perSecond = framesPerSecond(rate);
  const small = (value: number): boolean => Math.abs(value) < 1e-4;
  const told = (value: number, unitOf: string): string => `${formatNumber(value / per, 3)}${sign}${unitOf}`;
  // A whole turn is no difference to the eye.
  const turns =
    line.spec.quantity === 'angle' ? facts.value - 360 * Math.round(facts.value / 360) : facts.value;
  // What is only tried while the pointer is on the button does not take the button away.
  const closed = trial === null && small(turns) && small(facts.speed);
  const close = (now: typeof plan.shot) => closeLoop(now, [line.address], last + 1);
  return (
    <section aria-label="Seam">
      <Heading>
        Seam: frame {last + 1} against {first}
      </Heading>
      <Fact label="Value">{told(turns, '')}</Fact>
      <Fact label="Speed">{told(facts.speed * perSecond, '/s')}</Fact>
      <Fact label="Acceleration">{told(facts.acceleration * perSecond * perSecond, '/s²')}</Fact>
      {closed ? (
        <p className="text-good" data-testid="seam-closed">
          It closes: nothing jumps or jolts.
        </p>
      ) : line.linked ? (
        <p className="text-ink-3">It is linked: what it follows has to close.</p>
      ) : (
        <button
          type="button"
          className="btn mt-1 w-full"
          title={`Give frame ${last + 1} the value and the slope of frame ${first}`}
          onPointerEnter={() => tryOut(session, close)}
          onPointerLeave={() => tryOut(session, null)}
          onClick={() => keepTrial(session, close)}
        >
          Close the loop
        </button>
      )}
    </section>
  );
}

/** Another channel over this one, and its timing taken over. */
function Laid({ line }: { line: Line }) {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const overlay = usePlot((state) => state.overlay);
  const stretch = useStretch(line);
  const lanes = useMemo(
    () => lanesOf(shot).filter((lane) => channelAt(shot, lane.address)?.spec.kind === 'number'),
    [shot],
  );
  const other = overlay && lanes.some((lane) => lane.address === overlay.address) ? overlay : null;
  const { first, last } = shot.setup;
  /** Lays it so that both have the same least and largest value. */
  const lay = (address: string): void => {
    if (address === '') {
      session.plot.lay(null);
      return;
    }
    const at = exactValue(session.doc.now.plan, null, address);
    let [low, high] = [Infinity, -Infinity];
    for (let frame = first; frame <= last; frame++) {
      const value = at(frame);
      low = Math.min(low, value);
      high = Math.max(high, value);
    }
    const same = channelAt(shot, address)?.spec.quantity === line.spec.quantity;
    if (same || high - low < 1e-12) {
      session.plot.lay({ address, scale: 1, offset: 0, shift: 0 });
      return;
    }
    // What goes down while the other goes up is laid upside down.
    const own = line.at ? line.at(last) - line.at(first) : 1;
    const against = own * (at(last) - at(first)) < 0;
    const scale = ((line.high - line.low) / (high - low)) * (against ? -1 : 1);
    session.plot.lay({ address, scale, offset: line.low - (against ? high : low) * scale, shift: 0 });
  };
  const field = (label: string, key: 'scale' | 'offset' | 'shift', title: string) =>
    other && (
      <label className="flex flex-col text-xs text-ink-2">
        {label}
        <ExactField
          label={`Overlay: ${label}`}
          text={String(Number(other[key].toPrecision(6)))}
          title={title}
          onType={(text) => {
            const number = readNumber(text);
            if (number === null) return `"${text}" is no number.`;
            session.plot.lay({ ...other, [key]: number });
            return null;
          }}
        />
      </label>
    );
  /** Stretch of the other channel that lies where this one does. */
  const source = useMemo((): KeyAddress | null => {
    if (!other || !stretch || linkOf(shot, other.address)) return null;
    const track = trackOf(shot, other.address);
    const at = trackOf(shot, stretch.address)?.keys[stretch.key]?.frame;
    if (!track || at === undefined) return null;
    const keys = sortedKeys(track);
    const index = keys.findLastIndex(({ key }) => key.frame <= at - other.shift + 1e-6);
    return index >= 0 && index < keys.length - 1 ? { address: other.address, key: keys[index]!.id } : null;
  }, [shot, other, stretch]);
  const take = (now: typeof shot) => takeShape(now, source!, [stretch!]);
  return (
    <section aria-label="Overlay">
      <label className="flex flex-col gap-0.5">
        <span className="font-semibold text-ink-2">Lay another over it</span>
        <select
          className="input-field h-[22px] w-full px-1"
          value={other?.address ?? ''}
          onChange={(event) => lay(event.target.value)}
        >
          <option value="">nothing</option>
          <LaneOptions lanes={lanes} but={line.address} />
        </select>
      </label>
      {other && (
        <>
          <div className="mt-1 grid grid-cols-3 gap-1">
            {field('times', 'scale', 'Its values are multiplied by this')}
            {field('plus', 'offset', 'Then raised by this')}
            {field('later', 'shift', 'Shown so many frames later')}
          </div>
          <button
            type="button"
            className="btn mt-1 w-full"
            disabled={!source || !stretch || line.linked}
            title={
              line.linked
                ? 'This curve is linked: it has no shape of its own'
                : source && stretch
                  ? `The stretch takes over the timing of ${channelName(shot, source.address)}; its keys stay`
                  : 'Both need a stretch between two keys here'
            }
            onPointerEnter={() => source && stretch && tryOut(session, take)}
            onPointerLeave={() => tryOut(session, null)}
            onClick={() => keepTrial(session, take)}
          >
            Take over its shape
          </button>
        </>
      )}
    </section>
  );
}
