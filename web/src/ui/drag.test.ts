import { describe, expect, it } from 'vitest';
import { beginDrag, type DragHandlers } from './drag';
import { dragStage } from './testing';

/** A drag on an element, and what is told of it. */
function stage() {
  const { element, page, view, captured, send } = dragStage();
  const told: string[] = [];
  const begin = (more: Partial<DragHandlers> = {}): ((kept: boolean) => void) =>
    beginDrag(
      element as unknown as Element,
      { pointerId: 7, clientX: 0, clientY: 0 },
      {
        move: ({ clientX }, finer) => told.push(`to ${clientX}${finer ? ', finer' : ''}`),
        end: (kept, event, moved) =>
          told.push(
            `${kept ? 'kept' : 'put back'}${event ? ` at ${event.clientX}` : ''}${moved ? '' : ', a click'}`,
          ),
        ...more,
      },
    );
  return { element, page, view, told, captured, begin, send };
}

describe('a drag', () => {
  it('follows its own pointer until it is let go, and is told once', () => {
    const { element, told, captured, begin, send } = stage();
    begin();
    expect([...captured]).toEqual([7]);
    send(element, 'pointermove', { clientX: 4 });
    send(element, 'pointermove', { clientX: 9, pointerId: 8 });
    send(element, 'pointermove', { clientX: 5, shiftKey: true });
    send(element, 'pointerup', { clientX: 6 });
    send(element, 'pointermove', { clientX: 7 });
    send(element, 'pointerup', { clientX: 8 });
    expect(told).toEqual(['to 4', 'to 5, finer', 'kept at 6']);
    expect(captured.size).toBe(0);
  });

  it('that goes less far than its threshold is a click', () => {
    const { element, told, begin, send } = stage();
    begin({ threshold: 3 });
    send(element, 'pointermove', { clientX: 2 });
    send(element, 'pointerup', { clientX: 2 });
    begin({ threshold: 3 });
    send(element, 'pointermove', { clientX: 3 });
    send(element, 'pointermove', { clientX: 1 });
    send(element, 'pointerup', { clientX: 1 });
    expect(told).toEqual(['kept at 2, a click', 'to 3', 'to 1', 'kept at 1']);
  });

  it.each([
    ['Escape', ({ view, send }: ReturnType<typeof stage>) => send(view, 'keydown', { key: 'Escape' })],
    [
      'a touch that the browser takes',
      ({ element, send }: ReturnType<typeof stage>) => send(element, 'pointercancel'),
    ],
    ['a lost pointer', ({ element, send }: ReturnType<typeof stage>) => send(element, 'lostpointercapture')],
    [
      'an element that is gone',
      ({ page, send }: ReturnType<typeof stage>) => send(page, 'lostpointercapture'),
    ],
  ])('is put back by %s', (_, lose) => {
    const all = stage();
    all.begin();
    all.send(all.element, 'pointermove', { clientX: 4 });
    lose(all);
    all.send(all.element, 'pointerup', { clientX: 6 });
    expect(all.told).toEqual(['to 4', 'put back']);
  });

  it('gives the keys pressed meanwhile to whoever takes them, and Escape to nobody else', () => {
    const { view, told, begin, send } = stage();
    const finish = begin({ key: ({ key }) => key === '5' });
    expect(send(view, 'keydown', { key: '5' }).defaultPrevented).toBe(true);
    expect(send(view, 'keydown', { key: 'a' }).defaultPrevented).toBe(false);
    finish(true);
    expect(send(view, 'keydown', { key: 'Escape' }).defaultPrevented).toBe(false);
    expect(told).toEqual(['kept']);
  });
});
