/** The mark and the name. */
export function Mark() {
  return (
    <span className="flex flex-none items-center gap-[7px] text-[17px] font-extrabold tracking-tight [font-variation-settings:'wdth'_112]">
      <svg width="20" height="20" viewBox="0 0 20 20" aria-hidden="true">
        <path d="M10 1a9 9 0 1 0 9 9h-3.2A5.8 5.8 0 1 1 10 4.2z" fill="var(--color-night-brass)" />
        <circle cx="15.6" cy="4.4" r="2.4" fill="var(--color-mark-dot)" />
      </svg>
      Whirl
    </span>
  );
}
