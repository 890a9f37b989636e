import { create } from 'zustand';

interface FormulaDraft {
  /** A formula is being typed: rows and parts clicked now are put into it. */
  readonly editing: boolean;
  /** Counts requests to put the caret into the bar; `blank` begins a new formula. */
  readonly focus: { readonly count: number; readonly blank: boolean };
  /** Text to put in at the caret, with a count so that the same text can come twice. */
  readonly inserted: { readonly count: number; readonly text: string };
  setEditing(editing: boolean): void;
  focusBar(blank?: boolean): void;
  insert(text: string): void;
}

/** How rows, parts and the formula bar talk to one another while a formula is typed. */
export const useFormulaDraft = create<FormulaDraft>((set) => ({
  editing: false,
  focus: { count: 0, blank: false },
  inserted: { count: 0, text: '' },
  setEditing: (editing) => set({ editing }),
  focusBar: (blank = false) => set((state) => ({ focus: { count: state.focus.count + 1, blank } })),
  insert: (text) => set((state) => ({ inserted: { count: state.inserted.count + 1, text } })),
}));
