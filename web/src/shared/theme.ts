import { useSyncExternalStore } from 'react';

/** What a browser can be set to: the light colours, the dark ones, or those of the system. */
export const THEMES = ['day', 'evening', 'system'] as const;
export type Theme = (typeof THEMES)[number];

const KEY = 'whirl:theme';

/** The theme chosen in this browser. */
export function themeKept(): Theme {
  try {
    const kept = localStorage.getItem(KEY);
    return THEMES.find((theme) => theme === kept) ?? 'system';
  } catch {
    return 'system';
  }
}

const listeners = new Set<() => void>();
let asked: MediaQueryList | undefined;
const system = (): MediaQueryList => (asked ??= matchMedia('(prefers-color-scheme: dark)'));
let kept: Theme = 'system';
let colours = new Map<string, string>();

function changed(): void {
  colours = new Map();
  for (const tell of listeners) tell();
}

function show(theme: Theme): void {
  kept = theme;
  if (theme === 'system') delete document.documentElement.dataset.theme;
  else document.documentElement.dataset.theme = theme;
  changed();
}

/** Shows the theme that was chosen, and follows the system and the other tabs. */
export function startTheme(): void {
  show(themeKept());
  system().addEventListener('change', changed);
  addEventListener('storage', (event) => event.key === KEY && show(themeKept()));
}

/** Chooses the theme of this browser. */
export function chooseTheme(theme: Theme): void {
  try {
    localStorage.setItem(KEY, theme);
  } catch {
    // A browser that keeps nothing shows it until the page is left.
  }
  show(theme);
}

const isEvening = (): boolean => kept === 'evening' || (kept === 'system' && system().matches);

function listen(tell: () => void): () => void {
  listeners.add(tell);
  return () => listeners.delete(tell);
}

/** Whether the dark colours are shown now. */
export const useEvening = (): boolean => useSyncExternalStore(listen, isEvening);

/** The theme chosen in this browser. */
export const useTheme = (): Theme => useSyncExternalStore(listen, () => kept);

function read(name: string, scope: string): string {
  const key = `${scope} ${name}`;
  let found = colours.get(key);
  if (found === undefined) {
    const probe = document.createElement('span');
    probe.className = scope;
    probe.style.color = `var(--color-${name})`;
    document.body.append(probe);
    found = getComputedStyle(probe).color;
    probe.remove();
    colours.set(key, found);
  }
  return found;
}

/** A colour of the theme as it is shown now, for what is painted by hand. */
export const themed = (name: string): string => read(name, '');

/** A colour as it is shown on the view, which is of one grey by day and in the evening: pictures are judged on it. */
export const viewColour = (name: string): string => read(name, 'on-view');
