import { createStore, type StoreApi } from 'zustand/vanilla';

/** One piece of what the workbench shows. Only its own functions change it. */
export abstract class Slice<T extends object> {
  readonly store: StoreApi<T>;

  constructor(start: T) {
    this.store = createStore<T>(() => start);
  }

  get now(): T {
    return this.store.getState();
  }

  protected set(part: Partial<T>): void {
    this.store.setState(part);
  }
}
