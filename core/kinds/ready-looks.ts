import { colourFromHex } from '../math';

const hex = (text: string): [number, number, number] => colourFromHex(text)!;

type LookValue = number | readonly [number, number, number];

/** A look that is ready to be used: what differs from a plain one. */
export interface ReadyLook {
  readonly name: string;
  readonly values: Readonly<Record<string, LookValue>>;
  readonly pattern?: { readonly kind: string; readonly lies: 'body' | 'surface' };
  readonly twoSided?: true;
  readonly shadow?: 'thrown' | 'taken' | 'none' | 'only';
}

const look = (
  name: string,
  colour: string,
  values: ReadyLook['values'],
  more: Omit<ReadyLook, 'name' | 'values'> = {},
): ReadyLook => ({ name, values: { colour: hex(colour), ...values }, ...more });

const metal = (name: string, colour: string, roughness: number, more: Partial<ReadyLook> = {}): ReadyLook =>
  look(
    name,
    colour,
    { metallic: 1, roughness, ...more.values },
    more.pattern ? { pattern: more.pattern } : {},
  );

const through = (kind: string): ReadyLook['pattern'] => ({ kind, lies: 'body' });
const over = (kind: string): ReadyLook['pattern'] => ({ kind, lies: 'surface' });

/** Looks of our own making, for the things of a fair: metals, woods and paints, cloth, glass, lamps, patterns that show a turn. */
export const READY_LOOKS: readonly ReadyLook[] = [
  metal('Brass', '#c9a24b', 0.28),
  metal('Old copper', '#a05c3c', 0.45),
  metal('Polished steel', '#c9ccd0', 0.12),
  metal('Cast iron', '#4b4d50', 0.62),
  metal('Brushed steel', '#b9bdc2', 0.38, {
    values: { 'pattern.colour': hex('#8b9096'), 'pattern.size': 0.4 },
    pattern: through('brushed'),
  }),
  metal('Hammered copper', '#b5683f', 0.25, {
    values: { 'pattern.colour': hex('#5d2f1a'), 'pattern.size': 0.09, 'pattern.share': 0.25 },
    pattern: through('hammered'),
  }),
  look(
    'Oiled wood',
    '#6b3f1e',
    { roughness: 0.5, 'pattern.colour': hex('#a8713a'), 'pattern.size': 0.08 },
    { pattern: through('wood') },
  ),
  look(
    'Varnished wood',
    '#5a2c12',
    { roughness: 0.45, coat: 1, coatroughness: 0.06, 'pattern.colour': hex('#96571f'), 'pattern.size': 0.08 },
    { pattern: through('wood') },
  ),
  look('Painted wood', '#2f6f73', { roughness: 0.55 }),
  look('Enamel', '#a32420', { roughness: 0.4, coat: 1, coatroughness: 0.03 }),
  look('Porcelain', '#efece4', { roughness: 0.25, coat: 0.6, coatroughness: 0.05 }),
  look('Rubber', '#26272a', { roughness: 0.85 }),
  look('Wet stone', '#4d4f50', { roughness: 0.3, coat: 0.5, coatroughness: 0.15 }),
  look(
    'Canvas',
    '#cdbf9f',
    { roughness: 0.95, sheen: 0.35, sheencolour: hex('#fff6e0') },
    { twoSided: true },
  ),
  look('Velvet', '#5c1030', { roughness: 0.9, sheen: 1, sheencolour: hex('#e89ab0') }, { twoSided: true }),
  look('Clear glass', '#ffffff', { roughness: 0.02, glass: 1, thickness: 0.1 }),
  look('Bottle glass', '#7fb98b', { roughness: 0.05, glass: 1, thickness: 0.2 }),
  look('Frosted glass', '#eef4f6', { roughness: 0.45, glass: 1, thickness: 0.1 }),
  look('Water', '#bfe3e6', { roughness: 0.04, glass: 1, bending: 1.33, thickness: 0.3 }),
  look('Lamp', '#ffd08a', { roughness: 0.4, glow: 3 }),
  look('Coloured lamp', '#ff5a36', { roughness: 0.4, glow: 2.5 }),
  look('Lantern paper', '#f2c27a', { roughness: 0.9, glow: 0.6, sheen: 0.3 }, { twoSided: true }),
  look(
    'Awning stripes',
    '#a32a24',
    { roughness: 0.9, 'pattern.colour': hex('#f1e6d0'), 'pattern.times': 12 },
    { pattern: over('stripes'), twoSided: true },
  ),
  look(
    'Fair stripes',
    '#1f4f6b',
    { roughness: 0.5, 'pattern.colour': hex('#f0d9a6'), 'pattern.size': 0.2 },
    { pattern: through('stripes') },
  ),
  look(
    'Chequers',
    '#20303c',
    { roughness: 0.5, 'pattern.colour': hex('#e9e0cd'), 'pattern.size': 0.25 },
    { pattern: through('checks') },
  ),
  look(
    'Spotted ball',
    '#b5322b',
    { roughness: 0.4, 'pattern.colour': hex('#f4ead6'), 'pattern.times': 10, 'pattern.share': 0.55 },
    { pattern: over('dots') },
  ),
  look(
    'Evening sky',
    '#e0885a',
    {
      roughness: 0.9,
      'pattern.colour': hex('#23375c'),
      'pattern.times': 1,
      'pattern.turn': 90,
      'pattern.share': 1,
    },
    { pattern: over('gradient') },
  ),
  look(
    'Measuring rod',
    '#e3c97a',
    { roughness: 0.6, 'pattern.colour': hex('#20242a'), 'pattern.size': 0.1 },
    { pattern: through('ruler') },
  ),
  look('Only shadows', '#808080', {}, { shadow: 'only' }),
];

/** Colours of new parts, one after the other: of one palette, none of them loud. Linear. */
export const NEW_PART_COLOURS: readonly (readonly [number, number, number])[] = [
  '#b4763f',
  '#3f7a7d',
  '#c2a45a',
  '#8a4a3c',
  '#5d7396',
  '#7d8a55',
  '#b98e7d',
  '#4f5f6b',
].map(hex);
