import type { Shot } from '../../../../core/document';
import { compile, type LoudnessTables } from '../../../../core/evaluate';
import { motionReport, type MotionAsked, type MotionReport } from '../../../../core/report';

/* Works out a motion report beside the page; one report, then it is ended. */

export interface ReportOrder {
  readonly shot: Shot;
  readonly loudness: LoudnessTables;
  readonly asked: MotionAsked;
}

export type ReportAnswer =
  | { readonly share: number }
  | { readonly report: MotionReport }
  | { readonly failed: string };

const scope = self as unknown as {
  onmessage: ((event: MessageEvent<ReportOrder>) => void) | null;
  postMessage(answer: ReportAnswer): void;
};

scope.onmessage = ({ data: { shot, loudness, asked } }) => {
  try {
    const report = motionReport(compile(shot, loudness), asked, (share) => scope.postMessage({ share }));
    scope.postMessage({ report });
  } catch (error) {
    scope.postMessage({ failed: error instanceof Error ? error.message : String(error) });
  }
};
