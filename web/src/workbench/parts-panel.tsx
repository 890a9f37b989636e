import { ContextMenu, Popover } from 'radix-ui';
import {
  Box,
  Camera,
  ChevronDown,
  ChevronRight,
  CircleDot,
  Cylinder,
  Eye,
  EyeOff,
  Globe,
  Grid3x3,
  Lightbulb,
  Plus,
  Settings,
  Sun,
  Torus,
  Waypoints,
} from 'lucide-react';
import { useMemo, useState, type DragEvent, type KeyboardEvent } from 'react';
import { toast } from 'sonner';
import {
  channelsReachedFrom,
  isWithin,
  treeOrder,
  type PartKind,
  type ShapeKind,
  type Shot,
} from '../../../core/document';
import {
  addPart,
  linkedCopy,
  readersOf,
  removeParts,
  renamePart,
  reparent,
  EditRefused,
} from '../../../core/edit';
import { writtenName } from '../../../core/formula';
import { hexOfColour } from '../../../core/math';
import { useFormulaDraft } from './formula-draft';
import { Ring, RING_WORDS, ringOf, strongest, type RingState } from './ring';
import { useSession, useSessionState, type Session } from './session';

const ROW_HEIGHT = 24;

interface Addable {
  readonly label: string;
  readonly kind: PartKind;
  readonly shape?: ShapeKind;
  readonly icon: typeof Box;
}

const ADDABLE: readonly Addable[] = [
  { label: 'Box', kind: 'solid', shape: 'box', icon: Box },
  { label: 'Ball', kind: 'solid', shape: 'ball', icon: Globe },
  { label: 'Cylinder', kind: 'solid', shape: 'cylinder', icon: Cylinder },
  { label: 'Torus', kind: 'solid', shape: 'torus', icon: Torus },
  { label: 'Gear', kind: 'solid', shape: 'gear', icon: Settings },
  { label: 'Hub', kind: 'hub', icon: Waypoints },
  { label: 'Repeat', kind: 'repeat', icon: Grid3x3 },
  { label: 'Camera', kind: 'camera', icon: Camera },
  { label: 'Sun', kind: 'sun', icon: Sun },
  { label: 'Sky light', kind: 'sky', icon: CircleDot },
  { label: 'Point light', kind: 'point', icon: Lightbulb },
];

const NEW_COLOUR: [number, number, number] = [0.45, 0.2, 0.08];

/** The tree of parts: choose, rename, hang elsewhere by dragging, hide, add, copy, delete. */
export function PartsPanel() {
  const session = useSession();
  const shot = useSessionState((state) => state.shot);
  const chosen = useSessionState((state) => state.chosen);
  const frame = useSessionState((state) => state.frame);
  const loose = useSessionState((state) => state.loose);
  const [find, setFind] = useState('');
  const [closed, setClosed] = useState<ReadonlySet<string>>(() => new Set(startClosed(session.state.shot)));
  const [renaming, setRenaming] = useState<string | null>(null);
  const [dropAt, setDropAt] = useState<string | null>(null);

  const tree = useMemo(() => treeOrder(shot), [shot]);
  const children = useMemo(() => new Set(Object.values(shot.parts).map((part) => part.parent)), [shot]);
  const wanted = find.trim().toLowerCase();
  const rows = tree.filter(({ id }) => {
    const part = shot.parts[id]!;
    if (wanted) return part.name.toLowerCase().includes(wanted);
    for (let above = part.parent; above !== null; above = shot.parts[above]?.parent ?? null)
      if (closed.has(above)) return false;
    return true;
  });

  const toggle = (id: string, open?: boolean): void =>
    setClosed((now) => {
      const next = new Set(now);
      if (open ?? next.has(id)) next.delete(id);
      else next.add(id);
      return next;
    });

  const add = (entry: Addable): void => {
    const values: Record<string, number> =
      entry.kind === 'solid'
        ? { 'location.y': 0.5 }
        : entry.kind === 'hub' || entry.kind === 'repeat'
          ? {}
          : { 'location.y': 3 };
    const { change, id } = addPart(session.state.shot, {
      kind: entry.kind,
      name: entry.label,
      values,
      ...(entry.shape
        ? { shape: { kind: entry.shape, values: {} }, look: { values: { colour: NEW_COLOUR } } }
        : {}),
    });
    session.commit(change);
    session.choose([id]);
  };

  const move = (event: KeyboardEvent): void => {
    const at = rows.findIndex((row) => row.id === chosen.at(-1));
    const current = rows[at]?.id;
    if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault();
      const next = rows[Math.max(0, Math.min(rows.length - 1, at + (event.key === 'ArrowDown' ? 1 : -1)))];
      if (next) session.choose([next.id]);
    } else if (current && event.key === 'ArrowRight') toggle(current, true);
    else if (current && event.key === 'ArrowLeft' && !closed.has(current)) toggle(current);
    else if (current && event.key === 'F2') setRenaming(current);
    else return;
    event.stopPropagation();
  };

  return (
    <section className="panel flex flex-col" aria-label="Parts">
      <h2 className="flex h-8 flex-none items-center border-b border-line-soft px-2.5 font-bold">
        Parts
        <Popover.Root>
          <Popover.Trigger className="ml-auto flex items-center gap-0.5 rounded px-1 font-bold text-teal hover:bg-teal-wash">
            <Plus size={13} aria-hidden="true" /> Add
          </Popover.Trigger>
          <Popover.Portal>
            <Popover.Content
              className="menu-surface grid w-60 grid-cols-2 gap-0.5"
              sideOffset={4}
              align="start"
            >
              {ADDABLE.map((entry) => (
                <Popover.Close
                  key={entry.label}
                  className="menu-item text-left hover:bg-teal-wash"
                  onClick={() => add(entry)}
                >
                  <entry.icon size={15} aria-hidden="true" className="text-key" />
                  {entry.label}
                </Popover.Close>
              ))}
            </Popover.Content>
          </Popover.Portal>
        </Popover.Root>
      </h2>
      <input
        type="search"
        aria-label="Find a part"
        placeholder="Find a part..."
        className="input-field mx-2 my-1.5 flex-none placeholder:text-ink-3"
        value={find}
        onChange={(event) => setFind(event.target.value)}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === 'Escape') setFind('');
          if (event.key === 'Enter' && rows[0]) session.choose([rows[0].id]);
        }}
      />
      <div
        role="tree"
        aria-label="Tree of parts"
        tabIndex={0}
        className="min-h-0 flex-1 overflow-y-auto overflow-x-hidden pb-6"
        onKeyDown={move}
        onDragOver={(event) => {
          event.preventDefault();
          setDropAt('');
        }}
        onDrop={(event) => {
          drop(event, session, null);
          setDropAt(null);
        }}
      >
        {Object.keys(shot.parts).length === 0 && (
          <p className="p-4 leading-relaxed text-ink-2">
            The scene is empty. Bring the first part in with "+ Add" above.
          </p>
        )}
        {wanted && rows.length === 0 && <p className="p-4 text-ink-2">No part is called "{find}".</p>}
        {rows.map(({ id, depth }) => (
          <PartRow
            key={id}
            id={id}
            depth={wanted ? 0 : depth}
            open={children.has(id) ? !closed.has(id) : null}
            chosen={chosen.includes(id)}
            dropping={dropAt === id}
            renaming={renaming === id}
            ring={partRing(shot, id, frame, loose)}
            onToggle={() => toggle(id)}
            onRename={(name) => {
              setRenaming(null);
              if (name !== null && name.trim() !== shot.parts[id]?.name)
                session.edit((current) => renamePart(current, id, name));
            }}
            onStartRename={() => setRenaming(id)}
            onDropAt={setDropAt}
          />
        ))}
      </div>
    </section>
  );
}

/** Parts whose children begin folded: those with many. */
function startClosed(shot: Shot): string[] {
  const counts = new Map<string, number>();
  for (const part of Object.values(shot.parts))
    if (part.parent) counts.set(part.parent, (counts.get(part.parent) ?? 0) + 1);
  const crowded = [...counts].filter(([, count]) => count > 8).map(([id]) => id);
  const groups = Object.keys(shot.parts).filter(
    (id) => shot.parts[id]?.kind === 'hub' && (counts.get(id) ?? 0) > 2 && shot.parts[id]?.parent !== null,
  );
  return [...crowded, ...groups].filter((id) => shot.parts[id]?.name !== 'Boats');
}

function partRing(
  shot: Shot,
  id: string,
  frame: number,
  loose: Readonly<Record<string, unknown>>,
): RingState {
  return strongest(
    channelsReachedFrom(shot, id).map((channel) =>
      ringOf(shot, `${channel.owner}/${channel.path}`, frame, loose),
    ),
  );
}

function drop(event: DragEvent, session: Session, parent: string | null): void {
  event.preventDefault();
  event.stopPropagation();
  const id = event.dataTransfer.getData('text/whirl-part');
  const part = session.state.shot.parts[id];
  if (!part || part.parent === parent) return;
  try {
    const { change, warning } = reparent(session.state.shot, session.evaluator, id, parent);
    session.commit(change);
    if (warning === 'animated')
      toast(
        `${part.name} stays where it is at this frame. It is keyed or linked, so at other frames it may stand elsewhere.`,
      );
    if (warning === 'sheared')
      toast(`${part.name} cannot keep its shape exactly: its new parent is stretched at an angle to it.`);
  } catch (error) {
    if (!(error instanceof EditRefused)) throw error;
    toast.error(error.message);
  }
}

interface RowProps {
  readonly id: string;
  readonly depth: number;
  readonly open: boolean | null;
  readonly chosen: boolean;
  readonly dropping: boolean;
  readonly renaming: boolean;
  readonly ring: RingState;
  onToggle(): void;
  onRename(name: string | null): void;
  onStartRename(): void;
  onDropAt(id: string | null): void;
}

function PartRow(props: RowProps) {
  const { id, depth, open, chosen, renaming, ring } = props;
  const session = useSession();
  const part = useSessionState((state) => state.shot.parts[id]);
  useSessionState((state) => state.tick);
  const draft = useFormulaDraft();
  if (!part) return null;
  const shown = session.evaluator.number(`${id}/visible`) === 1;
  const kind = part.shape ? session.state.shot.shapes[part.shape]?.kind : undefined;
  const entry =
    ADDABLE.find((candidate) => candidate.kind === part.kind && candidate.shape === kind) ?? ADDABLE[0]!;
  const colour = part.look ? hexOfColour(session.evaluator.colour(`${part.look}/colour`)) : null;

  const remove = (): void => {
    const { shot } = session.state;
    const ids = session.state.chosen.includes(id) ? session.state.chosen : [id];
    const readers = readersOf(shot, [
      ...new Set(
        ids.flatMap((root) => Object.keys(shot.parts).filter((other) => isWithin(shot, other, root))),
      ),
    ]);
    session.commit(removeParts(shot, ids));
    if (readers.length > 0)
      toast(
        `${readers.slice(0, 3).join(', ')}${readers.length > 3 ? ` and ${readers.length - 3} more` : ''} read what was deleted: their links are out of force.`,
        { action: { label: 'Undo', onClick: () => session.undo() } },
      );
  };

  return (
    <ContextMenu.Root>
      <ContextMenu.Trigger asChild>
        <div
          role="treeitem"
          aria-selected={chosen}
          aria-expanded={open ?? undefined}
          aria-level={depth + 1}
          draggable={!renaming}
          className={`flex items-center gap-1.5 pr-2 ${chosen ? 'bg-teal-wash font-semibold shadow-[inset_3px_0_0_var(--color-teal)]' : 'hover:bg-raised'} ${props.dropping ? 'outline-2 -outline-offset-2 outline-teal' : ''}`}
          style={{ height: ROW_HEIGHT, paddingLeft: 6 + depth * 13 }}
          onMouseDown={(event) => {
            if (!draft.editing) return;
            event.preventDefault();
            draft.insert(`${writtenName(part.name)}.`);
          }}
          onClick={(event) => {
            if (draft.editing) return;
            const { chosen: before } = session.state;
            if (event.ctrlKey || event.metaKey)
              session.choose(before.includes(id) ? before.filter((other) => other !== id) : [...before, id]);
            else session.choose([id]);
          }}
          onContextMenu={() => !session.state.chosen.includes(id) && session.choose([id])}
          onDoubleClick={props.onStartRename}
          onDragStart={(event) => event.dataTransfer.setData('text/whirl-part', id)}
          onDragOver={(event) => {
            event.preventDefault();
            event.stopPropagation();
            props.onDropAt(id);
          }}
          onDragLeave={() => props.onDropAt(null)}
          onDrop={(event) => {
            drop(event, session, id);
            props.onDropAt(null);
          }}
        >
          <button
            type="button"
            tabIndex={-1}
            aria-label={open ? 'Fold' : 'Unfold'}
            className={`flex w-3 flex-none justify-center text-ink-3 ${open === null ? 'invisible' : ''}`}
            onClick={(event) => {
              event.stopPropagation();
              props.onToggle();
            }}
          >
            {open ? (
              <ChevronDown size={11} aria-hidden="true" />
            ) : (
              <ChevronRight size={11} aria-hidden="true" />
            )}
          </button>
          <span
            className="flex size-[15px] flex-none items-center justify-center rounded-[4px]"
            style={colour ? { background: colour } : { color: 'var(--color-ink-2)' }}
          >
            {colour === null && <entry.icon size={13} aria-hidden="true" />}
          </span>
          {renaming ? (
            <input
              autoFocus
              aria-label="New name"
              defaultValue={part.name}
              maxLength={200}
              className="input-field h-5 min-w-0 flex-1 px-1"
              onFocus={(event) => event.target.select()}
              onBlur={(event) => props.onRename(event.target.value)}
              onClick={(event) => event.stopPropagation()}
              onKeyDown={(event) => {
                event.stopPropagation();
                if (event.key === 'Enter') event.currentTarget.blur();
                if (event.key === 'Escape') props.onRename(null);
              }}
            />
          ) : (
            <span className="truncate" title={part.name}>
              {part.name}
            </span>
          )}
          <span className="ml-auto flex flex-none items-center gap-1.5">
            {ring !== 'still' && (
              <span title={RING_WORDS[ring]}>
                <Ring state={ring} />
              </span>
            )}
            <button
              type="button"
              tabIndex={-1}
              aria-label={`${shown ? 'Hide' : 'Show'} ${part.name}`}
              className={shown ? 'text-ink-3/60 hover:text-ink' : 'text-ink-2'}
              onClick={(event) => {
                event.stopPropagation();
                session.setChannels([[`${id}/visible`, shown ? 0 : 1]]);
              }}
            >
              {shown ? <Eye size={13} aria-hidden="true" /> : <EyeOff size={13} aria-hidden="true" />}
            </button>
          </span>
        </div>
      </ContextMenu.Trigger>
      <ContextMenu.Portal>
        <ContextMenu.Content className="menu-surface">
          <ContextMenu.Item className="menu-item" onSelect={() => setTimeout(props.onStartRename)}>
            Rename
          </ContextMenu.Item>
          <ContextMenu.Item className="menu-item" onSelect={() => copyChosen(session)}>
            Linked copy
          </ContextMenu.Item>
          <ContextMenu.Item
            className="menu-item"
            disabled={part.parent === null}
            onSelect={() => session.commit(reparent(session.state.shot, session.evaluator, id, null).change)}
          >
            Take out of {part.parent ? session.state.shot.parts[part.parent]?.name : 'its parent'}
          </ContextMenu.Item>
          {part.kind === 'camera' && (
            <ContextMenu.Item
              className="menu-item"
              disabled={session.state.shot.setup.camera === id}
              onSelect={() => session.edit(() => takeShotWith(session, id))}
            >
              Take the shot with it
            </ContextMenu.Item>
          )}
          <ContextMenu.Separator className="my-1 h-px bg-line-soft" />
          <ContextMenu.Item className="menu-item text-now" onSelect={remove}>
            Delete
          </ContextMenu.Item>
        </ContextMenu.Content>
      </ContextMenu.Portal>
    </ContextMenu.Root>
  );
}

function takeShotWith(session: Session, id: string) {
  const { shot } = session.state;
  return {
    label: `Take the shot with ${shot.parts[id]?.name ?? ''}`,
    patches: [{ path: ['setup', 'camera'], before: shot.setup.camera, after: id }],
  };
}

/** Makes linked copies of the chosen parts and chooses them. */
export function copyChosen(session: Session): void {
  const made: string[] = [];
  for (const id of session.state.chosen)
    session.edit((shot) => {
      const copy = linkedCopy(shot, id);
      made.push(copy.id);
      return copy.change;
    });
  if (made.length > 0) session.choose(made);
}
