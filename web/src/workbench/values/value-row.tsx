import { memo, type ReactNode } from 'react';
import { linkOf, type ChannelSpec, type Shot, type Value } from '../../../../core/document';
import { channelLabel, compose, setLink, type Change } from '../../../../core/edit';
import { writtenName } from '../../../../core/formula';
import { MenuOn } from '../../ui/menu';
import { useFormulaDraft } from '../formula/formula-draft';
import { Ring, RING_WORDS, ringOf, stateOfRow, strongest, type RingState } from '../fields/ring';
import { keyNow, unkeyNow } from '../actions/keying';
import { preview, setChannels, valueNow, unlinkAndSet } from '../actions/values';
import { useSession } from '../session';
import { rowMenu } from './row-menu';
import { ColourControl } from '../fields/colour-control';
import { MIXED, NumberField } from '../fields/number-field';
import type { Row } from './rows';

const same = (a: Value, b: Value): boolean =>
  typeof a === 'number' || typeof b === 'number' ? a === b : a.every((part, i) => part === b[i]);

/** What a row shows now, apart from the document. */
interface Facts {
  readonly states: readonly RingState[];
  readonly values: readonly (readonly Value[])[];
  readonly failed: boolean;
  /** The chosen channel, when it is one of this row's. */
  readonly active: string | null;
  /** The channel whose field is wanted, when it is one of this row's. */
  readonly wanted: string | null;
  readonly pivotStays: boolean;
}

/** One value of the chosen parts: its ring with a menu, its name, its fields, and what helps to judge it. */
export function ValueRow({
  row,
  partName,
  inFormulas = true,
}: {
  row: Row;
  partName: string;
  /** Whether formulas can read it by its name. */
  inFormulas?: boolean;
}) {
  const session = useSession();
  const { shot, plan } = session.doc.now;
  const { frame } = session.time.now;
  const { loose } = session.keying.now;
  const { channel } = session.choice.now;
  const { field } = session.sheets.now;
  const { pivotStays } = session.view.now;
  const addresses = row.cells.flatMap((cell) => cell.addresses);
  const within = (address: string | null): string | null =>
    address !== null && addresses.includes(address) ? address : null;
  const facts: Facts = {
    states: addresses.map((address) => ringOf(shot, address, frame, loose)),
    values: row.cells.map((cell) => cell.addresses.map((address) => valueNow(session, address, cell.spec))),
    failed: addresses.some(
      (address) => plan.linkOf.get(address)?.error || session.evaluator.hasFailed(address),
    ),
    active: within(channel),
    wanted: within(field),
    pivotStays,
  };
  return <RowNow {...{ row, partName, inFormulas, shot, facts }} sign={JSON.stringify(facts)} />;
}

interface RowNowProps {
  readonly row: Row;
  readonly partName: string;
  readonly inFormulas: boolean;
  readonly shot: Shot;
  readonly facts: Facts;
  /** Equal for equal facts. */
  readonly sign: string;
}

// Of some thirty rows few change from one frame to the next: only those are drawn again.
const RowNow = memo(
  RowAt,
  (a, b) => a.row === b.row && a.partName === b.partName && a.shot === b.shot && a.sign === b.sign,
);

function RowAt({ row, partName, inFormulas, shot, facts }: RowNowProps) {
  const session = useSession();
  const { states, failed, active, wanted } = facts;
  const draft = useFormulaDraft();
  const puts = draft.editing && inFormulas;
  const addresses = row.cells.flatMap((cell) => cell.addresses);
  const state = stateOfRow(states);
  const first = row.cells[0]!;
  const { animatable, kind } = first.spec;
  const name = `${partName} ${row.label.toLowerCase()}`;
  const pick = (spec: ChannelSpec): string => `${writtenName(partName)}.${spec.path}`;
  const set = (targets: readonly string[], values: readonly Value[]): void =>
    void setChannels(
      session,
      targets.map((address, i) => [address, values[i]!] as const),
    );
  const linkedAt = (targets: readonly string[]): boolean =>
    targets.some((address) => linkOf(shot, address) !== null);
  /** Links channels by one formula, or takes their links away. @returns whether anything was edited */
  const link = (targets: readonly string[], formula: string | null) =>
    session.edit((now) => targets.map((address) => setLink(now, address, formula)).reduce(compose));
  const each = (work: (address: string) => Change | null): void =>
    void session.edit(() => addresses.flatMap((address) => work(address) ?? []).reduce(compose));

  const stateOf = (cell: Row['cells'][number]): RingState =>
    strongest(cell.addresses.map((address) => states[addresses.indexOf(address)]!));
  // Where the fields of a row differ, each is named.
  const stateWords =
    row.cells.length > 1 && new Set(states).size > 1
      ? row.cells
          .map((cell) => `${cell.spec.axis?.toUpperCase() ?? cell.spec.path} ${RING_WORDS[stateOf(cell)]}`)
          .join('; ')
      : RING_WORDS[state];
  const toggle = (meant: readonly string[], now: RingState): void => {
    if (now === 'link' || now === 'link-over-keys') {
      session.choice.showChannel(meant.find((address) => linkOf(shot, address)) ?? meant[0]!);
      draft.focusBar();
    } else if (now === 'key') unkeyNow(session, meant);
    else keyNow(session, meant);
  };

  let control: ReactNode;
  if (kind === 'colour') {
    const values = facts.values[0] as (readonly [number, number, number])[];
    control = (
      <ColourControl
        name={name}
        value={values[0]!}
        mixed={values.some((value) => !same(value, values[0]!))}
        link={
          animatable
            ? {
                linked: linkedAt(first.addresses),
                onFormula: (text) => link(first.addresses, text),
                onUnlink: (value) =>
                  void unlinkAndSet(
                    session,
                    first.addresses.map((address) => [address, value] as const),
                  ),
                onFocus: () => session.choice.showChannel(first.addresses[0]!),
              }
            : null
        }
        onPreview={(value) =>
          preview(
            session,
            value === null ? null : Object.fromEntries(first.addresses.map((address) => [address, value])),
          )
        }
        onValue={(value) =>
          set(
            first.addresses,
            first.addresses.map(() => value),
          )
        }
      />
    );
  } else if (kind === 'switch') {
    const values = facts.values[0]!;
    const mixed = values.some((value) => value !== values[0]);
    const [on, off] = first.spec.says ?? ['on', 'off'];
    control = (
      <label className="col-span-3 flex items-center gap-2">
        <input
          type="checkbox"
          className="accent-teal"
          ref={(box) => {
            if (box) box.indeterminate = mixed;
          }}
          checked={values[0] === 1}
          aria-label={name}
          onChange={(event) =>
            set(
              first.addresses,
              first.addresses.map(() => (event.target.checked ? 1 : 0)),
            )
          }
        />
        <span className="text-ink-2">{mixed ? 'mixed' : values[0] === 1 ? on : off}</span>
      </label>
    );
  } else if (first.spec.words) {
    const values = facts.values[0]!;
    control = (
      <select
        className="input-field col-span-3 h-[22px] min-w-0 px-1"
        aria-label={name}
        value={values.every((value) => value === values[0]) ? String(values[0]) : ''}
        onChange={(event) =>
          set(
            first.addresses,
            first.addresses.map(() => Number(event.target.value)),
          )
        }
      >
        {values.some((value) => value !== values[0]) && <option value="">{MIXED}</option>}
        {first.spec.words.map((word, i) => (
          <option key={word} value={i}>
            {word}
          </option>
        ))}
      </select>
    );
  } else
    control = (
      <>
        {row.cells.map((cell, at) => (
          <NumberField
            key={cell.spec.path}
            shot={shot}
            addresses={cell.addresses}
            spec={cell.spec}
            values={facts.values[at] as readonly number[]}
            label={`${partName} ${channelLabel(cell.spec)}`}
            linked={linkedAt(cell.addresses)}
            state={stateOf(cell)}
            onPeg={
              row.cells.length > 1 && cell.spec.animatable
                ? () => toggle(cell.addresses, stateOf(cell))
                : undefined
            }
            loose={cell.addresses.some((address) => states[addresses.indexOf(address)] === 'loose')}
            active={active !== null && cell.addresses.includes(active)}
            onPreview={(values) =>
              preview(
                session,
                values === null
                  ? null
                  : Object.fromEntries(cell.addresses.map((address, i) => [address, values[i]!])),
              )
            }
            onValues={(values) => set(cell.addresses, values)}
            onFormula={(text) => link(cell.addresses, text)}
            onUnlink={(values) =>
              void unlinkAndSet(
                session,
                cell.addresses.map((address, i) => [address, values[i]!] as const),
              )
            }
            onFocus={() => session.choice.showChannel(cell.addresses[0]!)}
            wanted={wanted !== null && cell.addresses.includes(wanted)}
            onArrived={() => session.sheets.typeInto(null)}
          />
        ))}
        {row.cells.length === 1 && (
          <RowHelp
            spec={first.spec}
            value={facts.values[0]![0] as number}
            loose={state === 'loose'}
            linked={state.startsWith('link')}
            onValue={(value) =>
              set(
                first.addresses,
                first.addresses.map(() => value),
              )
            }
            onPreview={(value) =>
              preview(session, Object.fromEntries(first.addresses.map((address) => [address, value])))
            }
          />
        )}
      </>
    );

  return (
    <MenuOn
      entries={() =>
        rowMenu(session, { row, addresses, ...facts, each, writeFormula: () => draft.focusBar(true) })
      }
    >
      <div
        className="grid h-[27px] grid-cols-[16px_66px_1fr_1fr_1fr] items-center gap-1 px-2.5"
        data-row={row.label}
      >
        <button
          type="button"
          disabled={!animatable}
          onClick={() => toggle(addresses, state)}
          aria-label={`${name}: ${stateWords}`}
          title={
            animatable
              ? `${stateWords}${failed ? ', link out of force' : ''}; right click for its menu`
              : 'describes how the part lies or is built: cannot be keyed'
          }
          className="flex items-center"
        >
          <Ring state={state} error={failed} />
        </button>
        <button
          type="button"
          title={puts ? `Put ${pick(first.spec)} into the formula` : first.spec.help}
          className={`truncate text-left ${active !== null ? 'font-semibold text-teal' : ''}`}
          onMouseDown={(event) => {
            if (!puts) return;
            event.preventDefault();
            draft.insert(pick(first.spec));
          }}
          onClick={() => !puts && session.choice.showChannel(addresses[0]!)}
        >
          {row.label}
        </button>
        {control}
      </div>
    </MenuOn>
  );
}

function RowHelp(props: {
  spec: ChannelSpec;
  value: number;
  loose: boolean;
  linked: boolean;
  onValue(value: number): void;
  onPreview(value: number): void;
}) {
  const { spec, value, loose, linked } = props;
  if (loose) return <span className="col-span-2 truncate font-semibold text-now">changed, not keyed</span>;
  if (spec.max - spec.min <= 1 && spec.kind === 'number')
    return (
      <input
        type="range"
        aria-label={`${spec.label} slider`}
        className="col-span-2 h-1.5 w-full min-w-0 accent-key"
        min={spec.min}
        max={spec.max}
        step={0.005}
        value={value}
        disabled={linked}
        onChange={(event) => props.onPreview(Number(event.target.value))}
        onPointerUp={(event) => props.onValue(Number(event.currentTarget.value))}
        onKeyUp={(event) => props.onValue(Number(event.currentTarget.value))}
      />
    );
  return <span className="col-span-2 truncate pl-1 text-ink-3">{spec.unit ?? ''}</span>;
}
