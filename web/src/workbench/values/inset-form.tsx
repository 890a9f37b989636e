import { ExternalLink } from 'lucide-react';
import { Link } from 'react-router';
import type { Inset } from '../../../../core/document';
import { changeInset, type InsetOptions } from '../../../../core/edit';
import { PlaysSelect } from '../clips/plays-select';
import { useKnownShot, useSession, useShot } from '../session';
import { ExactNumber, tidyNumber as tidy } from '../shaping/exact-number';
import { typedEdit } from '../shaping/typed-edit';

/** Which shot a part shows, when, how fast, and what comes along with it. */
export function InsetForm({ id }: { id: string }) {
  const inset = useShot((state) => state.shot.parts[id]?.inset);
  return inset ? <Shown id={id} inset={inset} /> : null;
}

function Shown({ id, inset }: { id: string; inset: Inset }) {
  const session = useSession();
  const known = useKnownShot(inset.shot);
  const change = (options: InsetOptions): string | null =>
    typedEdit(session, (now) => changeInset(now, id, options));
  const label = 'w-[82px] flex-none truncate text-ink-2';
  const number = (
    words: string,
    text: string,
    unit: string,
    title: string,
    take: (value: number | null) => string | null,
  ) => (
    <ExactNumber
      label={words}
      text={text}
      unit={unit}
      title={title}
      none="never"
      className="w-[126px]"
      onNumber={take}
    />
  );
  const toggle = (words: string, on: boolean, title: string, flip: () => void) => (
    <label className="flex items-center gap-1.5" title={title}>
      <input type="checkbox" className="accent-teal" checked={on} onChange={flip} />
      {words}
    </label>
  );
  return (
    <div className="mt-1 border-t border-line-soft" data-testid="inset-form">
      <h3 className="flex h-6 items-center gap-1.5 px-2.5 text-xs font-bold">
        Shot
        <Link
          to={`/shots/${inset.shot}`}
          className="ml-auto flex min-w-0 items-center gap-1 font-semibold text-teal"
          title="Open that shot: what is changed there shows here"
        >
          <span className="truncate">{known?.name ?? inset.name}</span>
          <ExternalLink size={12} aria-hidden="true" className="flex-none" />
        </Link>
      </h3>
      {known?.failed && (
        <p role="alert" className="px-2.5 pb-1 text-now">
          {known.shot ? 'It is shown as it was last read. ' : 'It cannot be shown. '}
          {known.failed}
        </p>
      )}
      <div className="grid gap-1 px-2.5">
        {number('Begins at', tidy(inset.start), 'f', 'Frame at which its first frame is shown', (start) =>
          start === null ? 'A frame is needed.' : change({ start }),
        )}
        {number(
          'Speed',
          tidy(inset.speed),
          '×',
          'Its own speed is 1, whatever the frame rates are',
          (speed) => (speed === null ? 'A number is needed.' : change({ speed })),
        )}
        <label className="flex items-center gap-1.5">
          <span className={label}>Goes on</span>
          <PlaysSelect value={inset.plays} onChange={(plays) => void change({ plays })} />
        </label>
        {inset.plays !== 'once' &&
          number(
            'Ends at',
            inset.until === null ? 'never' : tidy(inset.until),
            'f',
            'Frame at which it is no longer seen, or "never"',
            (until) => change({ until }),
          )}
        <div className="flex flex-wrap gap-x-3 gap-y-1 pl-[88px]">
          {toggle('backwards', inset.backwards === true, 'From its last frame to its first', () =>
            change({ backwards: inset.backwards ? undefined : true }),
          )}
          {toggle('its lights shine', inset.lights === true, 'Its lamps light this shot, too', () =>
            change({ lights: inset.lights ? undefined : true }),
          )}
          {toggle('its sounds are heard', inset.silent !== true, 'At its own speed and forwards only', () =>
            change({ silent: inset.silent ? undefined : true }),
          )}
        </div>
      </div>
    </div>
  );
}
