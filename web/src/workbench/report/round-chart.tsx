import { LineChart } from 'echarts/charts';
import { LegendComponent, PolarComponent, TooltipComponent } from 'echarts/components';
import * as charts from 'echarts/core';
import { CanvasRenderer } from 'echarts/renderers';
import { useEffect } from 'react';
import { MEASURES, type MotionReport } from '../../../../core/report';
import { themed, useEvening } from '../../shared/theme';
import { useChart } from '../../shared/use-chart';
import { COLOURS, FONT } from './chart-parts';
import { digits, unitsOf, type Told } from './subjects';

charts.use([LineChart, PolarComponent, LegendComponent, TooltipComponent, CanvasRenderer]);

/** Share of the span of what is shown that is left free about the middle, so that small values can be told apart. */
const MIDDLE = 0.5;
/** Points that are drawn at most of each curve. */
const POINTS = 1440;

/** One of value, speed, acceleration and jerk round the circle of what drives it: angle 0 on the right, against the clock. */
export default function RoundChart(props: {
  report: MotionReport;
  told: readonly Told[];
  driver: Told;
  /** Place in the list of measures. */
  measure: number;
}) {
  const { report, told, driver, measure } = props;
  const { box, chart } = useChart(charts.init);
  const evening = useEvening();
  useEffect(() => {
    if (!report.driver) return;
    const text = { color: themed('ink-2'), fontFamily: FONT };
    const line = { lineStyle: { color: themed('line-soft') } };
    const every = Math.max(1, Math.ceil(report.frames.length / POINTS));
    const rows = report.subjects.map(({ curves }, s) =>
      Array.from(curves[measure]!.values, (value) => value * told[s]!.per),
    );
    const all = rows.flat();
    const [low, high] = all.reduce(
      ([a, b], value) => [Math.min(a, value), Math.max(b, value)],
      [Infinity, -Infinity],
    );
    const unit = unitsOf(told[0]?.unit ?? '', driver)[measure]!;
    chart.current?.setOption(
      {
        animation: false,
        legend: { top: 0, textStyle: text, type: 'plain' },
        tooltip: { trigger: 'item', valueFormatter: (value: unknown) => digits(value as number) },
        polar: { center: ['50%', '54%'], radius: '78%' },
        angleAxis: {
          type: 'value',
          min: 0,
          max: 360,
          startAngle: 0,
          clockwise: false,
          interval: 30,
          axisLabel: { ...text, formatter: (value: number) => (value % 360 === 0 ? '' : `${value}°`) },
          axisLine: line,
          splitLine: line,
        },
        radiusAxis: {
          type: 'value',
          min: high > low ? low - MIDDLE * (high - low) : low - 1,
          max: high > low ? high : low + 1,
          splitNumber: 4,
          name: `${MEASURES[measure]!} ${unit}`,
          nameGap: 8,
          nameTextStyle: text,
          axisLabel: { ...text, formatter: (value: number) => (value < low - 1e-12 ? '' : digits(value)) },
          axisLine: { lineStyle: { color: themed('line') } },
          splitLine: line,
        },
        series: rows.map((values, s) => ({
          type: 'line',
          coordinateSystem: 'polar',
          name: told[s]?.name ?? '',
          showSymbol: false,
          lineStyle: { color: themed(COLOURS[s % COLOURS.length]!), width: 1.8 },
          itemStyle: { color: themed(COLOURS[s % COLOURS.length]!) },
          data: values.flatMap((value, k) =>
            k % every === 0 || k === values.length - 1 ? [[value, report.driver![k]! * driver.per]] : [],
          ),
        })),
      },
      true,
    );
  }, [report, told, driver, measure, evening, chart]);
  return (
    <div
      ref={box}
      className="min-h-0 flex-1"
      role="img"
      aria-label={`${MEASURES[measure]!}, plotted round the circle of ${driver.name}`}
    />
  );
}
