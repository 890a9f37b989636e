import { lazy, Suspense } from 'react';
import { DialogFrame } from '../../ui/dialog-frame';
import { useSession, useSheets } from '../session';

const ReportSheet = lazy(() => import('./report-sheet'));

/** The motion report over the workbench. */
export function ReportDialog() {
  const session = useSession();
  const open = useSheets((state) => state.open === 'report');
  return (
    <DialogFrame
      open={open}
      onClose={() => session.sheets.show(null)}
      className="top-[4%] flex h-[92vh] max-h-[900px] w-[1120px] flex-col p-4"
    >
      <Suspense fallback={<p className="p-6 text-ink-2">Opening the report...</p>}>
        <ReportSheet />
      </Suspense>
    </DialogFrame>
  );
}
