import { useEffect, useRef, useState } from 'react';
import type { Plan } from '../../../../core/evaluate';
import type { MotionAsked, MotionReport } from '../../../../core/report';
import type { ReportAnswer, ReportOrder } from './report-worker';

/** How a report stands: `report` is the last one that came. */
export interface ReportState {
  readonly share: number | null;
  readonly report: MotionReport | null;
  readonly failed: string | null;
  /** It was broken off before it was worked out. */
  readonly brokenOff: boolean;
}

const NOTHING: ReportState = { share: null, report: null, failed: null, brokenOff: false };

/** Has a report worked out; another one that is asked for breaks off the one before. `null` asks for none. */
export function useReport(
  plan: Plan,
  asked: MotionAsked | null,
): ReportState & { cancel(): void; again(): void } {
  const [state, setState] = useState(NOTHING);
  const [tries, setTries] = useState(0);
  const running = useRef<Worker | null>(null);
  const what = asked && JSON.stringify(asked);
  useEffect(() => {
    if (what === null) {
      setState(NOTHING);
      return;
    }
    const worker = new Worker(new URL('./report-worker.ts', import.meta.url), { type: 'module' });
    running.current = worker;
    setState((now) => ({ ...now, share: 0, failed: null, brokenOff: false }));
    worker.onmessage = ({ data }: MessageEvent<ReportAnswer>) => {
      if ('share' in data) setState((now) => ({ ...now, share: data.share }));
      else if ('failed' in data) setState({ ...NOTHING, failed: data.failed });
      else setState({ ...NOTHING, report: data.report });
    };
    worker.onerror = ({ message }) =>
      setState({ ...NOTHING, failed: message || 'It could not be worked out.' });
    worker.postMessage({
      shot: plan.shot,
      loudness: plan.loudness,
      asked: JSON.parse(what) as MotionAsked,
    } satisfies ReportOrder);
    return () => worker.terminate();
  }, [plan, what, tries]);
  return {
    ...state,
    cancel() {
      running.current?.terminate();
      setState((now) => ({ ...now, share: null, brokenOff: true }));
    },
    again: () => setTries((count) => count + 1),
  };
}
