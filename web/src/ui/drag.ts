/** What happens while the pointer is held down. */
export interface DragHandlers {
  /** Pixels that the pointer goes before it drags anything; a press that goes less far is a click. */
  readonly threshold?: number;
  /** @param event where the pointer is now @param finer whether Shift is held: smaller steps */
  move?(event: PointerEvent, finer: boolean): void;
  /**
   * Called once, at the end.
   * @param kept whether the pointer was let go; otherwise everything is put back: Escape, or the pointer was lost
   * @param event where it was let go, where it was
   * @param moved whether it went beyond the threshold
   */
  end(kept: boolean, event: PointerEvent | null, moved: boolean): void;
  /** A key pressed meanwhile that is not Escape. @returns whether it was taken: nobody else hears of it then */
  key?(event: KeyboardEvent): boolean;
}

/**
 * Follows a pointer from its press until it is let go, wherever it goes. Escape, a lost capture, a touch that the browser
 * takes for itself, and an element that is taken away all put everything back.
 * @param event the press @returns a function that ends the drag, kept or put back
 */
export function beginDrag(
  element: Element,
  event: { readonly pointerId: number; readonly clientX: number; readonly clientY: number },
  handlers: DragHandlers,
): (kept: boolean) => void {
  const { pointerId } = event;
  const { threshold = 0 } = handlers;
  const page = element.ownerDocument;
  const stop = new AbortController();
  let moved = threshold === 0;
  const end = (kept: boolean, at: PointerEvent | null = null): void => {
    if (stop.signal.aborted) return;
    stop.abort();
    if (element.hasPointerCapture(pointerId)) element.releasePointerCapture(pointerId);
    handlers.end(kept, at, moved);
  };
  const own = (act: (event: PointerEvent) => void) => (other: Event) => {
    if ((other as PointerEvent).pointerId === pointerId) act(other as PointerEvent);
  };
  const options = { signal: stop.signal };
  element.addEventListener(
    'pointermove',
    own((to) => {
      moved ||= Math.hypot(to.clientX - event.clientX, to.clientY - event.clientY) >= threshold;
      if (moved) handlers.move?.(to, to.shiftKey);
    }),
    options,
  );
  element.addEventListener(
    'pointerup',
    own((to) => end(true, to)),
    options,
  );
  for (const lost of ['pointercancel', 'lostpointercapture']) {
    element.addEventListener(
      lost,
      own(() => end(false)),
      options,
    );
    // An element that is gone loses its pointer at the document.
    page.addEventListener(
      lost,
      own(() => end(false)),
      options,
    );
  }
  page.defaultView!.addEventListener(
    'keydown',
    (pressed) => {
      const escape = pressed.key === 'Escape';
      if (!escape && handlers.key?.(pressed) !== true) return;
      pressed.preventDefault();
      pressed.stopImmediatePropagation();
      if (escape) end(false);
    },
    { ...options, capture: true },
  );
  element.setPointerCapture(pointerId);
  return (kept) => end(kept);
}
