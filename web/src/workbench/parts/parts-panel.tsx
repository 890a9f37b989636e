import { useVirtualizer } from '@tanstack/react-virtual';
import { Plus } from 'lucide-react';
import { useEffect, useRef, useState, type DragEvent, type KeyboardEvent } from 'react';
import { renamePart, standingOf } from '../../../../core/edit';
import { hexOfColour } from '../../../../core/math';
import { SearchField } from '../../ui/search-field';
import { useLatest } from '../../shared/use-latest';
import { ringOfPart } from '../fields/ring';
import { choose } from '../actions/choosing';
import { useSession, useCalmly, useChoice, useKeying, useSheets, useShot } from '../session';
import { PartRow } from './part-row';
import { Trays } from './trays';
import { useTreeRows } from './use-tree-rows';
import { chooseRow, dropParts, treeKey, type DropPlace, type HeldKeys } from './tree-moves';

const ROW_HEIGHT = 24;

/** What can be done with the rows of the tree, and where something that is dragged would be dropped. */
function useTreeActions(rows: readonly { readonly id: string }[], toggle: (id: string) => void) {
  const session = useSession();
  const [dropAt, setDropAt] = useState<{ id: string; place: DropPlace } | null>(null);
  const dropOn = (event: DragEvent, target: string | null, place: DropPlace): void => {
    event.preventDefault();
    event.stopPropagation();
    setDropAt(null);
    const dragged = event.dataTransfer.getData('text/whirl-part');
    if (!session.shot.parts[dragged] || dragged === target) return;
    const ids = session.choice.now.chosen.includes(dragged) ? session.choice.now.chosen : [dragged];
    dropParts(session, ids, target, place);
  };

  const actions = useLatest({
    toggle: (id: string) => toggle(id),
    choose: (id: string, held: HeldKeys) =>
      chooseRow(
        session,
        rows.map((row) => row.id),
        id,
        held,
      ),
    rename: (id: string, name: string | null): void => {
      session.sheets.rename(null);
      if (name !== null && name.trim() !== session.shot.parts[id]?.name)
        session.edit((current) => renamePart(current, id, name));
    },
    startRename: (id: string) => session.sheets.rename(id),
    dragTo: (id: string, place: DropPlace | null) => setDropAt(place === null ? null : { id, place }),
    drop: dropOn,
  });
  return { dropAt, dropOn, clearDrop: () => setDropAt(null), actions };
}

/** The tree of parts: choose, rename, order and hang elsewhere by dragging, hide, lock, copy, delete. */
export function PartsPanel() {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const chosen = useChoice((state) => state.chosen);
  const renaming = useSheets((state) => state.renaming);
  const frame = useCalmly();
  const loose = useKeying((state) => state.loose);
  const [find, setFind] = useState('');
  const scroller = useRef<HTMLDivElement>(null);

  const { tree, rows, children, wanted, closed, toggle, unfold } = useTreeRows(shot, find);
  const standing = standingOf(shot);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 10,
  });

  // What is chosen elsewhere is unfolded and comes into sight.
  const last = chosen.at(-1);
  useEffect(() => {
    if (last === undefined) return;
    unfold(last);
    const index = rows.findIndex((row) => row.id === last);
    if (index >= 0) virtual.scrollToIndex(index, { align: 'auto' });
    // Folding and scrolling by hand are left alone: only a new choice, search or name moves the tree.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, [last, wanted, renaming]);

  const move = (event: KeyboardEvent): void => {
    if (treeKey(session, event, { rows: rows.map((row) => row.id), children, closed, toggle }))
      event.stopPropagation();
  };

  const { dropAt, dropOn, clearDrop, actions } = useTreeActions(rows, toggle);

  return (
    <section className="panel flex flex-col" aria-label="Parts">
      <PanelHead />
      <SearchField
        label="Find a part"
        placeholder="Find a part..."
        className="input-field mx-2 my-1.5 flex-none"
        value={find}
        onChange={setFind}
        onEnter={() => rows[0] && choose(session, [rows[0].id])}
      />
      <Trays />
      <div
        ref={scroller}
        role="tree"
        aria-label="Tree of parts"
        aria-multiselectable="true"
        aria-activedescendant={last === undefined ? undefined : `part-${last}`}
        tabIndex={0}
        className="min-h-0 flex-1 overflow-y-auto overflow-x-hidden pb-6"
        onKeyDown={move}
        onDragOver={(event) => {
          if (!event.dataTransfer.types.includes('text/whirl-part')) return;
          event.preventDefault();
          clearDrop();
        }}
        onDrop={(event) => {
          if (event.dataTransfer.types.includes('text/whirl-part')) dropOn(event, null, 'into');
        }}
      >
        {tree.length === 0 && (
          <p className="p-4 leading-relaxed text-ink-2">
            The scene is empty. Bring the first part in with "+ Add" above.
          </p>
        )}
        {wanted && rows.length === 0 && <p className="p-4 text-ink-2">No part is called "{find}".</p>}
        <div className="relative" style={{ height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map(({ index, start }) => {
            const { id, depth } = rows[index]!;
            const part = shot.parts[id];
            if (!part) return null;
            return (
              <div key={id} className="absolute inset-x-0" style={{ top: start }}>
                <PartRow
                  id={id}
                  part={part}
                  tray={part.tray === undefined ? null : (shot.trays[part.tray]?.name ?? '')}
                  picture={(part.look && shot.looks[part.look]?.pictures?.all?.asset) ?? null}
                  colour={part.look ? hexOfColour(session.evaluator.colour(`${part.look}/colour`)) : null}
                  ring={ringOfPart(shot, id, frame, loose)}
                  shown={session.evaluator.number(`${id}/visible`) === 1}
                  height={ROW_HEIGHT}
                  depth={wanted ? 0 : depth}
                  open={children.has(id) ? !closed.has(id) : null}
                  chosen={chosen.includes(id)}
                  drop={dropAt?.id === id ? dropAt.place : null}
                  renaming={renaming === id}
                  lockedByTray={standing.locked.has(id) && part.locked !== true}
                  away={standing.away.has(id)}
                  position={index + 1}
                  count={rows.length}
                  actions={actions}
                />
              </div>
            );
          })}
        </div>
      </div>
    </section>
  );
}

function PanelHead() {
  const session = useSession();
  const count = useShot((state) => Object.keys(state.shot.parts).length);
  return (
    <h2 className="flex h-8 flex-none items-center border-b border-line-soft px-2.5 font-bold">
      Parts
      <span className="ml-1.5 font-medium text-ink-3">{count}</span>
      <button
        type="button"
        className="ml-auto flex items-center gap-0.5 rounded px-1 font-bold text-teal hover:bg-teal-wash"
        title="Add something, or bring files in (N)"
        onClick={() => session.sheets.show('add')}
      >
        <Plus size={13} aria-hidden="true" /> Add
      </button>
    </h2>
  );
}
