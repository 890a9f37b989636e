import { createStore, type StoreApi } from 'zustand/vanilla';
import type { Problem } from '../../../core/check';
import type { Shot } from '../../../core/document';
import type { LoudnessTables } from '../../../core/evaluate';
import type { BackgroundChecks } from '../workbench/checks/background-checks';

/** A shot that is to be looked through. */
export interface CheckedShot {
  readonly id: string;
  readonly shot: Shot;
  readonly loudness: LoudnessTables;
}

/** Whether a shot is as it was, what is known of its sounds included. */
const same = (a: CheckedShot, b: CheckedShot | undefined): boolean =>
  a.shot === b?.shot && Object.keys(a.shot.sounds).every((sound) => a.loudness[sound] === b.loudness[sound]);

/** What is known of the checks of several shots. */
export interface ShotsChecked {
  /** Findings by the id of a shot that has been looked through. */
  readonly found: Readonly<Record<string, readonly Problem[]>>;
  /** Why the checks of a shot broke off. */
  readonly failed: Readonly<Record<string, string>>;
  /** The shot that is being looked through, and the share of it that is done. */
  readonly at: { readonly id: string; readonly share: number } | null;
}

/** Looks several shots through, one after the other, beside the page; those that have not changed are not looked at again. */
export class ShotsChecks {
  readonly store: StoreApi<ShotsChecked> = createStore<ShotsChecked>(() => ({
    found: {},
    failed: {},
    at: null,
  }));
  private wanted: readonly CheckedShot[] = [];
  private readonly looked = new Map<string, CheckedShot>();
  private current: CheckedShot | null = null;
  private readonly leave: () => void;

  constructor(private readonly checks: Pick<BackgroundChecks, 'ask' | 'subscribe' | 'snapshot' | 'close'>) {
    this.leave = checks.subscribe(() => this.told());
  }

  ask(wanted: readonly CheckedShot[]): void {
    this.wanted = wanted;
    const now = this.current && wanted.find(({ id }) => id === this.current!.id);
    // What is being looked at may be out of the reel, or have changed.
    if (!now || !same(now, this.current!)) this.next();
  }

  close(): void {
    this.leave();
    this.checks.close();
  }

  private next(): void {
    const next = this.wanted.find((each) => !same(each, this.looked.get(each.id))) ?? null;
    this.current = next;
    this.store.setState({ at: next && { id: next.id, share: 0 } });
    if (next) this.checks.ask(next.shot, {}, next.loudness);
  }

  private told(): void {
    const { current } = this;
    if (!current) return;
    const { share, problems, failed } = this.checks.snapshot();
    if (share !== null) {
      this.store.setState({ at: { id: current.id, share } });
      return;
    }
    const { id } = current;
    this.looked.set(id, current);
    const now = this.store.getState();
    const { [id]: _, ...others } = now.failed;
    this.store.setState({
      failed: failed === null ? others : { ...others, [id]: failed },
      found: failed === null ? { ...now.found, [id]: problems ?? [] } : now.found,
    });
    this.next();
  }
}
