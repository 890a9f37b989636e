/** Places that the keyboard goes to, in the order in which F6 goes round them. */
const PLACES = {
  parts: '[role="tree"]',
  values: '[aria-label="Values"] input',
  lanes: '#lanes',
  curves: '#curves',
} as const;

const FRAME = '[aria-label="Current frame"]';

export type PanelPlace = keyof typeof PLACES | 'frame';

/** Gives the keyboard to a panel, or to the field of the current frame. */
export function focusPanel(place: PanelPlace): void {
  document.querySelector<HTMLElement>(place === 'frame' ? FRAME : PLACES[place])?.focus();
}

/** Gives the keyboard to the next panel that is there, or the one before. */
export function nextPanel(by: 1 | -1): void {
  const there = Object.values(PLACES).flatMap((place) => document.querySelector<HTMLElement>(place) ?? []);
  const at = there.findIndex((element) =>
    element.closest('section, #lanes')?.contains(document.activeElement),
  );
  there[at < 0 ? (by > 0 ? 0 : there.length - 1) : (at + by + there.length) % there.length]?.focus();
}
