import { LineChart } from 'echarts/charts';
import { GridComponent, LegendComponent, TooltipComponent } from 'echarts/components';
import * as charts from 'echarts/core';
import { CanvasRenderer } from 'echarts/renderers';
import { Dialog } from 'radix-ui';
import { useEffect, useMemo, useState } from 'react';
import { channelAt, linkOf } from '../../../../core/document';
import { apply, channelName, setLink } from '../../../../core/edit';
import {
  chainOf,
  compile,
  linkMap,
  responseOverTime,
  responseToInput,
  type Plan,
  type Response,
} from '../../../../core/evaluate';
import { checkTyped, NameTable, textOfLink } from '../../../../core/formula';
import { framesPerSecond } from '../../../../core/time';
import { formulasBefore } from '../formula/formula-history';
import { themed, useEvening } from '../../shared/theme';
import { useChart } from '../../shared/use-chart';
import { useSession, useChoice, useShot, useTime } from '../session';
import { plotted, responseOption, shown } from './response-chart';

charts.use([LineChart, GridComponent, LegendComponent, TooltipComponent, CanvasRenderer]);

const TIME = 'time';

function factsOf(
  { y, slope }: Response,
  per: number,
  unit: string,
  speedPer: number,
  speedUnit: string,
): string {
  const fastest = Number((Math.max(...slope.map(Math.abs)) * per * speedPer).toPrecision(4));
  const [least, most] = [Math.min(...y) * per, Math.max(...y) * per];
  return `least ${shown(least)} ${unit}, most ${shown(most)} ${unit}, fastest ${fastest} ${speedUnit}`;
}

type Responses = readonly (readonly [name: 'now' | 'other formula', response: Response])[];

/** Draws responses. @returns where, and the units of the value and of its speed, each with how many one of ours is */
function useResponseChart({
  address,
  against,
  from,
  to,
  responses,
}: {
  address: string;
  against: string;
  from: number;
  to: number;
  responses: Responses;
}) {
  const shot = useShot((state) => state.shot);
  const { rate } = shot.setup;
  const { box, chart } = useChart(charts.init);
  const evening = useEvening();
  const { unit, per } = plotted(shot, address);
  const sweep = against === TIME ? { unit: 'frame', per: 1 } : plotted(shot, against);
  const speedPer = against === TIME ? framesPerSecond(rate) : 1 / sweep.per;
  const speedUnit = against === TIME ? `${unit}/s` : `${unit}/${sweep.unit || '1'}`;
  useEffect(() => {
    const colours = { now: themed('link'), 'other formula': themed('brass') };
    const text = { color: themed('ink-2'), fontFamily: 'Archivo Variable' };
    const over = against === TIME ? 'frame' : `${channelName(shot, against)} ${sweep.unit}`;
    chart.current?.setOption(
      responseOption({
        ...{ responses, over, from, to, colours, text },
        ...{ value: { unit, per }, sweep: sweep.per, speed: { unit: speedUnit, per: per * speedPer } },
      }),
      true,
    );
  }, [
    responses,
    against,
    shot,
    from,
    to,
    unit,
    per,
    speedPer,
    speedUnit,
    sweep.per,
    sweep.unit,
    evening,
    chart,
  ]);
  return { box, unit, per, speedPer, speedUnit };
}

interface Limits {
  readonly from: string;
  readonly to: string;
}

/** Where the sweep begins and ends; what is left empty is as far as it goes by itself. */
function SweepFields({
  limits,
  preset,
  wrong,
  onChange,
}: {
  limits: Limits;
  preset: readonly [number, number];
  wrong: boolean;
  onChange(limits: Limits): void;
}) {
  return (
    <>
      {(['from', 'to'] as const).map((end, i) => (
        <label key={end} className="flex items-center gap-1">
          {end}
          <input
            aria-label={`Sweep ${end}`}
            aria-invalid={wrong}
            className="input-field num h-[24px] w-20 px-1 text-right placeholder:text-ink-3"
            placeholder={shown(preset[i]!)}
            value={limits[end]}
            onChange={(event) => onChange({ ...limits, [end]: event.target.value })}
          />
        </label>
      ))}
    </>
  );
}

/** A response plotted: the value and its speed, now and by another formula, over time or against one input. */
export default function ResponsePlot() {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const plan = useShot((state) => state.plan);
  const frame = useTime((state) => state.frame);
  const address = useChoice((state) => state.channel)!;
  const [against, setAgainst] = useState(TIME);
  const [limits, setLimits] = useState<Limits>({ from: '', to: '' });
  const link = linkOf(shot, address);
  const names = useMemo(() => new NameTable(shot), [shot]);
  const before = formulasBefore(session.doc.now.undo, address, names)[0] ?? '';
  const [other, setOther] = useState(before);
  const inputs = useMemo(
    () =>
      [...chainOf(linkMap(plan), address, 'up')].filter(
        (input) => input !== address && channelAt(plan.shot, input)?.spec.kind !== 'colour',
      ),
    [plan, address],
  );
  const { first, last } = shot.setup;
  const preset = useMemo((): [number, number] => {
    if (against === TIME) return [first, last];
    const values = responseOverTime(plan, against, first, last, 97).y;
    const [low, high] = [Math.min(...values), Math.max(...values)];
    if (high - low > 1e-9) return [low, high];
    return channelAt(shot, against)?.spec.quantity === 'angle' ? [0, 360] : [low - 1, low + 1];
  }, [against, plan, shot, first, last]);
  const read = (text: string, fallback: number): number =>
    text.trim() !== '' && Number.isFinite(Number(text)) ? Number(text) : fallback;
  const [from, to] = [read(limits.from, preset[0]), read(limits.to, preset[1])];
  const wrong = from >= to;

  const checked = other.trim() === '' ? null : checkTyped(names, address, other);
  const otherPlan = useMemo((): Plan | null => {
    if (!checked?.ok) return null;
    return compile(apply(shot, setLink(shot, address, other)), plan.loudness, plan);
    // The text tells all.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, [shot, address, other]);

  const responses = useMemo((): Responses => {
    if (wrong) return [];
    const respond = (of: Plan): Response =>
      against === TIME
        ? responseOverTime(of, address, from, to)
        : responseToInput(of, address, against, frame, from, to);
    return [
      ['now', respond(plan)] as const,
      ...(otherPlan ? [['other formula', respond(otherPlan)] as const] : []),
    ];
  }, [plan, otherPlan, address, against, from, to, frame, wrong]);

  const { box, unit, per, speedPer, speedUnit } = useResponseChart({ address, against, from, to, responses });

  const now = responses[0]?.[1];
  return (
    <>
      <Dialog.Title className="mb-2 truncate text-[15px] font-bold">
        Response of {channelName(shot, address)}
      </Dialog.Title>
      <p className="num mb-2 truncate text-link" title={link ? textOfLink(names, link) : undefined}>
        {link ? `= ${textOfLink(names, link)}` : 'no link: its own value'}
      </p>
      <div className="mb-2 flex flex-wrap items-center gap-2">
        <label className="flex items-center gap-1.5">
          Against
          <select
            aria-label="Against"
            className="input-field h-[24px] max-w-[220px] px-1"
            value={against}
            onChange={(event) => {
              setAgainst(event.target.value);
              setLimits({ from: '', to: '' });
            }}
          >
            <option value={TIME}>time</option>
            {inputs.map((input) => (
              <option key={input} value={input}>
                {channelName(shot, input)}
              </option>
            ))}
          </select>
        </label>
        <SweepFields limits={limits} preset={preset} wrong={wrong} onChange={setLimits} />
        <label className="flex min-w-0 flex-1 items-center gap-1.5">
          Compare with
          <input
            aria-label="Compare with the formula"
            aria-invalid={checked !== null && !checked.ok}
            className="input-field num h-[24px] min-w-0 flex-1 px-1.5 placeholder:text-ink-3"
            placeholder={before ? before : 'another formula'}
            value={other}
            onChange={(event) => setOther(event.target.value)}
          />
        </label>
      </div>
      {wrong && (
        <p role="alert" className="text-now">
          The sweep goes from less to more: {shown(from)} is not below {shown(to)}.
        </p>
      )}
      {checked && !checked.ok && (
        <p role="alert" className="text-now">
          {checked.error.message}
        </p>
      )}
      <div ref={box} className="min-h-0 flex-1" role="img" aria-label="Plot of the response" />
      <p className="num mt-1 flex items-center text-ink-2" data-testid="response-facts">
        {now && factsOf(now, per, unit, speedPer, speedUnit)}
        <Dialog.Close className="btn ml-auto">Close</Dialog.Close>
      </p>
    </>
  );
}
