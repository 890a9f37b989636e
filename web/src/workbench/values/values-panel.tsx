import { ChevronDown, ChevronRight, MoreHorizontal } from 'lucide-react';
import { useEffect, useMemo, useState } from 'react';
import {
  linkOf,
  ownerOf,
  splitAddress,
  trackOf,
  usersOf,
  type ChannelGroup,
  type Shot,
} from '../../../../core/document';
import { makeOwn } from '../../../../core/edit';
import { SearchField } from '../../ui/search-field';
import { MenuButton } from '../../ui/menu';
import { copyValues, pasteValues } from '../copy-paste';
import { kindWords } from '../kind-words';
import { useSession, useChoice, useCopied, useSheets, useShot, useViewSettings } from '../session';
import { LookForm } from '../looks/look-form';
import { BackdropForm } from './backdrop-form';
import { CalloutForm } from './callout-form';
import { canFold, isFolded, toggleFold } from './folds';
import { rowMatches, rowsOf, type Row } from './rows';
import { InsetForm } from './inset-form';
import { LightForm } from './light-form';
import { PinsForm } from '../pins/pins-form';
import { PartOptions } from './part-options';
import { SamplesHint } from './samples-hint';
import { BuiltBy } from './built-by';
import { ShapeForm } from './shape-form';
import { ValueRow } from './value-row';

type Filter = 'all' | 'moving' | 'linked' | 'changed';

function addressesOf(row: Row): readonly string[] {
  return row.cells.flatMap((cell) => cell.addresses);
}

/** Rows of numbers stay as they are when another part is chosen; what holds more is made anew. */
function rowKey(row: Row): string {
  const { kind } = row.cells[0]!.spec;
  return kind === 'number' ? row.cells.map((cell) => cell.spec.path).join() : addressesOf(row).join();
}

function isChanged(shot: Shot, address: string): boolean {
  const { owner, path } = splitAddress(address);
  const record = ownerOf(shot, owner);
  return record !== null && [record.values, record.tracks, record.links].some((part) => path in part);
}

/** Everything that the chosen parts have, in groups; several parts are edited together. */
export function ValuesPanel() {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const chosen = useChoice((state) => state.chosen);
  const clipboard = useCopied();
  const [filter, setFilter] = useState<Filter>('all');
  const [find, setFind] = useState('');
  const [, setFolds] = useState(0);
  useShot((state) => state.tick);
  useChoice((state) => state.channel);
  useViewSettings((state) => state.pivotStays);
  const wanted = useSheets((state) => state.field);
  // A field that is asked for is not hidden by a filter.
  useEffect(() => {
    if (wanted === null) return;
    setFilter('all');
    setFind('');
  }, [wanted]);
  const ids = useMemo(() => chosen.filter((id) => shot.parts[id]), [chosen, shot.parts]);
  const all = useMemo(() => rowsOf(shot, ids), [shot, ids]);
  const id = ids.at(-1) ?? null;
  const part = id === null ? null : shot.parts[id];
  if (!part || id === null)
    return (
      <section className="panel flex flex-col" aria-label="Values">
        <h2 className="flex h-8 flex-none items-center border-b border-line-soft px-2.5 font-bold">Values</h2>
        <p className="p-4 leading-relaxed text-ink-2">
          Choose a part, in the tree or with a click in the view, and everything it has is listed here.
        </p>
      </section>
    );
  const has = (row: Row, test: (address: string) => boolean): boolean => addressesOf(row).some(test);
  const lists: Record<Filter, readonly Row[]> = {
    all,
    moving: all.filter((row) => has(row, (at) => trackOf(shot, at) !== null && !linkOf(shot, at))),
    linked: all.filter((row) => has(row, (at) => linkOf(shot, at) !== null)),
    changed: all.filter((row) => has(row, (at) => isChanged(shot, at))),
  };
  const rows = find.trim() ? all.filter((row) => rowMatches(row, find.trim())) : lists[filter];
  const groups = [...new Set(rows.map((row) => row.group))];
  const shape = part.shape ? shot.shapes[part.shape] : null;
  const single = ids.length === 1;
  const sharers = (group: ChannelGroup): readonly string[] => {
    const shared = group === 'Shape' ? part.shape : group === 'Look' ? part.look : null;
    return single && shared ? usersOf(shot, shared) : [];
  };
  const plain = filter === 'all' && !find.trim();
  const used = (group: ChannelGroup): boolean =>
    all.some((row) => row.group === group && has(row, (at) => isChanged(shot, at)));
  const folded = (group: ChannelGroup): boolean => plain && isFolded(group, used(group));
  const name = single ? part.name : `${ids.length} parts`;
  return (
    <section className="panel flex flex-col" aria-label="Values">
      <h2 className="flex h-8 flex-none items-center gap-2 border-b border-line-soft px-2.5 font-bold">
        <span className="truncate" title={name}>
          {name}
        </span>
        <span className="truncate font-medium text-ink-3">
          {single ? kindWords(part, shape) : 'what they have in common'}
        </span>
        <MenuButton
          label="Menu of the values"
          className="ml-auto rounded p-0.5 text-ink-2 hover:bg-line-soft"
          entries={() => [
            { label: 'Copy the values', disabled: !single, run: () => copyValues(session, id) },
            {
              label: `Paste values${clipboard?.kind === 'values' ? ` of ${clipboard.from}` : ''}`,
              disabled: clipboard?.kind !== 'values',
              run: () => pasteValues(session),
            },
          ]}
        >
          <MoreHorizontal size={15} aria-hidden="true" />
        </MenuButton>
      </h2>
      <div
        className="flex flex-none flex-wrap items-center gap-1 px-2.5 pt-1.5"
        role="group"
        aria-label="Filter"
      >
        {(
          [
            ['all', 'All'],
            ['moving', 'Moving'],
            ['linked', 'Linked'],
            ['changed', 'Changed'],
          ] as const
        ).map(([key, words]) => (
          <button
            key={key}
            type="button"
            aria-pressed={filter === key && !find}
            onClick={() => {
              setFilter(key);
              setFind('');
            }}
            className={`h-5 rounded-full border px-2 text-xs font-semibold ${filter === key && !find ? 'border-ink bg-ink text-panel' : 'border-line bg-raised'}`}
          >
            {words}
            {key !== 'all' && lists[key].length > 0 && ` ${lists[key].length}`}
          </button>
        ))}
      </div>
      <SearchField
        label="Find a value"
        placeholder="Find a value..."
        className="input-field mx-2.5 mt-1.5 h-[22px] flex-none"
        value={find}
        onChange={setFind}
      />
      {single && <BuiltBy id={id} />}
      {single && <SamplesHint id={id} />}
      <div className="min-h-0 flex-1 overflow-y-auto pb-3 pt-0.5">
        {rows.length === 0 && (
          <p className="p-4 text-ink-2">
            {find
              ? `No value here is called "${find}".`
              : {
                  all: 'These parts have no value in common.',
                  moving: 'Nothing here is keyed.',
                  linked: 'Nothing here is linked.',
                  changed: 'Everything here is as it came.',
                }[filter]}
          </p>
        )}
        {groups.map((group, i) => (
          <div key={group} className={i > 0 ? 'mt-1 border-t border-line-soft' : ''}>
            <h3 className="flex h-6 items-center gap-1.5 px-2.5 text-xs font-bold">
              {plain && canFold(group) ? (
                <button
                  type="button"
                  className="-ml-1 flex items-center gap-0.5 rounded hover:text-teal"
                  aria-expanded={!folded(group)}
                  onClick={() => {
                    toggleFold(group, used(group));
                    setFolds((count) => count + 1);
                  }}
                >
                  {folded(group) ? (
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
                {sharers(group).length > 1 && (
                  <span
                    title={sharers(group)
                      .map((user) => shot.parts[user]!.name)
                      .join(', ')}
                  >
                    shared by {sharers(group).length}
                  </span>
                )}
              </span>
              {sharers(group).length > 1 && (
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
            {single && group === 'Shape' && <ShapeForm id={id} />}
            {single && group === 'Look' && <LookForm id={id} />}
            {single && group === 'Light' && <LightForm id={id} />}
            {single && group === 'Backdrop' && <BackdropForm id={id} />}
            {single && group === 'Callout' && <CalloutForm id={id} />}
            {rows
              .filter((row) => row.group === group && !folded(group))
              .map((row) => (
                <ValueRow key={rowKey(row)} row={row} partName={single ? part.name : 'Chosen parts'} />
              ))}
          </div>
        ))}
        {single && !find && filter === 'all' && <InsetForm id={id} />}
        {single && !find && filter === 'all' && <PinsForm key={id} id={id} />}
        {single && !find && filter === 'all' && <PartOptions id={id} />}
      </div>
    </section>
  );
}
