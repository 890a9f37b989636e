import { createStore, useStore } from 'zustand';

interface FormulaDraft {
  /** A formula is being typed: rows and parts clicked now are put into it. */
  readonly editing: boolean;
  /** Counts requests to put the caret into the bar; `blank` begins a new formula. */
  readonly focus: { readonly count: number; readonly blank: boolean };
  /** Text to put in at the caret, with a count so that the same text can come twice. */
  readonly inserted: { readonly count: number; readonly text: string };
}

const store = createStore<FormulaDraft>(() => ({
  editing: false,
  focus: { count: 0, blank: false },
  inserted: { count: 0, text: '' },
}));

/** How rows, parts and the formula bar talk to one another while a formula is typed. */
export const formulaDraft = {
  get editing(): boolean {
    return store.getState().editing;
  },
  setEditing(editing: boolean): void {
    store.setState({ editing });
  },
  focusBar(blank = false): void {
    store.setState(({ focus }) => ({ focus: { count: focus.count + 1, blank } }));
  },
  insert(text: string): void {
    store.setState(({ inserted }) => ({ inserted: { count: inserted.count + 1, text } }));
  },
};

/** Whether a formula is being typed: for what looks otherwise then. What only asks when it is clicked need not follow it. */
export const useFormulaEditing = (): boolean => useStore(store, (state) => state.editing);

/** What is asked of the bar. */
export const useBarRequests = (): Pick<FormulaDraft, 'focus' | 'inserted'> => ({
  focus: useStore(store, (state) => state.focus),
  inserted: useStore(store, (state) => state.inserted),
});
