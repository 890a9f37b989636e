import { useMemo, useState, useSyncExternalStore, type KeyboardEvent } from 'react';
import { toast } from 'sonner';
import { useSession, useSheets } from '../session';
import type { AddGroup } from '../../../../core/document';
import { ADDABLES, addableMatches, newPartOf, type Addable } from './addables';
import { addAndShow } from './first-part';
import { BringFoot } from './bring-foot';
import { addOtherShot, useOtherShots } from './other-shots';
import { PartGlyph } from '../fields/glyphs';
import { thumbs, watchThumbs } from './thumbs';
import { DialogFrame, DialogLeave, DialogTitle } from '../../ui/dialog-frame';

const COLUMNS = 7;

/** Everything that can be added, with pictures: search it, pick by mouse or arrows, or choose files. */
export function AddSheet() {
  const session = useSession();
  const open = useSheets((state) => state.open === 'add');
  return (
    <DialogFrame
      open={open}
      onClose={() => session.sheets.show(null)}
      className="top-[6%] flex max-h-[88vh] w-[820px] flex-col"
    >
      <AddContents />
    </DialogFrame>
  );
}

function AddContents() {
  const session = useSession();
  const [find, setFind] = useState('');
  const [at, setAt] = useState(0);
  const pictures = useSyncExternalStore(watchThumbs, thumbs);
  const { shots, failed } = useOtherShots(session);
  const found = useMemo(
    () =>
      [...ADDABLES, ...shots.map(({ entry }) => entry)].filter(
        (entry) => find.trim() === '' || addableMatches(entry, find.trim()),
      ),
    [find, shots],
  );
  const shown = useMemo(
    () =>
      new Map([
        ...pictures,
        ...shots.flatMap(({ entry, picture }) => (picture ? [[entry.id, picture] as const] : [])),
      ]),
    [pictures, shots],
  );
  const groups = [...new Set(found.map((entry) => entry.group))];
  const add = async (entry: Addable): Promise<void> => {
    session.sheets.show(null);
    try {
      if (entry.inset !== undefined) {
        await addOtherShot(session, entry.inset, entry.name);
        return;
      }
      const solids = Object.values(session.shot.parts).filter((part) => part.kind === 'solid').length;
      const [id] = session.choice.now.chosen;
      const about =
        id !== undefined && session.shot.parts[id] ? { id, name: session.shot.parts[id].name } : null;
      const spec = await newPartOf(entry, solids, about);
      addAndShow(session, spec);
    } catch (error) {
      toast.error(error instanceof Error ? error.message : String(error));
    }
  };

  const onKeyDown = (event: KeyboardEvent): void => {
    event.stopPropagation();
    const last = found.length - 1;
    const step = { ArrowRight: 1, ArrowLeft: -1, ArrowDown: COLUMNS, ArrowUp: -COLUMNS }[event.key];
    if (step !== undefined) {
      event.preventDefault();
      setAt((now) => Math.max(0, Math.min(last, now + step)));
    } else if (event.key === 'Enter' && found[at]) {
      event.preventDefault();
      void add(found[at]);
    }
  };

  return (
    <>
      <div className="flex flex-none items-center gap-3 border-b border-line-soft px-4 py-3">
        <DialogTitle>Add</DialogTitle>
        <input
          autoFocus
          type="search"
          aria-label="Search what can be added"
          placeholder="Search: gear, lamp, hoop..."
          className="input-field h-7 flex-1 placeholder:text-ink-3"
          role="combobox"
          aria-expanded="true"
          aria-controls="add-list"
          aria-activedescendant={found[at] ? `add-${found[at].id}` : undefined}
          value={find}
          onChange={(event) => {
            setFind(event.target.value);
            setAt(0);
          }}
          onKeyDown={onKeyDown}
        />
        <DialogLeave>Close</DialogLeave>
      </div>
      <div
        id="add-list"
        role="listbox"
        aria-label="What can be added"
        className="min-h-0 flex-1 overflow-y-auto px-4 pb-3"
      >
        {failed !== null && (
          <p role="alert" className="pt-2 text-now">
            The shots of the project cannot be offered: {failed}
          </p>
        )}
        {found.length === 0 && (
          <p className="p-8 text-center text-ink-2">
            Nothing here is called "{find}". Clear the search, or bring a file in below.
          </p>
        )}
        {groups.map((group) => (
          <Group
            key={group}
            group={group}
            entries={found.filter((entry) => entry.group === group)}
            active={found[at]?.id}
            pictures={shown}
            onAdd={(entry) => void add(entry)}
          />
        ))}
      </div>
      <BringFoot />
    </>
  );
}

function Group(props: {
  group: AddGroup;
  entries: readonly Addable[];
  active: string | undefined;
  pictures: ReadonlyMap<string, string>;
  onAdd(entry: Addable): void;
}) {
  return (
    <section aria-label={props.group} role="group">
      <h3 className="mb-1 mt-3 text-xs font-bold text-ink-2">{props.group}</h3>
      <div className="grid gap-1.5" style={{ gridTemplateColumns: `repeat(${COLUMNS}, minmax(0, 1fr))` }}>
        {props.entries.map((entry) => {
          const picture = props.pictures.get(entry.id);
          const active = entry.id === props.active;
          return (
            <button
              key={entry.id}
              id={`add-${entry.id}`}
              ref={(element) => {
                if (active) element?.scrollIntoView({ block: 'nearest' });
              }}
              type="button"
              role="option"
              aria-selected={active}
              aria-label={entry.inset === undefined ? entry.name : `The shot ${entry.name}`}
              tabIndex={-1}
              onClick={() => props.onAdd(entry)}
              className={`flex flex-col items-stretch overflow-hidden rounded-md border text-left ${active ? 'border-teal outline-2 outline-teal' : 'border-line hover:border-teal'}`}
            >
              <span className="flex h-[58px] items-center justify-center bg-line-soft text-key">
                {picture ? (
                  <img src={picture} alt="" className="h-full object-cover" />
                ) : (
                  !entry.shape && <PartGlyph kind={entry.kind} size={34} />
                )}
              </span>
              <span className="bg-raised px-2 py-1">
                <b className="block truncate">{entry.name}</b>
                <span className="line-clamp-2 min-h-[27px] text-xs leading-[1.2] text-ink-2">
                  {entry.hint}
                </span>
              </span>
            </button>
          );
        })}
      </div>
    </section>
  );
}
