import { useEffect, useMemo, useRef, useState, type KeyboardEvent } from 'react';
import { toast } from 'sonner';
import { METRES_PER_UNIT } from '../../../../core/formula';
import { useSession, useSheets, useShot } from '../session';
import type { AddGroup } from '../../../../core/document';
import { ADDABLES, addableMatches, newPartOf, type Addable } from './addables';
import { addAndShow } from './first-part';
import { bringIn, type BringOptions } from './bring-in';
import { addOtherShot, useOtherShots } from './other-shots';
import { PartGlyph } from '../fields/glyphs';
import { thumbs } from './thumbs';
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
  const unit = useShot((state) => state.shot.setup.unit);
  const [find, setFind] = useState('');
  const [at, setAt] = useState(0);
  const [pictures, setPictures] = useState<ReadonlyMap<string, string>>(new Map());
  const [sizing, setSizing] = useState<'pixels' | 'height'>('pixels');
  const [height, setHeight] = useState('1');
  const [box, setBox] = useState(false);
  const chooser = useRef<HTMLInputElement>(null);
  useEffect(() => {
    let left = false;
    void thumbs()
      .then((found) => !left && setPictures(found))
      .catch(() => undefined);
    return () => {
      left = true;
    };
  }, []);
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
  const tall = Number(height) * METRES_PER_UNIT[unit];
  const wrongHeight = sizing === 'height' && !(tall > 0 && tall <= 1e4);
  const options: BringOptions = {
    pictureSize: sizing === 'pixels' ? { by: 'pixels' } : { by: 'height', metres: tall },
    pictureBox: box,
  };

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
      <div className="flex flex-none flex-wrap items-center gap-x-4 gap-y-2 border-t border-line-soft bg-raised px-4 py-2.5">
        <button
          type="button"
          className="btn btn-strong"
          disabled={wrongHeight}
          onClick={() => chooser.current?.click()}
        >
          Bring files in...
        </button>
        <span className="min-w-[60%] flex-1 text-ink-2">
          PNG, JPEG, WebP, MP4, WebM as layers; SVG as outlines; GLB, glTF, OBJ, STL, PLY as meshes; WAV, MP3,
          OGG, FLAC as sounds; MIDI notes as beats. They can also be dropped on the view.
        </span>
        <span className="flex items-center gap-1.5">
          <label htmlFor="picture-size">Pictures are</label>
          <select
            id="picture-size"
            className="input-field px-1"
            value={sizing}
            onChange={(event) => setSizing(event.target.value as 'pixels' | 'height')}
          >
            <option value="pixels">as many pixels as they have (100 px = 1 m)</option>
            <option value="height">as high as typed</option>
          </select>
          {sizing === 'height' && (
            <>
              <input
                aria-label="Height of pictures"
                aria-invalid={wrongHeight}
                className="input-field num w-16"
                value={height}
                onChange={(event) => setHeight(event.target.value)}
                onKeyDown={(event) => event.stopPropagation()}
              />
              {unit}
            </>
          )}
        </span>
        <label className="flex items-center gap-1.5">
          <input
            type="checkbox"
            className="accent-teal"
            checked={box}
            onChange={(event) => setBox(event.target.checked)}
          />
          on the six faces of a box
        </label>
        {wrongHeight && (
          <p role="alert" className="w-full text-now">
            "{height}" is no height: type a number above 0, in {unit}.
          </p>
        )}
        <input
          ref={chooser}
          type="file"
          multiple
          hidden
          data-testid="bring-files"
          accept=".png,.jpg,.jpeg,.webp,.mp4,.mov,.m4v,.webm,.svg,.glb,.gltf,.bin,.obj,.stl,.ply,.wav,.mp3,.ogg,.oga,.flac,.mid,.midi"
          onChange={(event) => {
            const files = [...(event.target.files ?? [])];
            session.sheets.show(null);
            void bringIn(session, files, options);
          }}
        />
      </div>
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
