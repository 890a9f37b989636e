import { useEffect, useRef, useState } from 'react';
import type { Plan } from '../../../../core/evaluate';
import type { Found, Question } from '../../../../core/find';
import type { FindAnswer, FindOrder } from './find-worker';

/** How a search stands, and of which question the answers are. */
export interface FindState {
  readonly share: number | null;
  readonly found: Found | null;
  readonly of: Question | null;
  readonly failed: string | null;
}

const NOTHING: FindState = { share: null, found: null, of: null, failed: null };

/** Searches in a worker; a search is given up by ending that. */
export function useFind(): FindState & { start(plan: Plan, question: Question): void; cancel(): void } {
  const [state, setState] = useState(NOTHING);
  const worker = useRef<Worker | null>(null);
  const end = (): void => {
    worker.current?.terminate();
    worker.current = null;
  };
  useEffect(() => end, []);
  return {
    ...state,
    start(plan, question) {
      end();
      const made = new Worker(new URL('./find-worker.ts', import.meta.url), { type: 'module' });
      worker.current = made;
      setState({ ...NOTHING, share: 0 });
      made.onmessage = ({ data }: MessageEvent<FindAnswer>) => {
        if ('share' in data) setState((now) => ({ ...now, share: data.share }));
        else if ('failed' in data) setState({ ...NOTHING, failed: data.failed });
        else setState({ share: null, found: data.found, of: question, failed: null });
      };
      made.onerror = ({ message }) =>
        setState({ ...NOTHING, failed: message || 'The search has ended early.' });
      made.postMessage({ shot: plan.shot, loudness: plan.loudness, question } satisfies FindOrder);
    },
    cancel() {
      end();
      setState(NOTHING);
    },
  };
}
