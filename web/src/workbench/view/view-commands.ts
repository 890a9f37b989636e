import type { Matrix4 } from 'three';

/** What commands can ask of the view while it is open. */
export interface ViewCommands {
  show(ids: readonly string[]): void;
  freeMatrix(): Matrix4;
  /** Draws the frames of a range ahead; @returns whether all of them are there */
  drawAhead(first: number, last: number): Promise<boolean>;
  stopDrawing(): void;
}

let commands: ViewCommands | null = null;

/** Called by the view when it opens, and with `null` when it closes. */
export function setViewCommands(next: ViewCommands | null): void {
  commands = next;
}

/** Brings parts into view; all of them when none are named. */
export function bringIntoView(ids: readonly string[]): void {
  commands?.show(ids);
}

/** Matrix of the free view's camera, or `null` while no view is open. */
export function freeViewMatrix(): Matrix4 | null {
  return commands?.freeMatrix() ?? null;
}

/** Draws frames of a range ahead of play-back. @returns whether all of them are there; `false` while no view is open */
export const drawAhead = (first: number, last: number): Promise<boolean> =>
  commands?.drawAhead(first, last) ?? Promise.resolve(false);

export const stopDrawing = (): void => commands?.stopDrawing();
