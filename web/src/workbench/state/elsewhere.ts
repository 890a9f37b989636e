import type { Shot } from '../../../../core/document';
import type { Change } from '../../../../core/edit';
import { Slice } from './slice';

/** Milliseconds that a part stays marked after somebody else has changed it. */
export const MARKED_MS = 8000;

export interface ElsewhereState {
  /** Parts that somebody else has changed a moment ago. */
  readonly parts: ReadonlySet<string>;
}

/** Parts on which changes show: those that they touch, and those that have a shape or a look that they touch. */
export function partsTouched(shot: Shot, changes: readonly Change[]): string[] {
  const touched = new Set(changes.flatMap(({ patches }) => patches.flatMap(({ path }) => path[1] ?? [])));
  return Object.entries(shot.parts)
    .filter(([id, part]) => [id, part.shape, part.look].some((owner) => owner !== null && touched.has(owner)))
    .map(([id]) => id);
}

/** What others do to the open shot, marked for a moment where it happened. */
export class Elsewhere extends Slice<ElsewhereState> {
  private timer: ReturnType<typeof setTimeout> | null = null;

  constructor() {
    super({ parts: new Set() });
  }

  mark(parts: readonly string[]): void {
    if (parts.length === 0) return;
    this.set({ parts: new Set([...this.now.parts, ...parts]) });
    if (this.timer) clearTimeout(this.timer);
    this.timer = setTimeout(() => this.set({ parts: new Set() }), MARKED_MS);
  }

  close(): void {
    if (this.timer) clearTimeout(this.timer);
  }
}
