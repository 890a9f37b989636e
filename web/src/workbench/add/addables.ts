import {
  NEW_PART_COLOURS,
  PART_KINDS,
  partDefinition,
  SHAPE_KINDS,
  shapeDefinition,
  type Offer,
  type PartKind,
  type Shape,
  type ShapeKind,
} from '../../../../core/document';
import type { NewPart } from '../../../../core/edit';
import { normalised, piecesOfRings } from '../../../../core/shape';
import { letteringOutline } from './lettering';
import { PROFILES } from './profile-editor';

/** Something that can be added to the scene: a kind of part, or a solid of a kind of shape. */
export interface Addable extends Offer {
  readonly id: string;
  readonly kind: PartKind;
  readonly shape?: ShapeKind;
  /** Of a shot of the project, its id. */
  readonly inset?: string;
}

/** Everything that is offered, in the order of the tables of kinds: shapes first. */
export const ADDABLES: readonly Addable[] = [
  ...SHAPE_KINDS.flatMap((shape): Addable[] => {
    const { offer } = shapeDefinition(shape);
    return offer ? [{ id: shape, kind: 'solid', shape, ...offer }] : [];
  }),
  ...PART_KINDS.flatMap((kind): Addable[] => {
    const { offer } = partDefinition(kind);
    return offer ? [{ id: kind, kind, ...offer }] : [];
  }),
];

/** A pennant with a hole for its line: what an outline is until an SVG takes its place. */
const PENNANT = normalised(
  piecesOfRings([
    [0, 0, 3, 0.9, 0, 1.8, 0.55, 0.9],
    Array.from({ length: 16 }, (_, i) => (i * Math.PI) / 8).flatMap((a) => [
      0.95 + 0.22 * Math.cos(a),
      0.9 + 0.22 * Math.sin(a),
    ]),
  ]),
);

/** What a belt or a chain runs round when it is new: a small pulley drives a large one. */
const FIRST_PULLEYS: NonNullable<Shape['pulleys']> = [
  [-0.5, 0, 0.2],
  [0.5, 0, 0.35],
];

/** What a shape needs beside its sizes when it is new. */
export async function formOf(
  kind: ShapeKind,
): Promise<Partial<Pick<Shape, 'profile' | 'outline' | 'text' | 'pulleys'>>> {
  if (kind === 'lathe') return { profile: PROFILES.Bollard! };
  if (kind === 'outline') return { outline: PENNANT.outline };
  if (kind === 'belt' || kind === 'chain') return { pulleys: FIRST_PULLEYS };
  if (kind !== 'lettering') return {};
  const made = await letteringOutline('Whirl', 'rye');
  if (!made.ok) throw new Error(made.reason);
  return { outline: made.outline, text: made.text };
}

/** Font that callouts begin with. */
const CALLOUT_FONT = 'oswald';

/** A callout that says the name of the part to which it points, or that it is one. */
async function newCallout(entry: Addable, about: About | null): Promise<NewPart> {
  let made = await letteringOutline(about?.name ?? entry.name, CALLOUT_FONT);
  // The font may not have the letters of the name.
  if (!made.ok) made = await letteringOutline(entry.name, CALLOUT_FONT);
  if (!made.ok) throw new Error(made.reason);
  const { text, outline } = made;
  return { kind: entry.kind, name: entry.name, parent: about?.id ?? null, callout: { text, outline } };
}

/** The part that a new one is about. */
interface About {
  readonly id: string;
  readonly name: string;
}

/**
 * The part that an entry of the list makes.
 * @param before how many solids there are already: each new one has another colour of the palette
 * @param about the chosen part: a callout points to it and goes with it
 */
export async function newPartOf(entry: Addable, before = 0, about: About | null = null): Promise<NewPart> {
  if (entry.kind === 'callout') return newCallout(entry, about);
  const values = { ...(entry.height ? { 'location.y': entry.height } : {}), ...entry.values };
  if (!entry.shape) return { kind: entry.kind, name: entry.name, values };
  const form = await formOf(entry.shape);
  return {
    kind: entry.kind,
    name: entry.name,
    values,
    shape: { kind: entry.shape, values: { ...shapeDefinition(entry.shape).sizes }, ...form },
    look: { values: { colour: NEW_PART_COLOURS[before % NEW_PART_COLOURS.length]! } },
  };
}

/** Whether an entry is meant by what is typed into the search. */
export function addableMatches(entry: Addable, wanted: string): boolean {
  const text = `${entry.name} ${entry.group} ${entry.hint} ${entry.words}`.toLowerCase();
  return wanted
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word));
}
