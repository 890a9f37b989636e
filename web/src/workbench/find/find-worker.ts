import type { Shot } from '../../../../core/document';
import type { LoudnessTables } from '../../../../core/evaluate';
import { find, type Found, type Question } from '../../../../core/find';

/* Finds what is wanted beside the page; one question, then it is ended. */

export interface FindOrder {
  readonly shot: Shot;
  readonly loudness: LoudnessTables;
  readonly question: Question;
}

export type FindAnswer = { readonly share: number } | { readonly found: Found } | { readonly failed: string };

const scope = self as unknown as {
  onmessage: ((event: MessageEvent<FindOrder>) => void) | null;
  postMessage(answer: FindAnswer): void;
};

scope.onmessage = ({ data: { shot, loudness, question } }) => {
  try {
    const found = find(shot, question, loudness, (share) => scope.postMessage({ share }));
    scope.postMessage({ found });
  } catch (error) {
    scope.postMessage({ failed: error instanceof Error ? error.message : String(error) });
  }
};
