import { channelAt, type Shot } from '../../../../core/document';
import type { Response } from '../../../../core/evaluate';
import { METRES_PER_UNIT } from '../../../../core/formula';

/** Unit in which a channel is plotted, and what its house value is multiplied by. */
export function plotted(shot: Shot, address: string): { unit: string; per: number } {
  const spec = channelAt(shot, address)?.spec;
  if (spec?.quantity === 'angle') return { unit: '°', per: 1 };
  if (spec?.quantity !== 'length') return { unit: spec?.quantity === 'time' ? 's' : '', per: 1 };
  const { unit } = shot.setup;
  return { unit, per: 1 / METRES_PER_UNIT[unit] };
}

/** A number as the plot writes it. */
export const shown = (value: number): string => String(Math.round(value * 1000) / 1000);

/** Which formula a response is of. */
export type ResponseName = 'now' | 'other formula';

/** What a plot of responses is made from. */
export interface ResponsePicture {
  readonly responses: readonly (readonly [ResponseName, Response])[];
  /** What runs along the plot, with its unit. */
  readonly over: string;
  /** House units. */
  readonly from: number;
  readonly to: number;
  /** What house values along the plot are multiplied by. */
  readonly sweep: number;
  readonly value: { readonly unit: string; readonly per: number };
  readonly speed: { readonly unit: string; readonly per: number };
  readonly colours: Readonly<Record<ResponseName, string>>;
  readonly text: { readonly color: string; readonly fontFamily: string };
}

/** The plot as the chart takes it: each response as a line, and its speed on an axis of its own. */
export function responseOption(of: ResponsePicture) {
  const { responses, over, from, to, sweep, value, speed, colours, text } = of;
  const axis = (name: string) => ({
    type: 'value' as const,
    name,
    scale: true,
    axisLine: { show: true, onZero: false },
    nameTextStyle: text,
    axisLabel: { ...text, formatter: shown },
  });
  const line = (name: ResponseName, width: number) => ({
    type: 'line' as const,
    showSymbol: false,
    lineStyle: { color: colours[name], width },
    itemStyle: { color: colours[name] },
  });
  return {
    animation: false,
    legend: { top: 0, textStyle: text },
    tooltip: { trigger: 'axis', valueFormatter: (shownValue: unknown) => (shownValue as number).toFixed(4) },
    grid: { left: 62, right: 66, top: 46, bottom: 42 },
    xAxis: {
      ...axis(over),
      nameLocation: 'middle',
      nameGap: 26,
      min: from * sweep,
      max: to * sweep,
    },
    yAxis: [axis(value.unit || 'value'), { ...axis(speed.unit), splitLine: { show: false } }],
    series: responses.flatMap(([name, { x, y, slope }]) => [
      { ...line(name, 2), name, data: x.map((at, i) => [at * sweep, y[i]! * value.per]) },
      {
        ...line(name, 1.2),
        name: `${name}, speed`,
        yAxisIndex: 1,
        lineStyle: { color: colours[name], width: 1.2, type: 'dashed' as const },
        data: x.map((at, i) => [at * sweep, slope[i]! * speed.per]),
      },
    ]),
  };
}
