import { MoreHorizontal } from 'lucide-react';
import { useEffect, useMemo, useState } from 'react';
import { linkOf, ownerOf, splitAddress, trackOf, type Shot } from '../../../../core/document';
import { SearchField } from '../../ui/search-field';
import { MenuButton } from '../../ui/menu';
import { copyValues, pasteValues } from '../copy-paste';
import { kindWords } from '../kind-words';
import { useSession, useChoice, useCopied, useSheets, useShot, useViewSettings } from '../session';
import { canFold } from './folds';
import { addressesOf, rowMatches, rowsOf, type Row } from './rows';
import { InsetForm } from './inset-form';
import { PinsForm } from '../pins/pins-form';
import { PartOptions } from './part-options';
import { SamplesHint } from './samples-hint';
import { BuiltBy } from './built-by';
import { ValuesGroup } from './values-group';

const FILTERS = [
  ['all', 'All'],
  ['moving', 'Moving'],
  ['linked', 'Linked'],
  ['changed', 'Changed'],
] as const;
type Filter = (typeof FILTERS)[number][0];

function isChanged(shot: Shot, address: string): boolean {
  const { owner, path } = splitAddress(address);
  const record = ownerOf(shot, owner);
  return record !== null && [record.values, record.tracks, record.links].some((part) => path in part);
}

/** Rows that each filter lets through. */
function listsOf(shot: Shot, all: readonly Row[]): Record<Filter, readonly Row[]> {
  const where = (test: (address: string) => boolean): readonly Row[] =>
    all.filter((row) => addressesOf(row).some(test));
  return {
    all,
    moving: where((at) => trackOf(shot, at) !== null && !linkOf(shot, at)),
    linked: where((at) => linkOf(shot, at) !== null),
    changed: where((at) => isChanged(shot, at)),
  };
}

/** Everything that the chosen parts have, in groups; several parts are edited together. */
export function ValuesPanel() {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const chosen = useChoice((state) => state.chosen);
  const clipboard = useCopied();
  const [filter, setFilter] = useState<Filter>('all');
  const [find, setFind] = useState('');
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
  // Not for each frame: only the document tells which rows these are.
  const lists = useMemo(() => listsOf(shot, all), [shot, all]);
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
  const rows = find.trim() ? all.filter((row) => rowMatches(row, find.trim())) : lists[filter];
  const groups = [...new Set(rows.map((row) => row.group))];
  const shape = part.shape ? shot.shapes[part.shape] : null;
  const single = ids.length === 1;
  const plain = filter === 'all' && !find.trim();
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
      <FilterButtons
        chosen={find ? null : filter}
        counts={lists}
        onChoose={(key) => {
          setFilter(key);
          setFind('');
        }}
      />
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
          <ValuesGroup
            key={group}
            group={group}
            first={i === 0}
            ids={ids}
            rows={rows.filter((row) => row.group === group)}
            foldable={plain && canFold(group)}
            used={lists.changed.some((row) => row.group === group)}
          />
        ))}
        {single && !find && filter === 'all' && <InsetForm id={id} />}
        {single && !find && filter === 'all' && <PinsForm key={id} id={id} />}
        {single && !find && filter === 'all' && <PartOptions id={id} />}
      </div>
    </section>
  );
}

/** Which rows are listed, each with how many it lists. */
function FilterButtons({
  chosen,
  counts,
  onChoose,
}: {
  /** `null` while a value is looked for. */
  chosen: Filter | null;
  counts: Record<Filter, readonly Row[]>;
  onChoose(filter: Filter): void;
}) {
  return (
    <div
      className="flex flex-none flex-wrap items-center gap-1 px-2.5 pt-1.5"
      role="group"
      aria-label="Filter"
    >
      {FILTERS.map(([key, words]) => (
        <button
          key={key}
          type="button"
          aria-pressed={chosen === key}
          onClick={() => onChoose(key)}
          className={`h-5 rounded-full border px-2 text-xs font-semibold ${chosen === key ? 'border-ink bg-ink text-panel' : 'border-line bg-raised'}`}
        >
          {words}
          {key !== 'all' && counts[key].length > 0 && ` ${counts[key].length}`}
        </button>
      ))}
    </div>
  );
}
