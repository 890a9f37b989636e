import { X } from 'lucide-react';
import { useRef } from 'react';
import { beginDrag } from '../../ui/drag';
import { MenuButton } from '../../ui/menu';
import { compareWith } from '../actions/comparing';
import { useCompare, usePlot, useSession, useShot } from '../session';
import type { CompareState, OtherState } from '../state/compare';
import type { Size } from './view-size';

const STEP = 0.05;

/** What a state is called. */
export function stateWords(state: OtherState, aside: CompareState['aside']): string {
  if (state === 'before') return 'Before the last edit';
  if (state === 'opened') return 'As it was opened';
  return aside
    ? `Kept aside at ${aside.at.toLocaleTimeString([], { hour: '2-digit', minute: '2-digit' })}`
    : 'Kept aside';
}

/** Which two states of the shot the view shows, and the line between them. */
export function CompareBar({ size }: { size: Size }) {
  const session = useSession();
  const state = useCompare((now) => now);
  const before = usePlot((now) => now.before);
  const same = useShot(({ shot }) =>
    state.with === 'aside'
      ? state.aside?.shot === shot
      : state.with === 'opened'
        ? state.opened === shot
        : before === null,
  );
  const bar = useRef<HTMLDivElement>(null);
  if (state.with === null) return null;
  const beside = state.manner === 'beside';
  const at = beside ? 0.5 : state.share;
  const words = stateWords(state.with, state.aside);
  return (
    <>
      <div
        ref={bar}
        role={beside ? undefined : 'slider'}
        aria-label="Line between the two states"
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={Math.round(at * 100)}
        aria-valuetext={`${Math.round(at * 100)} % ${words.toLowerCase()}`}
        tabIndex={beside ? undefined : 0}
        title={beside ? undefined : 'Drag to swipe; arrow keys move it'}
        className={`absolute inset-y-0 -ml-[7px] flex w-[15px] touch-none justify-center ${beside ? 'pointer-events-none' : 'cursor-ew-resize'}`}
        style={{ left: at * size.width }}
        data-testid="compare-line"
        onPointerDown={(event) => {
          if (beside) return;
          event.stopPropagation();
          const from = state.share;
          const start = event.clientX;
          beginDrag(event.currentTarget, event, {
            move: (now) => session.compare.part(from + (now.clientX - start) / size.width),
            end: (kept) => {
              if (!kept) session.compare.part(from);
            },
          });
        }}
        onKeyDown={(event) => {
          const by = { ArrowLeft: -STEP, ArrowRight: STEP }[event.key];
          if (by === undefined || beside) return;
          event.preventDefault();
          event.stopPropagation();
          session.compare.part(state.share + by);
        }}
      >
        <i className="h-full w-[2px] bg-now" />
        {!beside && <i className="absolute top-1/2 h-9 w-[9px] -translate-y-1/2 rounded-full bg-now" />}
      </div>
      <div
        role="group"
        aria-label="Compared"
        className="absolute left-1/2 top-[calc(44px+var(--bar-message,0px))] flex -translate-x-1/2 items-center gap-1.5 whitespace-nowrap rounded-[7px] border border-line bg-raised/95 py-0.5 pl-2 pr-1"
      >
        <span className="text-ink-3">Left</span>
        <MenuButton
          label="State on the left"
          title="Which state of the shot is shown on the left"
          className="btn h-[22px] px-1.5"
          side="bottom"
          align="start"
          entries={() => [
            ...(['before', 'opened', 'aside'] as const)
              .filter((other) => other !== 'aside' || state.aside !== null)
              .map((other) => ({
                label: stateWords(other, state.aside),
                current: state.with === other,
                run: () => compareWith(session, other),
              })),
            'line' as const,
            {
              label: 'Keep the shot as it is now aside',
              run: () => {
                session.compare.keepAside(session.shot);
                session.compare.against('aside');
              },
            },
          ]}
        >
          {words} ▾
        </MenuButton>
        <span className="text-ink-3">{same ? 'no difference to now on the right' : 'now on the right'}</span>
        {(['swipe', 'beside'] as const).map((manner) => (
          <button
            key={manner}
            type="button"
            aria-pressed={state.manner === manner}
            className={`btn h-[22px] px-1.5 ${state.manner === manner ? 'border-teal text-teal' : ''}`}
            onClick={() => session.compare.as(manner)}
          >
            {manner === 'swipe' ? 'Swipe' : 'Side by side'}
          </button>
        ))}
        <button
          type="button"
          aria-label="Stop comparing"
          title="Stop comparing"
          className="rounded p-0.5 hover:bg-field"
          onClick={() => session.compare.against(null)}
        >
          <X size={13} aria-hidden="true" />
        </button>
      </div>
    </>
  );
}
