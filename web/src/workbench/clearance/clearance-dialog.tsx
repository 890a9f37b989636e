import { lazy, Suspense } from 'react';
import { DialogFrame } from '../../ui/dialog-frame';
import { useSession, useSheets } from '../session';

const ClearanceSheet = lazy(() => import('./clearance-sheet'));

/** The clearance check, over the workbench. It goes on while this is closed. */
export function ClearanceDialog() {
  const session = useSession();
  const open = useSheets((state) => state.open === 'clearance');
  return (
    <DialogFrame
      open={open}
      onClose={() => session.sheets.show(null)}
      className="top-[6%] flex max-h-[88vh] w-[860px] flex-col gap-3 p-4"
    >
      <Suspense fallback={<p className="p-6 text-ink-2">Opening...</p>}>
        <ClearanceSheet />
      </Suspense>
    </DialogFrame>
  );
}
