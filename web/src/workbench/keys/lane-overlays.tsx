import type { Rubber } from './lane-drag';
import type { LaneKind } from '../state/time';

/** The box with which pegs are chosen. */
export function RubberBox({ rubber, left }: { rubber: Rubber; left: number }) {
  const { x0, y0, x1, y1 } = rubber;
  return (
    <div
      className="pointer-events-none absolute border border-teal bg-teal/15"
      style={{ left: left + x0, top: y0, width: x1 - x0, height: y1 - y0 }}
    />
  );
}

export interface LaneTipAt {
  readonly x: number;
  readonly y: number;
  readonly text: string;
}

/** What is under the pointer. */
export function LaneTip({ tip, left, room }: { tip: LaneTipAt; left: number; room: number }) {
  return (
    <div
      className="num pointer-events-none absolute left-0 top-0 z-20 whitespace-nowrap rounded bg-strip will-change-transform px-2 py-1 text-paper"
      style={{
        transform: `translate(${Math.max(0, Math.min(room - tip.text.length * 7 - 20, left + tip.x + 10))}px, ${Math.max(2, tip.y)}px)`,
      }}
    >
      {tip.text}
    </div>
  );
}

const NONE_OF: Record<LaneKind, string> = {
  all: 'Nothing moves.',
  moving: 'Nothing has keys: what moves is linked, or moved by clips.',
  linked: 'Nothing is linked.',
  chosen: 'Nothing of the chosen parts moves.',
  sounds: 'The level of no sound is keyed or linked.',
  clips: 'What clips move has no keys of its own.',
};

/** Why there is no lane, and what makes one. */
export function NoLanes({
  lanes,
  clips,
  find,
  kind,
  left,
  top,
}: {
  lanes: number;
  /** Whether clips move something. */
  clips: boolean;
  find: string;
  kind: LaneKind;
  left: number;
  top: number;
}) {
  return (
    <p className="absolute pr-6 text-ink-2" style={{ left, top }}>
      {lanes === 0 && clips
        ? 'Nothing has keys of its own: what moves is moved by the clips above. Open one (Enter, or a double-click) to change its keys.'
        : lanes === 0
          ? 'Nothing moves yet. Choose a part, go to a frame and press K to key its place, or write a formula after = in any field.'
          : find
            ? `No lane is called "${find}".`
            : NONE_OF[kind]}
    </p>
  );
}
