import type { Loose } from '../../shot/history';
import { Slice } from './slice';

/** Groups of channels that K keys for chosen parts. */
export const KEY_SETS = ['place', 'turn', 'size', 'look', 'everything'] as const;
export type KeySet = (typeof KEY_SETS)[number];
const AT_FIRST: readonly KeySet[] = ['place', 'turn', 'size'];

export interface KeyingState {
  readonly autoKey: boolean;
  readonly keySets: readonly KeySet[];
  /** K and J key only what differs: see `pose-keying.ts`. */
  readonly keyDiffering: boolean;
  /** Values changed at this frame and not keyed yet. */
  readonly loose: Loose;
}

/** How values become keys, and those that have not yet. */
export class Keying extends Slice<KeyingState> {
  constructor() {
    super({ autoKey: false, keySets: AT_FIRST, keyDiffering: false, loose: {} });
  }

  toggleAutoKey(): void {
    this.set({ autoKey: !this.now.autoKey });
  }

  /** Chooses what K keys; none is as at first. */
  sets(keySets: readonly KeySet[]): void {
    this.set({ keySets: keySets.length > 0 ? keySets : AT_FIRST });
  }

  differing(keyDiffering: boolean): void {
    this.set({ keyDiffering });
  }

  hold(loose: Loose): void {
    this.set({ loose });
  }

  /** Lets go of changed values, of all or of some channels. */
  letGo(addresses: readonly string[] = Object.keys(this.now.loose)): void {
    this.set({
      loose: Object.fromEntries(
        Object.entries(this.now.loose).filter(([address]) => !addresses.includes(address)),
      ),
    });
  }
}
