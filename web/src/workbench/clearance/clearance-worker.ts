import type { Shot } from '../../../../core/document';
import { compile, type LoudnessTables } from '../../../../core/evaluate';
import {
  clearance,
  type Clearance,
  type ClearanceAsked,
  type FileMeshes,
  type Finding,
} from '../../../../core/clearance';

/* Looks beside the page what runs into what; one range, then it is ended. */

export interface ClearanceOrder {
  readonly shot: Shot;
  readonly loudness: LoudnessTables;
  readonly asked: ClearanceAsked;
  readonly meshes: FileMeshes;
}

export type ClearanceAnswer =
  | { readonly share: number; readonly findings: readonly Finding[] }
  | { readonly found: Clearance }
  | { readonly failed: string };

/** Milliseconds between two answers on the way: telling takes time from the looking. */
const ANSWER_MS = 500;

const scope = self as unknown as {
  onmessage: ((event: MessageEvent<ClearanceOrder>) => void) | null;
  postMessage(answer: ClearanceAnswer): void;
};

scope.onmessage = ({ data: { shot, loudness, asked, meshes } }) => {
  let news: Finding[] = [];
  let last = 0;
  try {
    const found = clearance(compile(shot, loudness), asked, meshes, {
      finding: (finding) => news.push(finding),
      share: (share) => {
        const now = performance.now();
        if (now - last < ANSWER_MS) return;
        last = now;
        scope.postMessage({ share, findings: news });
        news = [];
      },
    });
    scope.postMessage({ found });
  } catch (error) {
    scope.postMessage({ failed: error instanceof Error ? error.message : String(error) });
  }
};
