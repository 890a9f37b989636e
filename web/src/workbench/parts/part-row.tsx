import { ChevronDown, ChevronRight, Eye, EyeOff, Lock, LockOpen, Users } from 'lucide-react';
import { memo, type DragEvent } from 'react';
import type { Part } from '../../../../core/document';
import { setLocked } from '../../../../core/edit';
import { writtenName } from '../../../../core/formula';
import { MenuOn } from '../../ui/menu';
import { PartGlyph } from '../fields/glyphs';
import { formulaDraft } from '../formula/formula-draft';
import { Ring, RING_WORDS, type RingState } from '../fields/ring';
import { choose } from '../actions/choosing';
import { setChannels } from '../actions/values';
import { useMarked, useSession } from '../session';
import { partMenu } from './part-menu';
import type { DropPlace } from './tree-moves';

interface RowProps {
  readonly id: string;
  readonly part: Part;
  /** Name of the tray it lies in. */
  readonly tray: string | null;
  /** File of the picture on all of it. */
  readonly picture: string | null;
  readonly colour: string | null;
  readonly ring: RingState;
  readonly shown: boolean;
  readonly depth: number;
  readonly height: number;
  /** Whether what hangs below is shown; null when nothing does. */
  readonly open: boolean | null;
  readonly chosen: boolean;
  readonly drop: DropPlace | null;
  readonly renaming: boolean;
  readonly lockedByTray: boolean;
  readonly away: boolean;
  readonly position: number;
  readonly count: number;
  readonly actions: {
    readonly toggle: (id: string) => void;
    readonly choose: (id: string, event: { ctrlKey: boolean; metaKey: boolean; shiftKey: boolean }) => void;
    readonly rename: (id: string, name: string | null) => void;
    readonly startRename: (id: string) => void;
    readonly dragTo: (id: string, place: DropPlace | null) => void;
    readonly drop: (event: DragEvent, id: string, place: DropPlace) => void;
  };
}

/** Third of a row that the pointer is over. */
function placeOver(event: DragEvent): DropPlace {
  const box = event.currentTarget.getBoundingClientRect();
  const share = (event.clientY - box.top) / box.height;
  return share < 0.28 ? 'before' : share > 0.72 ? 'after' : 'into';
}

/** One part of the tree. */
export const PartRow = memo(function PartRow(props: RowProps) {
  const { id, part, depth, open, chosen, renaming, colour, picture, actions } = props;
  const session = useSession();

  return (
    <MenuOn entries={() => partMenu(session, id)}>
      <div
        role="treeitem"
        id={`part-${id}`}
        aria-selected={chosen}
        aria-expanded={open ?? undefined}
        aria-level={depth + 1}
        aria-posinset={props.position}
        aria-setsize={props.count}
        draggable={!renaming}
        className={`relative flex items-center gap-1.5 pr-2 ${chosen ? 'bg-teal-wash font-semibold shadow-[inset_3px_0_0_var(--color-teal)]' : 'hover:bg-raised'} ${props.drop === 'into' ? 'outline-2 -outline-offset-2 outline-teal' : ''}`}
        style={{ height: props.height, paddingLeft: 6 + Math.min(depth, 10) * 13 }}
        onMouseDown={(event) => {
          if (!formulaDraft.editing) return;
          event.preventDefault();
          formulaDraft.insert(`${writtenName(part.name)}.`);
        }}
        onClick={(event) => !formulaDraft.editing && actions.choose(id, event)}
        onContextMenu={() => !session.choice.now.chosen.includes(id) && choose(session, [id])}
        onDoubleClick={() => actions.startRename(id)}
        onDragStart={(event) => {
          if (!session.choice.now.chosen.includes(id)) choose(session, [id]);
          event.dataTransfer.effectAllowed = 'move';
          event.dataTransfer.setData('text/whirl-part', id);
        }}
        onDragOver={(event) => {
          if (!event.dataTransfer.types.includes('text/whirl-part')) return;
          event.preventDefault();
          event.stopPropagation();
          actions.dragTo(id, placeOver(event));
        }}
        onDragLeave={() => actions.dragTo(id, null)}
        onDrop={(event) => actions.drop(event, id, placeOver(event))}
      >
        {(props.drop === 'before' || props.drop === 'after') && (
          <i
            className={`absolute inset-x-1 z-10 h-0.5 bg-teal ${props.drop === 'before' ? '-top-px' : '-bottom-px'}`}
          />
        )}
        <button
          type="button"
          tabIndex={-1}
          aria-label={open ? 'Fold' : 'Unfold'}
          className={`flex w-3 flex-none justify-center text-ink-3 ${open === null ? 'invisible' : ''}`}
          onClick={(event) => {
            event.stopPropagation();
            actions.toggle(id);
          }}
        >
          {open ? (
            <ChevronDown size={11} aria-hidden="true" />
          ) : (
            <ChevronRight size={11} aria-hidden="true" />
          )}
        </button>
        <span
          className="flex size-[15px] flex-none items-center justify-center overflow-hidden rounded-[4px]"
          style={colour && !picture ? { background: colour } : { color: 'var(--color-ink-2)' }}
        >
          {picture ? (
            <img src={`/api/assets/${picture}`} alt="" className="size-full object-cover" />
          ) : (
            colour === null && <PartGlyph kind={part.kind} />
          )}
        </span>
        <RowName {...props} />
        <RowMarks {...props} />
      </div>
    </MenuOn>
  );
});

/** Its name, or the field in which it gets another. */
function RowName({ id, part, tray, away, renaming, actions }: RowProps) {
  if (!renaming)
    return (
      <span
        className={`truncate ${away ? 'text-ink-3 line-through' : ''}`}
        title={`${part.name}${tray === null ? '' : `, in the tray ${tray}`}`}
      >
        {part.name}
      </span>
    );
  return (
    <input
      autoFocus
      aria-label="New name"
      defaultValue={part.name}
      className="input-field h-5 min-w-0 flex-1 px-1"
      onFocus={(event) => event.target.select()}
      onBlur={(event) => actions.rename(id, event.target.value)}
      onClick={(event) => event.stopPropagation()}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === 'Enter') event.currentTarget.blur();
        if (event.key === 'Escape') actions.rename(id, null);
      }}
    />
  );
}

/** What is to be known of it, and its switches. */
function RowMarks({ id, part, ring, shown, lockedByTray: byTray }: RowProps) {
  const session = useSession();
  const marked = useMarked(id);
  const locked = part.locked === true;
  return (
    <span className="ml-auto flex flex-none items-center gap-1.5">
      {marked && (
        <span className="rounded-full bg-brass-wash p-0.5 text-brass" title="Somebody else has changed it">
          <Users size={11} aria-hidden="true" />
          <span className="sr-only">changed elsewhere</span>
        </span>
      )}
      {ring !== 'still' && (
        <span title={RING_WORDS[ring]}>
          <Ring state={ring} />
        </span>
      )}
      <button
        type="button"
        tabIndex={-1}
        disabled={byTray}
        aria-label={`${locked || byTray ? 'Unlock' : 'Lock'} ${part.name}`}
        title={
          byTray
            ? 'Locked by a tray or what it hangs from'
            : locked
              ? 'Locked in the view'
              : 'Lock in the view'
        }
        className={locked || byTray ? 'text-ink-2' : 'text-ink-3/40 hover:text-ink'}
        onClick={(event) => {
          event.stopPropagation();
          session.edit((current) => setLocked(current, [id], !locked));
        }}
      >
        {locked || byTray ? <Lock size={12} aria-hidden="true" /> : <LockOpen size={12} aria-hidden="true" />}
      </button>
      <button
        type="button"
        tabIndex={-1}
        aria-label={`${shown ? 'Hide' : 'Show'} ${part.name}`}
        className={shown ? 'text-ink-3/60 hover:text-ink' : 'text-ink-2'}
        onClick={(event) => {
          event.stopPropagation();
          setChannels(session, [[`${id}/visible`, shown ? 0 : 1]]);
        }}
      >
        {shown ? <Eye size={13} aria-hidden="true" /> : <EyeOff size={13} aria-hidden="true" />}
      </button>
    </span>
  );
}
