import { JOINS, mostJoin, setJoin, SIDES, type JoinManner, type ReelItem } from '../../../../core/reel';
import { NumberBox } from '../../ui/number-box';
import { edit } from '../reel-edits';
import { useReel, useReelSession } from '../reel-session';
import { Row } from './form-parts';

const JOIN_WORDS: Record<JoinManner, string> = { cut: 'Cut', dissolve: 'Dissolve', wipe: 'Wipe' };
const SIDE_WORDS = {
  left: 'from the left',
  right: 'from the right',
  top: 'from above',
  bottom: 'from below',
};
/** Frames of a join that is chosen anew. */
const JOIN_FRAMES = 12;

/** How something of the reel follows what is before it. */
export function JoinForm({ item, at }: { item: ReelItem; at: number }) {
  const session = useReelSession();
  const items = useReel((state) => state.reel.items);
  const { join } = item;
  const most = mostJoin(items, at);
  const set = (more: Partial<typeof join>, kind = ''): void =>
    edit(session, (reel) => setJoin(reel, item.id, { ...join, ...more }), kind);
  return (
    <fieldset className="border-t border-line-soft py-1.5">
      <legend className="float-left w-full px-2.5 pb-1 font-bold">
        {at === 0 ? 'Comes out of black by' : 'Follows what is before it by'}
      </legend>
      <Row label="Manner">
        <span
          className="flex overflow-hidden rounded-md border border-line"
          role="radiogroup"
          aria-label="Manner"
        >
          {JOINS.map((manner) => (
            <button
              key={manner}
              type="button"
              role="radio"
              aria-checked={join.manner === manner}
              disabled={manner !== 'cut' && most === 0}
              className={`h-[22px] px-2 font-semibold ${join.manner === manner ? 'bg-ink text-panel' : 'bg-raised hover:bg-field'}`}
              onClick={() =>
                set({ manner, frames: manner === 'cut' ? 0 : join.frames || Math.min(JOIN_FRAMES, most) })
              }
            >
              {JOIN_WORDS[manner]}
            </button>
          ))}
        </span>
      </Row>
      {join.manner !== 'cut' && (
        <Row label="Takes">
          <NumberBox
            label="Frames of the join"
            value={join.frames}
            min={1}
            max={most}
            onValue={(frames) => set({ frames }, `join ${item.id}`)}
          />
          <span className="text-ink-3">frames, {most} at most</span>
        </Row>
      )}
      {join.manner === 'wipe' && (
        <Row label="Comes">
          <select
            aria-label="Side that it comes from"
            className="input-field h-[22px]"
            value={join.from}
            onChange={(event) => set({ from: event.target.value as typeof join.from })}
          >
            {SIDES.map((side) => (
              <option key={side} value={side}>
                {SIDE_WORDS[side]}
              </option>
            ))}
          </select>
        </Row>
      )}
      {join.manner !== 'cut' && at > 0 && (
        <p className="px-2.5 pt-1 text-xs leading-snug text-ink-2">
          Half of it lies before the cut: both shots go on beyond their in and out for it. Nothing moves.
        </p>
      )}
    </fieldset>
  );
}
