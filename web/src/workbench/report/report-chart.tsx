import { LineChart } from 'echarts/charts';
import { AxisPointerComponent, GridComponent, LegendComponent, TooltipComponent } from 'echarts/components';
import * as charts from 'echarts/core';
import { CanvasRenderer } from 'echarts/renderers';
import { useEffect } from 'react';
import type { MotionReport } from '../../../../core/report';
import { themed, useEvening } from '../../shared/theme';
import { useChart } from '../../shared/use-chart';
import { COLOURS, FONT } from './chart-parts';
import { digits, unitsOf, type Told } from './subjects';

charts.use([
  LineChart,
  GridComponent,
  LegendComponent,
  TooltipComponent,
  AxisPointerComponent,
  CanvasRenderer,
]);

const ROWS = ['value', 'speed', 'acceleration', 'jerk'] as const;
/** Share of the height of each plot, and from one to the next. */
const [HIGH, STEP, TOP] = [18.5, 23.5, 5];

interface Props {
  readonly report: MotionReport;
  readonly told: readonly Told[];
  readonly driver: Told | null;
}

/** Value, speed, acceleration and jerk below one another, over frames or over the driver. */
export default function ReportChart({ report, told, driver }: Props) {
  const { box, chart } = useChart(charts.init);
  const evening = useEvening();
  useEffect(() => {
    const text = { color: themed('ink-2'), fontFamily: FONT };
    const by = driver && report.driver;
    const x = by ? report.driver : report.frames;
    const scale = by ? driver.per : 1;
    const ends = [x[0]! * scale, x.at(-1)! * scale].sort((a, b) => a - b);
    const units = told.length > 0 ? unitsOf(told[0]!.unit, by ? driver : null) : ['', '', '', ''];
    // What has another unit than the first has its axis on the right.
    const other = told.find(({ unit }) => unit !== told[0]?.unit);
    const others = other ? unitsOf(other.unit, by ? driver : null) : null;
    const line = { lineStyle: { color: themed('line-soft') } };
    chart.current?.setOption(
      {
        animation: false,
        legend: { top: 0, textStyle: text, type: 'plain' },
        tooltip: { trigger: 'axis', valueFormatter: (value: unknown) => digits(value as number) },
        axisPointer: { link: [{ xAxisIndex: 'all' }] },
        grid: ROWS.map((_, i) => ({
          left: 78,
          right: other ? 66 : 14,
          top: `${TOP + i * STEP}%`,
          height: `${HIGH}%`,
        })),
        xAxis: ROWS.map((_, i) => ({
          type: 'value' as const,
          gridIndex: i,
          min: ends[0],
          max: ends[1],
          name: i === ROWS.length - 1 ? (by ? `${driver.name} ${driver.unit}` : 'frame') : '',
          nameLocation: 'middle' as const,
          nameGap: 20,
          nameTextStyle: text,
          axisLabel: { ...text, show: i === ROWS.length - 1, formatter: digits },
          axisLine: { onZero: false },
          splitLine: line,
        })),
        yAxis: [...ROWS, ...(others ? ROWS : [])].map((row, k) => ({
          type: 'value' as const,
          gridIndex: k % ROWS.length,
          position: k < ROWS.length ? ('left' as const) : ('right' as const),
          scale: k % ROWS.length === 0,
          splitNumber: 3,
          name: k < ROWS.length ? `${row} ${units[k]}` : others![k - ROWS.length],
          nameLocation: 'end' as const,
          nameGap: 5,
          nameTextStyle: { ...text, align: k < ROWS.length ? ('left' as const) : ('right' as const) },
          axisLabel: { ...text, formatter: digits },
          splitLine: k < ROWS.length ? line : { show: false },
        })),
        series: report.subjects.flatMap(({ curves }, s) =>
          curves.map(({ values }, i) => ({
            type: 'line',
            name: told[s]?.name ?? '',
            xAxisIndex: i,
            yAxisIndex: told[s]!.unit === told[0]!.unit ? i : i + ROWS.length,
            showSymbol: false,
            lineStyle: { color: themed(COLOURS[s % COLOURS.length]!), width: 1.8 },
            itemStyle: { color: themed(COLOURS[s % COLOURS.length]!) },
            data: Array.from(values, (value, k) => [x[k]! * scale, value * told[s]!.per]),
          })),
        ),
      },
      true,
    );
  }, [report, told, driver, evening, chart]);
  return (
    <div
      ref={box}
      className="min-h-0 flex-1"
      role="img"
      aria-label="Value, speed, acceleration and jerk, plotted"
    />
  );
}
