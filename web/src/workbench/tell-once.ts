import { toast } from 'sonner';

/** Long enough to be read by somebody who meets it for the first time. */
const READ_MS = 12_000;

const nameOf = (what: string): string => `whirl-told-${what}`;

/** Tells something the first time that it comes up in this browser, and never again. */
export function tellOnce(what: string, message: string): void {
  try {
    if (localStorage.getItem(nameOf(what))) return;
    localStorage.setItem(nameOf(what), 'yes');
  } catch {
    // Without a store nothing says whether it was told: better twice than never.
  }
  toast(message, { duration: READ_MS });
}

/** Whether something has been asked in this browser before; from now on it has. */
export function askedBefore(what: string): boolean {
  try {
    const before = localStorage.getItem(nameOf(what)) !== null;
    localStorage.setItem(nameOf(what), 'yes');
    return before;
  } catch {
    return false;
  }
}
