import { toast } from 'sonner';
import type { Session } from '../session';
import type { OtherState } from '../state/compare';

/** Shows another state of the shot beside the one now; the one asked for already is put away. */
export function compareWith(session: Session, other: OtherState): void {
  const { compare, plot } = session;
  if (other === 'before' && !plot.now.before) {
    toast('Nothing has been changed yet since the shot was opened.');
    return;
  }
  if (other === 'aside' && !compare.now.aside) {
    toast('No state is kept aside yet: "Keep the shot as it is now aside" does that.');
    return;
  }
  compare.against(other);
}

/** Compares or stops: with what was kept aside, else with what was before the last edit, else with what was opened. */
export function toggleCompare(session: Session): void {
  const { compare, plot } = session;
  if (compare.now.with !== null) compare.against(null);
  else compare.against(compare.now.aside ? 'aside' : plot.now.before ? 'before' : 'opened');
}

/** Remembers the shot as it is now, to compare with it later. */
export function keepAside(session: Session): void {
  session.compare.keepAside(session.doc.now.document);
  toast('Kept aside as it is now. Compare shows it beside what you change from here on.');
}
