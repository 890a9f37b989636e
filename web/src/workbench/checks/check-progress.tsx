import type { ReactNode } from 'react';

/** How far checks have come, with what they are at. @param share from 0 to 1 */
export function CheckProgress({ share, children }: { share: number; children: ReactNode }) {
  return (
    <div className="mb-2">
      <div
        role="progressbar"
        aria-label="Checks"
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={Math.round(share * 100)}
        className="h-1 overflow-hidden rounded bg-line-soft"
      >
        <div className="h-full bg-teal" style={{ width: `${share * 100}%` }} />
      </div>
      <p className="mt-1 text-xs text-ink-2">{children} You can render before it is done.</p>
    </div>
  );
}
