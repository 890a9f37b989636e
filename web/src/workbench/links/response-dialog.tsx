import { lazy, Suspense } from 'react';
import { useSession, useSheets } from '../session';
import { DialogFrame } from '../../ui/dialog-frame';

const ResponsePlot = lazy(() => import('./response-plot'));

/** The plot of a channel over time or against one of its inputs. */
export function ResponseDialog() {
  const session = useSession();
  const open = useSheets((state) => state.open === 'response');
  return (
    <DialogFrame
      open={open}
      onClose={() => session.sheets.show(null)}
      className="top-[9%] flex h-[600px] max-h-[84vh] w-[860px] flex-col p-4"
    >
      <Suspense fallback={<p className="p-6 text-ink-2">Opening the plot...</p>}>
        <ResponsePlot />
      </Suspense>
    </DialogFrame>
  );
}
