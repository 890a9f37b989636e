import { linkOf, ownerOf, trackOf, type Shot } from '../../../../core/document';
import { keyAt } from '../../../../core/edit';

/** What is true of a value at the current frame. */
export type RingState = 'still' | 'moves' | 'key' | 'loose' | 'link' | 'link-over-keys';

const ORDER: readonly RingState[] = ['still', 'moves', 'key', 'link', 'link-over-keys', 'loose'];

export const RING_WORDS: Record<RingState, string> = {
  still: 'never changes',
  moves: 'changes, no key at this frame',
  key: 'key at this frame',
  loose: 'changed here, not keyed yet',
  link: 'linked',
  'link-over-keys': 'linked over its own keys',
};

/** State of one channel. */
export function ringOf(
  shot: Shot,
  address: string,
  frame: number,
  loose: Readonly<Record<string, unknown>>,
): RingState {
  const track = trackOf(shot, address);
  if (linkOf(shot, address)) return track ? 'link-over-keys' : 'link';
  if (address in loose) return 'loose';
  if (!track) return 'still';
  return keyAt(shot, address, frame) ? 'key' : 'moves';
}

/** The state to show for several channels together: the one that most deserves attention. */
export function strongest(states: readonly RingState[]): RingState {
  return states.reduce(
    (best, state) => (ORDER.indexOf(state) > ORDER.indexOf(best) ? state : best),
    'still' as RingState,
  );
}

/** The state to show for a row of several fields: a key or a link only where all of them have one. */
export function stateOfRow(states: readonly RingState[]): RingState {
  const [first = 'still'] = states;
  if (states.includes('loose')) return 'loose';
  if (states.every((state) => state === first)) return first;
  if (states.every((state) => state.startsWith('link'))) return strongest(states);
  return states.every((state) => state === 'still') ? 'still' : 'moves';
}

/** The state to show for a part: that of its own channels, its shape's and its look's together. */
export function ringOfPart(
  shot: Shot,
  id: string,
  frame: number,
  loose: Readonly<Record<string, unknown>>,
): RingState {
  const { shape, look } = shot.parts[id]!;
  const states: RingState[] = [];
  for (const owner of [id, shape, look]) {
    const record = owner === null ? null : ownerOf(shot, owner);
    if (!record) continue;
    for (const path of Object.keys(record.tracks))
      states.push(ringOf(shot, `${owner}/${path}`, frame, loose));
    for (const path of Object.keys(record.links)) states.push(ringOf(shot, `${owner}/${path}`, frame, loose));
  }
  return strongest(states);
}

/** The mark before a row: shape tells the state as well as colour. */
export function Ring({
  state,
  error = false,
  size = 14,
}: {
  state: RingState;
  error?: boolean;
  size?: number;
}) {
  const link = error ? 'var(--color-now)' : 'var(--color-link)';
  return (
    <svg width={size} height={size} viewBox="0 0 14 14" aria-hidden="true" className="flex-none">
      {state === 'still' && (
        <circle cx="7" cy="7" r="4.6" fill="none" stroke="var(--color-mark)" strokeWidth="1.3" />
      )}
      {state === 'moves' && (
        <>
          <circle cx="7" cy="7" r="4.6" fill="none" stroke="var(--color-key)" strokeWidth="1.6" />
          <path d="M7 2.4a4.6 4.6 0 0 1 0 9.2z" fill="var(--color-key)" />
        </>
      )}
      {state === 'key' && <circle cx="7" cy="7" r="5.3" fill="var(--color-key)" />}
      {state === 'loose' && (
        <>
          <circle
            cx="7"
            cy="7"
            r="4.6"
            fill="none"
            stroke="var(--color-now)"
            strokeWidth="1.6"
            strokeDasharray="2.4 2"
          />
          <circle cx="7" cy="7" r="1.8" fill="var(--color-now)" />
        </>
      )}
      {state === 'link' && (
        <g fill="none" stroke={link}>
          <path d="M4.9 9.1 9.1 4.9" strokeWidth="1.7" />
          <circle cx="3.7" cy="10.3" r="2.3" strokeWidth="1.5" />
          <circle cx="10.3" cy="3.7" r="2.3" strokeWidth="1.5" />
        </g>
      )}
      {state === 'link-over-keys' && (
        <>
          <circle cx="7" cy="7" r="5.4" fill="none" stroke={link} strokeWidth="1.8" />
          <circle cx="7" cy="7" r="3.2" fill="var(--color-key)" />
        </>
      )}
      {error && <path d="M11 9.2v2.2M11 12.8v.4" stroke="var(--color-now)" strokeWidth="1.6" />}
    </svg>
  );
}
