import type { CSSProperties, ReactNode } from 'react';

const TIP_WIDTH = 220;
const TIP_HEIGHT = 64;
const TIP_EDGE = 8;

/** Where what is wrong with a field is told: below it, or above it where there is no room. */
function tipPlace(field: HTMLElement | null): CSSProperties {
  const area = field?.getBoundingClientRect();
  if (!area) return { width: TIP_WIDTH };
  const left = Math.max(TIP_EDGE, Math.min(window.innerWidth - TIP_WIDTH - TIP_EDGE, area.right - TIP_WIDTH));
  return area.bottom + TIP_HEIGHT > window.innerHeight
    ? { width: TIP_WIDTH, left, bottom: window.innerHeight - area.top + 4 }
    : { width: TIP_WIDTH, left, top: area.bottom + 4 };
}

/** Why what is typed into a field is not taken, beside it, and what can be done instead. */
export function FieldReason({ field, children }: { field: HTMLElement | null; children: ReactNode }) {
  return (
    <p
      role="alert"
      // Over everything, and inside the window: the panel would cut it at its edge.
      className="fixed z-50 rounded-md bg-strip px-2 py-1.5 text-left text-xs text-paper shadow-lg"
      style={tipPlace(field)}
    >
      {children}
    </p>
  );
}

/** Offers to take the link of a field away and to set what is typed. */
export function UnlinkAndSet({ typed, onUnlink }: { typed: string; onUnlink(): void }) {
  return (
    <button
      type="button"
      className="mt-1 block font-semibold text-halo underline"
      onMouseDown={(event) => event.preventDefault()}
      onClick={onUnlink}
    >
      Unlink it and set {typed}
    </button>
  );
}

/** What is said of a linked field into which a value is typed. */
export const linkedReason = (label: string): string =>
  `${label} is linked. Begin with = to write another formula, or:`;
