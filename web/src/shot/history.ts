import type { Shot, Value } from '../../../core/document';
import { crossRows, invert, isEmpty, type Change } from '../../../core/edit';

/** Values changed at a frame and not keyed. */
export type Loose = Readonly<Record<string, Value>>;

/** One step that undo takes back: a change, or unkeyed values that leaving the frame dropped. */
export type Step =
  | { readonly kind: 'change'; readonly change: Change }
  | { readonly kind: 'dropped'; readonly frame: number; readonly loose: Loose };

/** What can be undone and done again, the latest last. */
export interface History {
  readonly undo: readonly Step[];
  readonly redo: readonly Step[];
}

export const NO_HISTORY: History = { undo: [], redo: [] };

const LONGEST = 500;

/** A step was done: nothing can be done again after it, unless it changed no document. */
export const recorded = ({ undo, redo }: History, step: Step): History => ({
  undo: [...undo, step].slice(-LONGEST),
  redo: step.kind === 'change' ? [] : redo,
});

/** The history once the latest step is taken back. */
export function takenBack({ undo, redo }: History): History {
  const step = undo.at(-1);
  return { undo: undo.slice(0, -1), redo: step?.kind === 'change' ? [...redo, step] : redo };
}

/** The history once the step that was taken back last is done again. */
export function doneAgain({ undo, redo }: History): History {
  const step = redo.at(-1);
  return step ? { undo: [...undo, step], redo: redo.slice(0, -1) } : { undo, redo };
}

/** Steps whose changes are `changes` in order; those of which nothing is left are gone. */
function withChanges(steps: readonly Step[], changes: readonly Change[]): Step[] {
  const left = [...changes];
  return steps.flatMap((step): Step[] => {
    if (step.kind !== 'change') return [step];
    const change = left.shift()!;
    return isEmpty(change) ? [] : [{ kind: 'change', change }];
  });
}

const changesOf = (steps: readonly Step[]): Change[] =>
  steps.flatMap((step) => (step.kind === 'change' ? [step.change] : []));

/**
 * The history after a change that somebody else made: undo takes back what was done here and leaves what they did.
 * @param shot the document before `foreign`, which is that after the latest step
 */
export function overForeign({ undo, redo }: History, shot: Shot, foreign: Change): History {
  const back = [...undo].reverse();
  const inverses = crossRows(shot, changesOf(back).map(invert), [foreign], false).mine.map(invert);
  const again = [...redo].reverse();
  return {
    undo: withChanges(back, inverses).reverse(),
    redo: withChanges(again, crossRows(shot, changesOf(again), [foreign], false).mine).reverse(),
  };
}
