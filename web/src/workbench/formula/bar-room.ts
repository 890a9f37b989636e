import { createStore, useStore } from 'zustand';

const room = createStore<number>(() => 0);

/** Pixels below the bar that its message takes, 0 without one: what lies over the view moves out from under it. */
export const useBarRoom = (): number => useStore(room);

/** Takes room for a message for as long as it is there. */
export function takeBarRoom(message: HTMLElement | null): (() => void) | undefined {
  if (!message) return undefined;
  const watcher = new ResizeObserver(() => room.setState(message.offsetHeight + 4));
  watcher.observe(message);
  return () => {
    watcher.disconnect();
    room.setState(0);
  };
}
