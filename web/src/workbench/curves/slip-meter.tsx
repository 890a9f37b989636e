import { useMemo } from 'react';
import { channelAt } from '../../../../core/document';
import { channelName } from '../../../../core/edit';
import { METRES_PER_UNIT } from '../../../../core/formula';
import { lanesOf } from '../keys/lanes';
import { usePlot, useSession, useShot } from '../session';
import { ExactField } from '../shaping/exact-field';
import { LaneOptions } from './lane-options';
import type { Line } from './lines';
import { likelySign, radiusOf, rollingFacts, waysOf } from './rolling';
import { readNumber } from './typed-number';

/** Worst slip of a wheel that rolls along a way, in millimetres. */
export function SlipMeter({ line }: { line: Line }) {
  const session = useSession();
  const plan = useShot((state) => state.plan);
  const trial = usePlot((state) => state.trial);
  const rolling = usePlot((state) => state.rolling);
  const { shot } = plan;
  const ways = useMemo(() => waysOf(shot, line.address), [shot, line.address]);
  const all = useMemo(
    () =>
      lanesOf(shot)
        .filter((lane) => channelAt(shot, lane.address)?.spec.quantity === 'length')
        .map((lane) => lane.address),
    [shot],
  );
  const named = useMemo(
    () => [...new Set([...ways, ...all])].map((address) => ({ address, name: channelName(shot, address) })),
    [ways, all, shot],
  );
  const facts = useMemo(
    () =>
      rolling && named.some(({ address }) => address === rolling.way)
        ? rollingFacts(plan, trial, line.address, rolling)
        : null,
    // The ways follow from the plan.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
    [plan, trial, line.address, rolling],
  );
  const { unit } = shot.setup;
  const per = METRES_PER_UNIT[unit];
  const choose = (way: string): void => {
    if (way === '') {
      session.plot.roll(null);
      session.plot.show('nothing');
      return;
    }
    const radius = radiusOf(plan, line.address) ?? 0.5;
    session.plot.roll({ way, radius, sign: likelySign(plan, line.address, way, radius) });
  };
  const worst = facts ? Math.abs(facts.worst.slip) * 1000 : 0;
  return (
    <section aria-label="Slip">
      <label className="flex flex-col gap-0.5">
        <span className="font-semibold text-ink-2">It rolls along</span>
        <select
          className="input-field h-[22px] w-full px-1"
          value={facts ? rolling!.way : ''}
          onChange={(event) => choose(event.target.value)}
        >
          <option value="">nothing</option>
          <LaneOptions lanes={named} />
        </select>
      </label>
      {facts && rolling && (
        <>
          <div className="mt-1 grid grid-cols-2 gap-1">
            <label className="flex flex-col text-xs text-ink-2">
              radius
              <ExactField
                label="Rolling radius"
                text={String(Number((rolling.radius / per).toPrecision(9)))}
                unit={unit}
                onType={(text) => {
                  const number = readNumber(text);
                  if (number === null || number <= 0) return 'A radius above 0 is wanted.';
                  session.plot.roll({ ...rolling, radius: number * per });
                  return null;
                }}
              />
            </label>
            <label className="flex flex-col text-xs text-ink-2">
              turning
              <select
                className="input-field h-[22px] px-1"
                value={rolling.sign}
                onChange={(event) =>
                  session.plot.roll({ ...rolling, sign: event.target.value === '1' ? 1 : -1 })
                }
              >
                <option value="1">with it</option>
                <option value="-1">against it</option>
              </select>
            </label>
          </div>
          <p
            className={`mt-1 rounded-md px-2 py-1 font-semibold ${worst < 0.5 ? 'bg-link-wash text-link' : 'bg-brass-wash text-brass'}`}
            data-testid="slip"
          >
            {worst < 0.05
              ? 'It rolls without slip'
              : `Slip at most ${worst.toFixed(worst < 10 ? 2 : 1)} mm, at frame ${facts.worst.frame}`}
          </p>
        </>
      )}
    </section>
  );
}
