import { FILM_FRAMES } from '../../../../core/film';
import type { ReactNode } from 'react';
import { changeItem, type ReelItem } from '../../../../core/reel';
import { framesPerSecond } from '../../../../core/time';
import { NumberBox } from '../../ui/number-box';
import { edit } from '../reel-edits';
import { useReel, useReelSession } from '../reel-session';

/** A line of a form: what it is, then its fields. */
export function Row({ label, children }: { label: string; children: ReactNode }) {
  return (
    <div className="flex min-h-[26px] items-center gap-2 px-2.5">
      <span className="w-[74px] flex-none text-ink-2">{label}</span>
      <span className="flex min-w-0 flex-1 items-center gap-1.5">{children}</span>
    </div>
  );
}

/** Name and kind of what a form is about. */
export function Head({ kind, name }: { kind: string; name: string }) {
  return (
    <h2 className="flex h-8 flex-none items-center gap-2 border-b border-line-soft bg-head px-2.5">
      <b className="truncate" title={name}>
        {name}
      </b>
      <span className="ml-auto flex-none text-ink-3">{kind}</span>
    </h2>
  );
}

/** How many frames of the reel something takes. */
export function Length({ item }: { item: ReelItem }) {
  const session = useReelSession();
  const rate = useReel((state) => state.reel.rate);
  return (
    <>
      <NumberBox
        label="Length"
        value={item.frames}
        min={1}
        max={FILM_FRAMES}
        onValue={(frames) => edit(session, (reel) => changeItem(reel, item, { frames }), `length ${item.id}`)}
      />
      <span className="text-ink-3">
        {item.frames === 1 ? 'frame' : 'frames'},{' '}
        {Math.round((item.frames / framesPerSecond(rate)) * 100) / 100} s
      </span>
    </>
  );
}
