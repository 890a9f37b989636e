import {
  changeClip,
  changePlacement,
  mirrorShowing,
  stretchShowing,
  trimShowing,
  type PlacementOptions,
} from '../../../../core/edit';
import { playedOf, spanOfPlacement } from '../../../../core/evaluate';
import { closeClip, openClip, removeChosen, repeatChosen, untie } from '../actions/clips';
import { useSession, useShot, useStrips } from '../session';
import { ExactField } from '../shaping/exact-field';
import { ExactNumber, tidyNumber as tidy } from '../shaping/exact-number';
import { typedDocument } from '../shaping/typed-edit';
import { timesShown, unpack } from './strip-menu';
import { PlaysSelect } from './plays-select';

/** The chosen showing of a clip in numbers, and what can be done with it. */
export function StripFields() {
  const chosen = useStrips((state) => state.chosen);
  const id = chosen.at(-1);
  const there = useShot((state) => id !== undefined && state.document.placements[id] !== undefined);
  if (id === undefined || !there) return null;
  return (
    <section aria-label="Chosen clip" className="flex flex-col gap-1.5 border-b border-line pb-2.5">
      <OneStrip key={id} id={id} more={chosen.length - 1} />
    </section>
  );
}

function OneStrip({ id, more }: { id: string; more: number }) {
  const session = useSession();
  const shot = useShot((state) => state.document);
  const placement = shot.placements[id]!;
  const clip = shot.clips[placement.clip];
  if (!clip) return null;
  const times = timesShown(shot, placement.clip);
  const change = (options: PlacementOptions): string | null =>
    typedDocument(session, (now) => changePlacement(now, id, options));
  const edit = (make: Parameters<typeof session.editDocument>[0]): string | null =>
    typedDocument(session, make);
  const toggle = (label: string, on: boolean, flip: () => void, title: string) => (
    <label className="flex items-center gap-1.5" title={title}>
      <input type="checkbox" checked={on} onChange={flip} />
      {label}
    </label>
  );
  const flag = (what: 'backwards' | 'off') => (): void =>
    void change(placement[what] ? { [what]: undefined } : { [what]: true });
  return (
    <>
      <div className="flex items-center gap-1.5">
        <i className="h-3.5 w-[5px] flex-none rounded-sm bg-clip" aria-hidden="true" />
        <ExactField
          label="Name of the clip"
          text={clip.name}
          className="min-w-0 flex-1 [&_input]:text-left [&_input]:font-semibold"
          onType={(name) => edit((now) => changeClip(now, placement.clip, { name }))}
        />
      </div>
      <p className="text-xs text-ink-2">
        {times === 1 ? 'Shown once' : `Shown ${times} times`}
        {more > 0 && `; ${more} more chosen`}
      </p>
      <StripButtons id={id} times={times} />
      <StripNumbers id={id} />
      <label className="flex items-center justify-between gap-2">
        <span className="text-xs text-ink-2">Goes on</span>
        <PlaysSelect value={placement.plays} onChange={(plays) => void change({ plays })} />
      </label>
      <div className="grid grid-cols-2 gap-x-2 gap-y-1">
        {toggle(
          'Backwards',
          placement.backwards === true,
          flag('backwards'),
          'From its last frame to its first',
        )}
        {toggle(
          'Mirrored',
          placement.mirrored === true,
          () => void edit((now) => mirrorShowing(now, id)),
          'Left to right by name, places turned over across x',
        )}
        {toggle('Off', placement.off === true, flag('off'), 'Not shown; it keeps its place')}
      </div>
    </>
  );
}

/** What can be done with the showing. */
function StripButtons({ id, times }: { id: string; times: number }) {
  const session = useSession();
  const isOpen = useShot((state) => state.opened === id);
  return (
    <div className="flex flex-wrap gap-1">
      <button
        type="button"
        className={`btn h-[22px] ${isOpen ? '' : 'btn-strong'}`}
        onClick={() => (isOpen ? closeClip(session) : openClip(session, id))}
      >
        {isOpen ? 'Close' : 'Open'}
      </button>
      <button type="button" className="btn h-[22px]" onClick={() => repeatChosen(session)}>
        Once more
      </button>
      <button
        type="button"
        className="btn h-[22px]"
        disabled={times < 2}
        title="The other showings no longer follow it"
        onClick={() => untie(session, id)}
      >
        Its own
      </button>
      <button type="button" className="btn h-[22px]" onClick={() => unpack(session, id)}>
        Unpack
      </button>
      <button type="button" className="btn h-[22px] text-now" onClick={() => removeChosen(session)}>
        Take away
      </button>
    </div>
  );
}

/** When and how fast it is shown, in numbers. */
function StripNumbers({ id }: { id: string }) {
  const session = useSession();
  const shot = useShot((state) => state.document);
  const placement = shot.placements[id]!;
  const clip = shot.clips[placement.clip]!;
  const span = spanOfPlacement(placement, clip);
  const { first, last } = playedOf(placement, clip);
  const edit = (make: Parameters<typeof session.editDocument>[0]): string | null =>
    typedDocument(session, make);
  const change = (options: PlacementOptions): string | null =>
    edit((now) => changePlacement(now, id, options));
  const number = (
    label: string,
    text: string,
    unit: string,
    title: string,
    take: (value: number) => string | null,
  ) => (
    <ExactNumber
      label={label}
      text={text}
      unit={unit}
      title={title}
      lies="above"
      onNumber={(value) => (value === null ? null : take(value))}
    />
  );
  return (
    <div className="grid grid-cols-2 gap-x-2 gap-y-1.5">
      {number('Begins', tidy(span.from), 'f', 'Frame of the shot at which it begins', (start) =>
        change({
          start,
          until: placement.until === null ? null : placement.until + start - placement.start,
        }),
      )}
      {number(
        'Ends',
        Number.isFinite(span.to) ? tidy(span.to) : 'never',
        'f',
        'Frame at which it is no longer seen: earlier trims it, later than its end repeats it',
        (frame) =>
          placement.plays === 'once'
            ? edit((now) => trimShowing(now, id, 'to', frame))
            : change({ until: frame }),
      )}
      {number('Speed', tidy(placement.speed), '×', 'Frames of the clip for each frame of the shot', (speed) =>
        change({ speed }),
      )}
      {number(
        'One pass takes',
        tidy((last - first) / placement.speed),
        'f',
        'Stretches it: the same is played slower or faster',
        (frames) =>
          edit((now) => {
            const lasts = Number.isFinite(span.to) ? span.to - span.from : (last - first) / placement.speed;
            return stretchShowing(
              now,
              id,
              placement.start + (lasts * frames) / ((last - first) / placement.speed),
            );
          }),
      )}
      {number('Plays its frame', tidy(first), 'f', 'First frame of the clip that is played', (from) =>
        change({ from }),
      )}
      {number('to', tidy(last), 'f', 'Last frame of the clip that is played', (to) => change({ to }))}
      {number(
        'Takes over in',
        tidy(placement.blendIn ?? 0),
        'f',
        'Blended over what lies below it',
        (frames) => change({ blendIn: frames === 0 ? undefined : frames }),
      )}
      {number(
        'Gives back in',
        tidy(placement.blendOut ?? 0),
        'f',
        'Blended into what lies below it',
        (frames) => change({ blendOut: frames === 0 ? undefined : frames }),
      )}
    </div>
  );
}
