import { lazy, Suspense } from 'react';
import { DialogFrame } from '../../ui/dialog-frame';
import { useSession, useSheets } from '../session';

const FindSheet = lazy(() => import('./find-sheet'));

/** Finds values, over the workbench. */
export function FindDialog() {
  const session = useSession();
  const open = useSheets((state) => state.open === 'find');
  return (
    <DialogFrame
      open={open}
      onClose={() => session.sheets.show(null)}
      className="top-[8%] flex max-h-[86vh] w-[720px] flex-col p-4"
    >
      <Suspense fallback={<p className="p-6 text-ink-2">Opening...</p>}>
        <FindSheet />
      </Suspense>
    </DialogFrame>
  );
}
