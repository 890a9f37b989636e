import type { EChartsType } from 'echarts/core';
import { useEffect, useRef, type RefObject } from 'react';

/**
 * A chart in a box, always as large as that is.
 * @param init makes a chart in an element; always the same function
 */
export function useChart(init: (element: HTMLElement | null) => EChartsType): {
  readonly box: RefObject<HTMLDivElement | null>;
  readonly chart: RefObject<EChartsType | null>;
} {
  const box = useRef<HTMLDivElement>(null);
  const chart = useRef<EChartsType | null>(null);
  useEffect(() => {
    const made = init(box.current);
    chart.current = made;
    const watcher = new ResizeObserver(() => made.resize());
    watcher.observe(box.current!);
    return () => {
      watcher.disconnect();
      made.dispose();
    };
  }, [init]);
  return { box, chart };
}
