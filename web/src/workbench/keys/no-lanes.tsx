import type { LaneKind } from '../state/time';

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
