import { memo } from 'react';
import { linkOf, type Shot } from '../../../../core/document';
import { compose, type Change } from '../../../../core/edit';
import { writtenName } from '../../../../core/formula';
import { MenuOn } from '../../ui/menu';
import { keyNow, unkeyNow } from '../actions/keying';
import { valueNow } from '../actions/values';
import { Ring, RING_WORDS, ringOf, stateOfRow, type RingState } from '../fields/ring';
import { formulaDraft, useFormulaEditing } from '../formula/formula-draft';
import { useSession } from '../session';
import { RowControl, stateOfCell, type Facts } from './row-control';
import { rowMenu } from './row-menu';
import type { Row } from './rows';

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
  const { states, failed, active } = facts;
  const puts = useFormulaEditing() && inFormulas;
  const addresses = row.cells.flatMap((cell) => cell.addresses);
  const state = stateOfRow(states);
  const { spec } = row.cells[0]!;
  const name = `${partName} ${row.label.toLowerCase()}`;
  const written = `${writtenName(partName)}.${spec.path}`;
  const each = (work: (address: string) => Change | null): void =>
    void session.edit(() => addresses.flatMap((address) => work(address) ?? []).reduce(compose));
  // Where the fields of a row differ, each is named.
  const stateWords =
    row.cells.length > 1 && new Set(states).size > 1
      ? row.cells
          .map(
            (cell) =>
              `${cell.spec.axis?.toUpperCase() ?? cell.spec.path} ${RING_WORDS[stateOfCell(row, facts, cell)]}`,
          )
          .join('; ')
      : RING_WORDS[state];
  const toggle = (meant: readonly string[], now: RingState): void => {
    if (now === 'link' || now === 'link-over-keys') {
      session.choice.showChannel(meant.find((address) => linkOf(shot, address)) ?? meant[0]!);
      formulaDraft.focusBar();
    } else if (now === 'key') unkeyNow(session, meant);
    else keyNow(session, meant);
  };

  return (
    <MenuOn
      entries={() =>
        rowMenu(session, { row, addresses, ...facts, each, writeFormula: () => formulaDraft.focusBar(true) })
      }
    >
      <div
        className="grid h-[27px] grid-cols-[16px_66px_1fr_1fr_1fr] items-center gap-1 px-2.5"
        data-row={row.label}
      >
        <button
          type="button"
          disabled={!spec.animatable}
          onClick={() => toggle(addresses, state)}
          aria-label={`${name}: ${stateWords}`}
          title={
            spec.animatable
              ? `${stateWords}${failed ? ', link out of force' : ''}; right click for its menu`
              : 'describes how the part lies or is built: cannot be keyed'
          }
          className="flex items-center"
        >
          <Ring state={state} error={failed} />
        </button>
        <button
          type="button"
          title={puts ? `Put ${written} into the formula` : spec.help}
          className={`truncate text-left ${active !== null ? 'font-semibold text-teal' : ''}`}
          onMouseDown={(event) => {
            if (!puts) return;
            event.preventDefault();
            formulaDraft.insert(written);
          }}
          onClick={() => !puts && session.choice.showChannel(addresses[0]!)}
        >
          {row.label}
        </button>
        <RowControl {...{ row, name, partName, shot, facts, toggle }} />
      </div>
    </MenuOn>
  );
}
