const KEY = 'whirl:draft-view';

/** Whether this browser draws the view as a draft: chosen once, for all shots. */
export function draftKept(): boolean {
  try {
    return localStorage.getItem(KEY) === 'yes';
  } catch {
    return false;
  }
}

/** Whether this browser draws no picture in the view at all, as where nobody looks at it. */
export function leftBlank(): boolean {
  try {
    return localStorage.getItem(KEY) === 'blank';
  } catch {
    return false;
  }
}

/** Remembers in this browser whether the view is drawn coarser and without shadows. Films are not affected. */
export function keepDraft(draft: boolean): void {
  try {
    localStorage.setItem(KEY, draft ? 'yes' : 'no');
  } catch {
    // A browser that keeps nothing only forgets the choice.
  }
}
