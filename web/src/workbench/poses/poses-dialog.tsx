import { lazy, Suspense } from 'react';
import { DialogFrame } from '../../ui/dialog-frame';
import { useSession, useSheets } from '../session';

const PosesSheet = lazy(() => import('./poses-sheet'));

/** The poses that the project keeps, over the workbench. */
export function PosesDialog() {
  const session = useSession();
  const open = useSheets((state) => state.open === 'poses');
  return (
    <DialogFrame
      open={open}
      onClose={() => session.sheets.show(null)}
      className="top-[12%] flex max-h-[76vh] w-[640px] flex-col gap-3 p-4"
    >
      <Suspense fallback={<p className="p-6 text-ink-2">Opening...</p>}>
        <PosesSheet />
      </Suspense>
    </DialogFrame>
  );
}
