import { linkOf, type Shot, type Value } from '../../../../core/document';
import { channelLabel, compose, setLink } from '../../../../core/edit';
import { preview, setChannels, unlinkAndSet } from '../actions/values';
import { ColourControl } from '../fields/colour-control';
import { MIXED, NumberField } from '../fields/number-field';
import { strongest, type RingState } from '../fields/ring';
import { useSession, type Session } from '../session';
import { RowHelp } from './row-help';
import type { Row } from './rows';

type Cell = Row['cells'][number];

/** What a row shows now, apart from the document. */
export interface Facts {
  /** Of each of its channels, cell after cell. */
  readonly states: readonly RingState[];
  /** Of each of its cells, those of all chosen parts. */
  readonly values: readonly (readonly Value[])[];
  readonly failed: boolean;
  /** The chosen channel, when it is one of this row's. */
  readonly active: string | null;
  /** The channel whose field is wanted, when it is one of this row's. */
  readonly wanted: string | null;
  readonly pivotStays: boolean;
}

interface ControlProps {
  readonly row: Row;
  /** Name of the part and of the row, for whoever hears the page. */
  readonly name: string;
  readonly partName: string;
  readonly shot: Shot;
  readonly facts: Facts;
  /** Keys or unkeys channels at this frame, or goes to their formula. */
  toggle(meant: readonly string[], now: RingState): void;
}

const same = (a: Value, b: Value): boolean =>
  typeof a === 'number' || typeof b === 'number' ? a === b : a.every((part, i) => part === b[i]);

const linkedAt = (shot: Shot, addresses: readonly string[]): boolean =>
  addresses.some((address) => linkOf(shot, address) !== null);

/** Links channels by one formula. @returns whether anything was edited */
const link = (session: Session, addresses: readonly string[], formula: string) =>
  session.edit((now) => addresses.map((address) => setLink(now, address, formula)).reduce(compose));

/** Gives all channels of a cell one value. */
const setAll = (session: Session, { addresses }: Cell, value: Value): void =>
  void setChannels(
    session,
    addresses.map((address) => [address, value] as const),
  );

const previewAll = (session: Session, { addresses }: Cell, value: Value | null): void =>
  preview(session, value === null ? null : Object.fromEntries(addresses.map((address) => [address, value])));

/** States of a field of a row, in the order of its addresses: those of all fields stand one after another. */
function statesOf(row: Row, { states }: Facts, cell: Cell): readonly RingState[] {
  let from = 0;
  for (const each of row.cells) {
    if (each === cell) break;
    from += each.addresses.length;
  }
  return states.slice(from, from + cell.addresses.length);
}

/** What is true of a field of a row. */
export const stateOfCell = (row: Row, facts: Facts, cell: Cell): RingState =>
  strongest(statesOf(row, facts, cell));

/** What sets the values of a row: a colour, a switch, one of several words, or numbers. */
export function RowControl(props: ControlProps) {
  const { spec } = props.row.cells[0]!;
  if (spec.kind === 'colour') return <ColourCell {...props} />;
  if (spec.kind === 'switch') return <SwitchCell {...props} />;
  return spec.words ? <WordsCell {...props} words={spec.words} /> : <NumberCells {...props} />;
}

function ColourCell({ row, name, shot, facts }: ControlProps) {
  const session = useSession();
  const cell = row.cells[0]!;
  const { addresses, spec } = cell;
  const values = facts.values[0] as (readonly [number, number, number])[];
  return (
    <ColourControl
      name={name}
      value={values[0]!}
      mixed={values.some((value) => !same(value, values[0]!))}
      link={
        spec.animatable
          ? {
              linked: linkedAt(shot, addresses),
              onFormula: (text) => link(session, addresses, text),
              onUnlink: (value) =>
                void unlinkAndSet(
                  session,
                  addresses.map((address) => [address, value] as const),
                ),
              onFocus: () => session.choice.showChannel(addresses[0]!),
            }
          : null
      }
      onPreview={(value) => previewAll(session, cell, value)}
      onValue={(value) => setAll(session, cell, value)}
    />
  );
}

function SwitchCell({ row, name, facts }: ControlProps) {
  const session = useSession();
  const cell = row.cells[0]!;
  const values = facts.values[0]!;
  const mixed = values.some((value) => value !== values[0]);
  const [on, off] = cell.spec.says ?? ['on', 'off'];
  return (
    <label className="col-span-3 flex items-center gap-2">
      <input
        type="checkbox"
        className="accent-teal"
        ref={(box) => {
          if (box) box.indeterminate = mixed;
        }}
        checked={values[0] === 1}
        aria-label={name}
        onChange={(event) => setAll(session, cell, event.target.checked ? 1 : 0)}
      />
      <span className="text-ink-2">{mixed ? 'mixed' : values[0] === 1 ? on : off}</span>
    </label>
  );
}

function WordsCell({ row, name, facts, words }: ControlProps & { words: readonly string[] }) {
  const session = useSession();
  const values = facts.values[0]!;
  const mixed = values.some((value) => value !== values[0]);
  return (
    <select
      className="input-field col-span-3 h-[22px] min-w-0 px-1"
      aria-label={name}
      value={mixed ? '' : String(values[0])}
      onChange={(event) => setAll(session, row.cells[0]!, Number(event.target.value))}
    >
      {mixed && <option value="">{MIXED}</option>}
      {words.map((word, i) => (
        <option key={word} value={i}>
          {word}
        </option>
      ))}
    </select>
  );
}

function NumberCells(props: ControlProps) {
  const session = useSession();
  const { row, facts } = props;
  const [cell] = row.cells;
  const state = stateOfCell(row, facts, cell!);
  return (
    <>
      {row.cells.map((each, at) => (
        <NumberCell key={each.spec.path} {...props} at={at} />
      ))}
      {row.cells.length === 1 && (
        <RowHelp
          spec={cell!.spec}
          value={facts.values[0]![0] as number}
          loose={state === 'loose'}
          linked={state.startsWith('link')}
          onValue={(value) => setAll(session, cell!, value)}
          onPreview={(value) => previewAll(session, cell!, value)}
        />
      )}
    </>
  );
}

function NumberCell({ row, partName, shot, facts, toggle, at }: ControlProps & { at: number }) {
  const session = useSession();
  const cell = row.cells[at]!;
  const { addresses, spec } = cell;
  const { active, wanted } = facts;
  const state = stateOfCell(row, facts, cell);
  const each = (values: readonly number[]) => addresses.map((address, i) => [address, values[i]!] as const);
  return (
    <NumberField
      shot={shot}
      addresses={addresses}
      spec={spec}
      values={facts.values[at] as readonly number[]}
      label={`${partName} ${channelLabel(spec)}`}
      linked={linkedAt(shot, addresses)}
      state={state}
      onPeg={row.cells.length > 1 && spec.animatable ? () => toggle(addresses, state) : undefined}
      loose={statesOf(row, facts, cell).includes('loose')}
      active={active !== null && addresses.includes(active)}
      onPreview={(values) => preview(session, values === null ? null : Object.fromEntries(each(values)))}
      onValues={(values) => void setChannels(session, each(values))}
      onFormula={(text) => link(session, addresses, text)}
      onUnlink={(values) => void unlinkAndSet(session, each(values))}
      onFocus={() => session.choice.showChannel(addresses[0]!)}
      wanted={wanted !== null && addresses.includes(wanted)}
      onArrived={() => session.sheets.typeInto(null)}
    />
  );
}
