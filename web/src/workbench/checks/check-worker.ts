import { Checker, type CheckOptions, type Problem } from '../../../../core/check';
import type { Shot } from '../../../../core/document';
import { compile, type LoudnessTables } from '../../../../core/evaluate';
import { keepIdentity } from './keep-identity';

/** Asks for a shot to be looked through; a new request takes the place of one that is still at work. */
export interface CheckRequest {
  readonly id: number;
  readonly shot: Shot;
  readonly options: CheckOptions;
  /** How loud the shot's sounds are; missing where that has not changed since the request before. */
  readonly loudness?: LoudnessTables;
}

/** How far a request has come, and at its end what was found. */
export type CheckAnswer =
  | { readonly id: number; readonly share: number }
  | { readonly id: number; readonly problems: readonly Problem[] }
  | { readonly id: number; readonly failed: string };

/** Milliseconds at work before progress is told and a newer request is let in. */
const SLICE_MS = 40;

const scope = self as unknown as {
  onmessage: ((event: MessageEvent<CheckRequest>) => void) | null;
  postMessage(answer: CheckAnswer): void;
};
const checker = new Checker();
let latest = 0;
let known: Shot | null = null;
let heard: LoudnessTables = {};

scope.onmessage = ({ data: { id, shot, options, loudness } }) => {
  latest = id;
  known = keepIdentity(known, shot);
  heard = loudness ?? heard;
  const steps = checker.run(known, options, compile(known, heard), heard);
  const work = (): void => {
    if (latest !== id) return;
    try {
      const until = performance.now() + SLICE_MS;
      for (;;) {
        const step = steps.next();
        if (step.done) {
          scope.postMessage({ id, problems: step.value });
          return;
        }
        if (performance.now() < until) continue;
        scope.postMessage({ id, share: step.value });
        setTimeout(work);
        return;
      }
    } catch (error) {
      scope.postMessage({ id, failed: error instanceof Error ? error.message : String(error) });
    }
  };
  work();
};
