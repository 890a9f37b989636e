import { ChevronDown, ChevronRight } from 'lucide-react';
import { useState, type ReactNode } from 'react';
import { usersOf, type ChannelGroup } from '../../../../core/document';
import { makeOwn } from '../../../../core/edit';
import { LookForm } from '../looks/look-form';
import { useSession, useShot } from '../session';
import { BackdropForm } from './backdrop-form';
import { CalloutForm } from './callout-form';
import { isFolded, toggleFold } from './folds';
import { LightForm } from './light-form';
import { addressesOf, type Row } from './rows';
import { ShapeForm } from './shape-form';
import { ValueRow } from './value-row';

/** What stands above the rows of a group where one part is chosen. */
const FORM_OF: Partial<Record<ChannelGroup, (props: { id: string }) => ReactNode>> = {
  Shape: ShapeForm,
  Look: LookForm,
  Light: LightForm,
  Backdrop: BackdropForm,
  Callout: CalloutForm,
};

/** Rows of numbers stay as they are when another part is chosen; what holds more is made anew. */
function rowKey(row: Row): string {
  const { kind } = row.cells[0]!.spec;
  return kind === 'number' ? row.cells.map((cell) => cell.spec.path).join() : addressesOf(row).join();
}

/** The values of one group of the chosen parts, which can be folded away. */
export function ValuesGroup({
  group,
  first,
  ids,
  rows,
  foldable,
  used,
}: {
  group: ChannelGroup;
  first: boolean;
  /** The chosen parts. */
  ids: readonly string[];
  rows: readonly Row[];
  foldable: boolean;
  /** Whether something of it is set, keyed or linked: what is not stands folded. */
  used: boolean;
}) {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const [, setFolds] = useState(0);
  const id = ids.at(-1)!;
  const part = shot.parts[id]!;
  const single = ids.length === 1;
  const shared = group === 'Shape' ? part.shape : group === 'Look' ? part.look : null;
  const sharers = single && shared ? usersOf(shot, shared) : [];
  const folded = foldable && isFolded(group, used);
  const Form = FORM_OF[group];
  return (
    <div className={first ? '' : 'mt-1 border-t border-line-soft'}>
      <h3 className="flex h-6 items-center gap-1.5 px-2.5 text-xs font-bold">
        {foldable ? (
          <button
            type="button"
            className="-ml-1 flex items-center gap-0.5 rounded hover:text-teal"
            aria-expanded={!folded}
            onClick={() => {
              toggleFold(group, used);
              setFolds((count) => count + 1);
            }}
          >
            {folded ? (
              <ChevronRight size={13} aria-hidden="true" />
            ) : (
              <ChevronDown size={13} aria-hidden="true" />
            )}
            {group}
          </button>
        ) : (
          group
        )}
        <span className="ml-auto truncate font-medium text-ink-3">
          {group === 'Place' && single && part.parent && `in ${shot.parts[part.parent]?.name ?? ''}`}
          {sharers.length > 1 && (
            <span title={sharers.map((user) => shot.parts[user]!.name).join(', ')}>
              shared by {sharers.length}
            </span>
          )}
        </span>
        {sharers.length > 1 && (
          <button
            type="button"
            className="font-semibold text-teal hover:underline"
            onClick={() =>
              session.edit((current) => makeOwn(current, id, group === 'Shape' ? 'shape' : 'look'))
            }
          >
            Make its own
          </button>
        )}
      </h3>
      {single && Form && <Form id={id} />}
      {!folded &&
        rows.map((row) => (
          <ValueRow key={rowKey(row)} row={row} partName={single ? part.name : 'Chosen parts'} />
        ))}
    </div>
  );
}
