import { linkOf, ownerOf, splitAddress, trackOf } from '../../../../core/document';
import {
  channelLabel,
  closeLoop,
  copyKeys,
  holdUntil,
  resetValue,
  setLink,
  setStretch,
  type Change,
} from '../../../../core/edit';
import { recipeOf } from '../../../../core/recipe';
import type { MenuEntries } from '../../ui/menu';
import { dropLoose, keyNow, unkeyNow } from '../actions/keying';
import { valueNow } from '../actions/values';
import { entryOf } from '../commands';
import { blendEntry } from '../keys/key-menu';
import { keysAround, STRETCHES } from '../keys/key-words';
import { strongest, type RingState } from '../fields/ring';
import type { Session } from '../session';
import type { Row } from './rows';

/** What the menu of a row is made for. */
export interface RowMenuOf {
  readonly row: Row;
  readonly addresses: readonly string[];
  readonly states: readonly RingState[];
  /** The chosen channel, when it is one of this row's. */
  readonly active: string | null;
  readonly pivotStays: boolean;
  /** One edit made of those of each channel of the row. */
  each(work: (address: string) => Change | null): void;
  /** Puts the cursor into the formula of the chosen channel. */
  writeFormula(): void;
}

/** Menu of a row of the values. */
export function rowMenu(session: Session, of: RowMenuOf): MenuEntries {
  return [...keyEntries(session, of), 'line', ...linkEntries(session, of)];
}

function keyEntries(session: Session, of: RowMenuOf): MenuEntries {
  const { row, addresses, states, active, pivotStays } = of;
  const { shot } = session;
  const { frame } = session.time.now;
  const state = strongest(states);
  const { spec } = row.cells[0]!;
  // Of several fields in a row the chosen one can be meant alone.
  const only =
    row.cells.length > 1 && active !== null
      ? row.cells.find((cell) => cell.addresses.includes(active))
      : undefined;
  const keyed = addresses.filter((address) => trackOf(shot, address));
  const around = keysAround(shot, keyed, frame);
  return [
    {
      label: 'Key at this frame',
      disabled: !spec.animatable || state.startsWith('link'),
      run: () => keyNow(session, addresses),
    },
    only && {
      label: `Key only ${channelLabel(only.spec)}`,
      disabled: !spec.animatable || linkOf(shot, active!) !== null,
      run: () => keyNow(session, only.addresses),
    },
    {
      label: 'Remove the key here',
      disabled: !states.includes('key'),
      run: () => unkeyNow(session, addresses),
    },
    {
      label: 'Drop the unkeyed change',
      disabled: state !== 'loose',
      run: () => dropLoose(session, addresses),
    },
    {
      label: 'Hold until here',
      disabled: keyed.length === 0,
      run: () =>
        session.edit((now) => holdUntil(now, keyed, frame, (address) => valueNow(session, address, spec))),
    },
    {
      label: 'From the key before, move by',
      disabled: around.length === 0,
      entries: STRETCHES.map(([manner, label]) => ({
        label,
        run: () => session.edit((now) => setStretch(now, around, manner)),
      })),
    },
    spec.kind === 'colour' && blendEntry(session, addresses),
    {
      label: 'Close the loop: after the last frame the first',
      disabled: keyed.length === 0,
      run: () => session.edit((now) => closeLoop(now, keyed, now.setup.last + 1)),
    },
    row.label === 'Pivot' && {
      label: 'The part stays where it is',
      checked: pivotStays,
      run: () => session.view.keepPlaceOfPivot(!pivotStays),
    },
    'line',
    {
      label: 'Copy its keys',
      disabled: keyed.length === 0,
      run: () => {
        const targets = keyed.flatMap((address) =>
          Object.keys(trackOf(shot, address)!.keys).map((key) => ({ address, key })),
        );
        session.clipboard.copy({
          kind: 'keys',
          keys: copyKeys(shot, targets),
          owner: splitAddress(keyed[0]!).owner,
        });
      },
    },
  ];
}

function linkEntries(session: Session, of: RowMenuOf): MenuEntries {
  const { row, addresses, states, active, each, writeFormula } = of;
  const { shot } = session;
  const state = strongest(states);
  const { animatable, kind } = row.cells[0]!.spec;
  const linked = state.startsWith('link');
  const stored = addresses.some((address) => {
    const { owner, path } = splitAddress(address);
    return ownerOf(shot, owner)?.values[path] !== undefined;
  });
  /** A command for the chosen channel of this row, which is chosen first. */
  const command = (id: string, label: string, disabled: boolean) => ({
    ...entryOf(session, id, { label, later: true }),
    disabled,
    run: () => {
      session.choice.showChannel(
        id === 'copy-link'
          ? (addresses.find((address) => linkOf(shot, address)) ?? null)
          : (active ?? addresses[0]!),
      );
      entryOf(session, id, { label }).run();
    },
  });
  return [
    ...row.cells.map((cell) => ({
      label: `${linkOf(shot, cell.addresses[0]!) ? 'Edit the link' : 'Link'} ${channelLabel(cell.spec)}`,
      disabled: !animatable,
      run: () => {
        session.choice.showChannel(cell.addresses[0]!);
        writeFormula();
      },
    })),
    command('copy-link', 'Copy the link', !linked),
    entryOf(session, 'paste-link', { label: 'Paste the link; references follow' }),
    entryOf(session, 'paste-link-as-is', { label: 'Paste the link as it is' }),
    command(
      'recipe',
      active !== null && recipeOf(shot, active) ? 'Edit its recipe...' : 'Link by a recipe...',
      !animatable || kind !== 'number',
    ),
    command('response', 'Plot its response', kind === 'colour'),
    command('report', 'Motion report', kind !== 'number'),
    command('find-value', 'Find a value for it...', kind !== 'number'),
    command('why', 'Why does nothing move?', false),
    {
      label: 'Unlink',
      disabled: !linked,
      run: () => each((address) => (linkOf(shot, address) ? setLink(session.shot, address, null) : null)),
    },
    {
      label: 'Reset',
      disabled: state !== 'still' || !stored,
      run: () => each((address) => resetValue(session.shot, address)),
    },
  ];
}
