import { Dialog } from 'radix-ui';
import type { ReactNode } from 'react';

/**
 * What every dialog has: the page shaded behind it, the panel, Escape and a click outside that close it, and keys that
 * stay in it. The focus goes back to where it was.
 */
export function DialogFrame({
  open = true,
  onClose,
  className,
  describedBy,
  keepsFocus = true,
  children,
}: {
  open?: boolean;
  onClose(): void;
  /** Where it stands, how large it is, and what lies in it how. */
  className: string;
  /** Id of the element that says what it is about. */
  describedBy?: string;
  /** Whether the focus is given back; not where something else takes it. */
  keepsFocus?: boolean;
  children: ReactNode;
}) {
  return (
    <Dialog.Root open={open} onOpenChange={(next) => !next && onClose()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-shade/40" />
        <Dialog.Content
          className={`panel fixed left-1/2 z-50 max-w-[94vw] -translate-x-1/2 shadow-2xl ${className}`}
          aria-describedby={describedBy}
          onKeyDown={(event) => event.stopPropagation()}
          onCloseAutoFocus={(event) => !keepsFocus && event.preventDefault()}
        >
          {children}
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

/** Heading of a dialog. */
export function DialogTitle({ className = '', children }: { className?: string; children: ReactNode }) {
  return <Dialog.Title className={`text-[15px] font-bold ${className}`}>{children}</Dialog.Title>;
}

/** Button that closes the dialog without doing anything. */
export const DialogLeave = ({
  children = 'Leave',
  className = '',
}: {
  children?: string;
  className?: string;
}) => <Dialog.Close className={`btn ${className}`}>{children}</Dialog.Close>;
