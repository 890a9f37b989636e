import type { ReactNode } from 'react';
import type { PartKind } from '../../../../core/document';

const DRAWINGS: Partial<Record<PartKind, ReactNode>> = {
  hub: (
    <>
      <circle cx="12" cy="12" r="3.2" />
      <path d="M12 3v4M12 17v4M3 12h4M17 12h4" />
    </>
  ),
  repeat: (
    <>
      <rect x="3" y="9" width="6" height="6" rx="1" />
      <rect x="10.5" y="9" width="5" height="6" rx="1" opacity=".65" />
      <rect x="17" y="9" width="4" height="6" rx="1" opacity=".35" />
      <path d="M4 19h16M17.5 17l2.5 2-2.5 2" />
    </>
  ),
  shot: (
    <>
      <rect x="3" y="5" width="18" height="14" rx="2" />
      <rect x="8.5" y="9" width="7" height="6" rx="1" opacity=".65" />
      <path d="M3 9h2M3 15h2M19 9h2M19 15h2" />
    </>
  ),
  backdrop: (
    <>
      <path d="M4 4h16v9.5c0 3.500-2 6-5.500 6H4z" />
      <path d="M4 13.500h9c3 0 5.500 1.500 6.500 3" opacity=".55" />
      <circle cx="10" cy="8.500" r="1.800" opacity=".65" />
    </>
  ),
  callout: (
    <>
      <rect x="9" y="4" width="12" height="7" rx="1.500" />
      <path d="M9 7.500H6.500L4.500 17" opacity=".65" />
      <circle cx="4.300" cy="18.500" r="1.600" />
      <path d="M12 7.500h6" opacity=".65" />
    </>
  ),
  camera: (
    <>
      <path d="M4 7h9v10H4zM13 10.5l7-3.5v10l-7-3.5" />
      <circle cx="8.5" cy="12" r="1.6" />
    </>
  ),
  sun: (
    <>
      <path d="M5 4l14 14M9 3l11 11M3 8l12 12" opacity=".55" />
      <path d="M19 18v-4M19 18h-4M20 14v-4" />
      <circle cx="5.5" cy="5" r="2" />
    </>
  ),
  sky: (
    <>
      <path d="M3 15a9 9 0 0 1 18 0z" />
      <path d="M3 19h18" opacity=".55" />
      <path d="M12 9v3M8 10.5l1 2.4M16 10.5l-1 2.4" />
    </>
  ),
  point: (
    <>
      <circle cx="12" cy="10" r="4.5" />
      <path d="M10 17.5h4M10.5 20h3M12 2v1.6M4.5 5.5l1.3 1M19.500 5.500l-1.300 1" />
    </>
  ),
  spot: (
    <>
      <path d="M9 3h6l1 4H8z" />
      <path d="M8 7L3.500 19M16 7l4.500 12" opacity=".6" />
      <ellipse cx="12" cy="19" rx="8.500" ry="2" />
    </>
  ),
  area: (
    <>
      <path d="M5 4l14 2v7L5 11z" />
      <path d="M7 15l-1 4M12 16l-.500 4M17 17l.500 3" opacity=".6" />
    </>
  ),
};

/** Drawing of a kind of part that has no shape to be shown by. */
export function PartGlyph({ kind, size = 15 }: { kind: PartKind; size?: number }) {
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 24 24"
      fill="none"
      stroke="currentColor"
      strokeWidth="1.7"
      strokeLinejoin="round"
      strokeLinecap="round"
      aria-hidden="true"
    >
      {DRAWINGS[kind]}
    </svg>
  );
}
