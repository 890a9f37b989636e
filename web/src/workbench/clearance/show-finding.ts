import type { Finding } from '../../../../core/clearance';
import { goTo } from '../actions/time';
import type { Session } from '../session';
import { bringIntoView } from '../view/view-commands';

/** Shows in the view what a finding is about: its frame, both parts, all else faint. */
export function showFinding(session: Session, finding: Finding, frame: number): void {
  session.sheets.show(null);
  session.clearance.show(finding);
  session.choice.onlyParts([]);
  goTo(session, frame);
  bringIntoView([finding.a.part, finding.b.part]);
}
