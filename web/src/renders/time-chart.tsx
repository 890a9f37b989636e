import { ScatterChart } from 'echarts/charts';
import { GridComponent, LegendComponent, TooltipComponent } from 'echarts/components';
import * as charts from 'echarts/core';
import { CanvasRenderer } from 'echarts/renderers';
import { useEffect } from 'react';
import type { RenderJob, RenderStory } from '../../../wire';
import { themed, useEvening } from '../shared/theme';
import { useChart } from '../shared/use-chart';

charts.use([ScatterChart, GridComponent, LegendComponent, TooltipComponent, CanvasRenderer]);

const COLOURS = ['curve-1', 'curve-2', 'curve-3', 'curve-4', 'curve-5', 'curve-6'] as const;

/** Milliseconds that drawing took, by frame, a colour for each machine. */
export default function TimeChart({ job, story }: { job: RenderJob; story: RenderStory }) {
  const { box, chart } = useChart(charts.init);
  const evening = useEvening();
  useEffect(() => {
    const text = { color: themed('ink-2'), fontFamily: 'Archivo Variable' };
    const axis = (name: string) => ({
      type: 'value' as const,
      name,
      nameTextStyle: text,
      axisLabel: text,
      splitLine: { lineStyle: { color: themed('line-soft') } },
    });
    chart.current?.setOption(
      {
        animation: false,
        legend: { show: story.names.length > 1, top: 0, right: 0, textStyle: text },
        tooltip: { formatter: ({ value }: { value: number[] }) => `Frame ${value[0]}: ${value[1]} ms` },
        grid: { left: 52, right: 12, top: 28, bottom: 34 },
        xAxis: {
          ...axis('frame'),
          min: job.first,
          max: Math.max(job.last, job.first + 1),
          nameLocation: 'middle',
          nameGap: 22,
        },
        yAxis: { ...axis('ms'), min: 0 },
        series: story.names.map((name, i) => ({
          type: 'scatter',
          name,
          symbolSize: 5,
          itemStyle: { color: themed(COLOURS[i % COLOURS.length]!) },
          data: story.frames.flatMap((frame, at) =>
            story.machines[at] === i && story.took[at] !== null ? [[frame, story.took[at]]] : [],
          ),
        })),
      },
      true,
    );
  }, [job.first, job.last, story, evening, chart]);
  return <div ref={box} className="h-52" role="img" aria-label="Time for each frame, in milliseconds" />;
}
