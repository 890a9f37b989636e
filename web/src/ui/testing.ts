/** An element of 500 to 300 pixels on a page, as far as a drag needs it, for tests without a browser. */
export function dragStage() {
  const captured = new Set<number>();
  const view = new EventTarget();
  const page = Object.assign(new EventTarget(), { defaultView: view });
  const element = Object.assign(new EventTarget(), {
    ownerDocument: page,
    getBoundingClientRect: () => ({ left: 0, top: 0, width: 500, height: 300 }),
    setPointerCapture: (id: number) => captured.add(id),
    hasPointerCapture: (id: number) => captured.has(id),
    releasePointerCapture: (id: number) => {
      captured.delete(id);
      send(element, 'lostpointercapture');
    },
  });
  const pointer = (type: string, more: object = {}): Event =>
    Object.assign(new Event(type, { cancelable: true }), {
      pointerId: 7,
      clientX: 0,
      clientY: 0,
      shiftKey: false,
      ...more,
    });
  const send = (target: EventTarget, type: string, more: object = {}): Event => {
    const event = pointer(type, more);
    target.dispatchEvent(event);
    return event;
  };
  return { element, page, view, captured, pointer, send };
}
