import { useState, type KeyboardEvent, type PointerEvent } from 'react';
import { channelName } from '../../../../core/edit';
import { formatNumber } from '../../shared/format';
import { beginDrag } from '../../ui/drag';
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

  const onDown = (event: PointerEvent<HTMLSpanElement>): void => {
    if (event.button !== 0) return;
    event.stopPropagation();
    const phases = phaseTargets(session.shot, session.choice.now.chosen, address);
    let { clientX: x } = event;
    let by = 0;
    const turned = (): number => Number(by.toFixed(1));
    setDragged(degrees);
    beginDrag(event.currentTarget, event, {
      move: (to, finer) => {
        by += (to.clientX - x) * (finer ? FINER : 1);
        x = to.clientX;
        setDragged(degrees + turned());
        tryPhases(session, phases, turned());
      },
      end: (kept) => {
        setDragged(null);
        keepPhases(session, phases, kept ? turned() : 0);
      },
    });
  };
  const onKey = (event: KeyboardEvent<HTMLSpanElement>): void => {
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
      className={`nodrag nopan num flex h-4 flex-none cursor-ew-resize items-center rounded-[4px] border px-1 text-[11px] leading-none ${dragged === null ? 'border-line bg-field text-ink-2 hover:border-teal' : 'border-teal bg-teal text-on-teal'} ${shown === 0 && dragged === null ? 'opacity-0 focus-visible:opacity-100 group-hover:opacity-100' : ''}`}
      onPointerDown={onDown}
      onKeyDown={onKey}
    >
      φ {formatNumber(shown, Number.isInteger(shown) ? 0 : 1)}°
    </span>
  );
}
