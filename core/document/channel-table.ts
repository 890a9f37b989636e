import { number, type ChannelSpec, type Quantity } from '../kinds';

export * from '../kinds';

/** How loud a sound may be made: four times as loud as its file. */
const LEVEL_LIMIT = 4;

export const SOUND_CHANNELS: readonly ChannelSpec[] = [
  number({
    path: 'level',
    group: 'Sound',
    label: 'Level',
    initial: 1,
    min: 0,
    max: LEVEL_LIMIT,
    step: 0.005,
    help: 'How loud the sound is played: 1 as its file is, 0 silent.',
  }),
];

/** Tables of dials kept; beyond it all are made anew, since a document may hold any number of limits. */
const DIAL_TABLES = 500;
const dialTables = new Map<string, readonly ChannelSpec[]>();

/** The one channel of a dial with the given limits; the same table for the same limits. */
export function dialChannels(dial: { quantity: Quantity; min: number; max: number }): readonly ChannelSpec[] {
  const key = `${dial.quantity} ${dial.min} ${dial.max}`;
  let table = dialTables.get(key);
  if (!table) {
    table = [
      number({
        path: 'value',
        group: 'Dial',
        label: 'Value',
        quantity: dial.quantity,
        min: dial.min,
        max: dial.max,
        help: 'A named value of the shot that any formula can read.',
      }),
    ];
    if (dialTables.size >= DIAL_TABLES) dialTables.clear();
    dialTables.set(key, table);
  }
  return table;
}
