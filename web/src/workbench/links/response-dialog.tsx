import { Dialog } from 'radix-ui';
import { lazy, Suspense } from 'react';
import { useSession, useSheets } from '../session';

const ResponsePlot = lazy(() => import('./response-plot'));

/** The plot of a channel over time or against one of its inputs. */
export function ResponseDialog() {
  const session = useSession();
  const open = useSheets((state) => state.open === 'response');
  return (
    <Dialog.Root open={open} onOpenChange={(next) => !next && session.sheets.show(null)}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-shade/30" />
        <Dialog.Content
          className="panel fixed left-1/2 top-[9%] z-50 flex h-[600px] max-h-[84vh] w-[860px] max-w-[95vw] -translate-x-1/2 flex-col p-4 shadow-2xl"
          aria-describedby={undefined}
        >
          <Suspense fallback={<p className="p-6 text-ink-2">Opening the plot...</p>}>
            <ResponsePlot />
          </Suspense>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
