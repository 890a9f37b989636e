import type { Shot } from '../../../../core/document';
import { compile, type LoudnessTables } from '../../../../core/evaluate';
import { freeWays, type FileMeshes, type FreeWay, type FreeWaysAsked } from '../../../../core/clearance';

/* Finds beside the page where parts are free; once, then it is ended. */

export interface FreeWaysOrder {
  readonly shot: Shot;
  readonly loudness: LoudnessTables;
  readonly asked: FreeWaysAsked;
  readonly meshes: FileMeshes;
}

export type FreeWaysAnswer =
  | { readonly share: number }
  | { readonly ways: readonly FreeWay[] }
  | { readonly failed: string };

const scope = self as unknown as {
  onmessage: ((event: MessageEvent<FreeWaysOrder>) => void) | null;
  postMessage(answer: FreeWaysAnswer): void;
};

scope.onmessage = ({ data: { shot, loudness, asked, meshes } }) => {
  try {
    const ways = freeWays(compile(shot, loudness), asked, meshes, (share) => scope.postMessage({ share }));
    scope.postMessage({ ways });
  } catch (error) {
    scope.postMessage({ failed: error instanceof Error ? error.message : String(error) });
  }
};
