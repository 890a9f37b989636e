import type { Value } from '../../../../core/document';
import type { CopiedKeys, Pose } from '../../../../core/edit';
import { Slice } from './slice';

/** What was copied last, to be pasted. */
export type Copied =
  | { readonly kind: 'keys'; readonly keys: CopiedKeys; readonly owner: string | null }
  | { readonly kind: 'values'; readonly from: string; readonly values: Readonly<Record<string, Value>> }
  | { readonly kind: 'pose'; readonly pose: Pose }
  | { readonly kind: 'link'; readonly from: string };

export class Clipboard extends Slice<{ readonly copied: Copied | null }> {
  constructor() {
    super({ copied: null });
  }

  copy(copied: Copied): void {
    this.set({ copied });
  }
}
