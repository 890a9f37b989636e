import { ANGLE_LIMIT, LENGTH_LIMIT, number, type ChannelSpec, type Quantity } from '../kinds';

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

const pinPoint = (path: 'at' | 'on', label: string, help: string): ChannelSpec[] =>
  (['x', 'y'] as const).map((axis) =>
    number({
      path: `${path}.${axis}`,
      axis,
      group: 'Pin',
      label,
      quantity: 'length',
      min: -LENGTH_LIMIT,
      max: LENGTH_LIMIT,
      help,
    }),
  );

const PIN_POINTS: readonly ChannelSpec[] = [
  ...pinPoint('at', 'Point', 'The point that is held, in the measure of the first part.'),
  ...pinPoint(
    'on',
    'Held at',
    'The point that holds it, or a point of the line, in the measure of the second part.',
  ),
];
const PIN_LINE = number({
  path: 'line',
  group: 'Pin',
  label: 'Line',
  quantity: 'angle',
  min: -ANGLE_LIMIT,
  max: ANGLE_LIMIT,
  step: 0.5,
  help: 'Direction of the line on the second part: 0 along its x axis, 90 along its y axis.',
});
const PIN_TURN = number({
  path: 'turn',
  group: 'Pin',
  label: 'Held turn',
  quantity: 'angle',
  min: -ANGLE_LIMIT,
  max: ANGLE_LIMIT,
  step: 0.5,
  help: 'How far the first part is turned against the second, and stays turned.',
});

/** Channels of each kind of pin. */
export const PIN_CHANNELS = {
  pin: PIN_POINTS,
  slot: [...PIN_POINTS, PIN_LINE],
  slide: [...PIN_POINTS, PIN_LINE, PIN_TURN],
} as const satisfies Record<string, readonly ChannelSpec[]>;

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
