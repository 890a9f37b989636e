import { useLayoutEffect, useRef } from 'react';

/**
 * The functions of an object, always those of the latest drawing, in an object that stays the same: what gets it need
 * not be drawn again when they change.
 */
export function useLatest<T extends Record<string, (...args: never[]) => unknown>>(actions: T): T {
  const latest = useRef(actions);
  useLayoutEffect(() => {
    latest.current = actions;
  });
  const stable = useRef<T>(null);
  stable.current ??= Object.fromEntries(
    Object.keys(actions).map((name) => [name, (...args: never[]) => latest.current[name]!(...args)]),
  ) as T;
  return stable.current;
}
