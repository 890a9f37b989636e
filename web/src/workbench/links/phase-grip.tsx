import { useRef, useState, type KeyboardEvent, type PointerEvent } from 'react';
import { channelName } from '../../../../core/edit';
import { formatNumber } from '../../shared/format';
import { useSession } from '../session';
import { keepPhases, phaseTargets, tryPhases } from './phase-targets';

const FINER = 0.1;
const STEP = 1;
const LEAP = 15;

/** Phase of a link: dragged sideways, a degree for each pixel (Shift a tenth), or turned with the arrow keys. */
export function PhaseGrip({ address, degrees }: { address: string; degrees: number }) {
  const session = useSession();
  /** Phase that is shown while it is dragged. */
  const [dragged, setDragged] = useState<number | null>(null);
  const drag = useRef<{ x: number; by: number; from: number; phases: ReadonlyMap<string, number> } | null>(
    null,
  );

  const onDown = (event: PointerEvent<HTMLSpanElement>): void => {
    if (event.button !== 0) return;
    event.stopPropagation();
    event.currentTarget.setPointerCapture(event.pointerId);
    drag.current = {
      x: event.clientX,
      by: 0,
      from: degrees,
      phases: phaseTargets(session.shot, session.choice.now.chosen, address),
    };
    setDragged(degrees);
  };
  const onMove = (event: PointerEvent<HTMLSpanElement>): void => {
    const held = drag.current;
    if (!held) return;
    held.by += (event.clientX - held.x) * (event.shiftKey ? FINER : 1);
    held.x = event.clientX;
    const shown = Number(held.by.toFixed(1));
    setDragged(held.from + shown);
    tryPhases(session, held.phases, shown);
  };
  const finish = (keep: boolean): void => {
    const held = drag.current;
    drag.current = null;
    setDragged(null);
    if (held) keepPhases(session, held.phases, keep ? Number(held.by.toFixed(1)) : 0);
  };
  const onKey = (event: KeyboardEvent<HTMLSpanElement>): void => {
    if (event.key === 'Escape' && drag.current) {
      event.stopPropagation();
      finish(false);
      return;
    }
    const way = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1 }[event.key];
    if (way === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    keepPhases(
      session,
      phaseTargets(session.shot, session.choice.now.chosen, address),
      way * (event.shiftKey ? LEAP : STEP),
    );
  };

  const shown = dragged ?? degrees;
  return (
    <span
      role="slider"
      tabIndex={0}
      aria-label={`Phase of ${channelName(session.doc.now.plan.shot, address)}`}
      aria-valuenow={shown}
      aria-valuetext={`${formatNumber(shown, Number.isInteger(shown) ? 0 : 1)} degrees`}
      title="Phase: drag sideways, a degree for each pixel, Shift a tenth. Arrow keys turn it by 1 degree, with Shift by 15."
      className={`nodrag nopan num flex h-4 flex-none cursor-ew-resize items-center rounded-[4px] border px-1 text-[11px] leading-none ${dragged === null ? 'border-line bg-field text-ink-2 hover:border-teal' : 'border-teal bg-teal text-white'} ${shown === 0 && dragged === null ? 'opacity-0 focus-visible:opacity-100 group-hover:opacity-100' : ''}`}
      onPointerDown={onDown}
      onPointerMove={onMove}
      onPointerUp={() => finish(true)}
      onPointerCancel={() => finish(false)}
      onKeyDown={onKey}
    >
      φ {formatNumber(shown, Number.isInteger(shown) ? 0 : 1)}°
    </span>
  );
}
