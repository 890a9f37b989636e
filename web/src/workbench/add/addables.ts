import type { PartKind, Shape, ShapeKind, Value } from '../../../../core/document';
import type { NewPart } from '../../../../core/edit';
import { normalised, piecesOfRings } from '../../../../core/shape';
import { letteringOutline } from './lettering';
import { PROFILES } from './profile-editor';

export type AddGroup = 'Solids' | 'Flat, turned and drawn' | 'Mechanical and structure' | 'Light and camera';

/** Something that can be added to the scene. */
export interface Addable {
  readonly id: string;
  readonly name: string;
  readonly group: AddGroup;
  /** What it is for, in a few words. */
  readonly hint: string;
  /** Other words that somebody may search by. */
  readonly words: string;
  readonly kind: PartKind;
  readonly shape?: ShapeKind;
  /** Height above the floor at which it begins, metres. */
  readonly height: number;
  readonly values?: Readonly<Record<string, Value>>;
}

export const ADDABLES: readonly Addable[] = [
  {
    id: 'box',
    name: 'Box',
    group: 'Solids',
    hint: 'Width, height, depth',
    words: 'cube block crate',
    kind: 'solid',
    shape: 'box',
    height: 0.5,
  },
  {
    id: 'ball',
    name: 'Ball',
    group: 'Solids',
    hint: 'Whole, or a bowl',
    words: 'sphere globe bowl',
    kind: 'solid',
    shape: 'ball',
    height: 0.5,
  },
  {
    id: 'cylinder',
    name: 'Cylinder',
    group: 'Solids',
    hint: 'Round or with sides',
    words: 'column rod prism',
    kind: 'solid',
    shape: 'cylinder',
    height: 0.5,
  },
  {
    id: 'cone',
    name: 'Cone',
    group: 'Solids',
    hint: 'To a point or cut off',
    words: 'pyramid tent',
    kind: 'solid',
    shape: 'cone',
    height: 0.5,
  },
  {
    id: 'tube',
    name: 'Tube',
    group: 'Solids',
    hint: 'A pipe with a wall',
    words: 'pipe hollow',
    kind: 'solid',
    shape: 'tube',
    height: 0.5,
  },
  {
    id: 'torus',
    name: 'Torus',
    group: 'Solids',
    hint: 'A round ring',
    words: 'ring hoop donut',
    kind: 'solid',
    shape: 'torus',
    height: 0.1,
  },
  {
    id: 'capsule',
    name: 'Capsule',
    group: 'Solids',
    hint: 'A rod with round ends',
    words: 'pill limb',
    kind: 'solid',
    shape: 'capsule',
    height: 0.5,
  },
  {
    id: 'plane',
    name: 'Plane',
    group: 'Flat, turned and drawn',
    hint: 'A card, both sides',
    words: 'card layer quad wall',
    kind: 'solid',
    shape: 'plane',
    height: 0.5,
  },
  {
    id: 'disc',
    name: 'Disc',
    group: 'Flat, turned and drawn',
    hint: 'With hole and sweep',
    words: 'circle round pie',
    kind: 'solid',
    shape: 'disc',
    height: 0.5,
  },
  {
    id: 'lathe',
    name: 'Lathe',
    group: 'Flat, turned and drawn',
    hint: 'A profile you draw, turned',
    words: 'turned profile vase bell spin',
    kind: 'solid',
    shape: 'lathe',
    height: 0.5,
  },
  {
    id: 'outline',
    name: 'Outline',
    group: 'Flat, turned and drawn',
    hint: 'An SVG path with depth',
    words: 'svg extrude path emblem',
    kind: 'solid',
    shape: 'outline',
    height: 0.5,
  },
  {
    id: 'lettering',
    name: 'Lettering',
    group: 'Flat, turned and drawn',
    hint: 'Words with depth and bevel',
    words: 'text type words font letters',
    kind: 'solid',
    shape: 'lettering',
    height: 0.5,
  },
  {
    id: 'gear',
    name: 'Gear',
    group: 'Mechanical and structure',
    hint: 'Involute teeth, ISO 53',
    words: 'cog wheel pinion',
    kind: 'solid',
    shape: 'gear',
    height: 0.7,
  },
  {
    id: 'rack',
    name: 'Rack',
    group: 'Mechanical and structure',
    hint: 'Straight teeth for gears',
    words: 'toothed bar linear',
    kind: 'solid',
    shape: 'rack',
    height: 0.25,
  },
  {
    id: 'hub',
    name: 'Hub',
    group: 'Mechanical and structure',
    hint: 'Carries a place, no shape',
    words: 'empty null group pivot locator',
    kind: 'hub',
    height: 0,
  },
  {
    id: 'repeat',
    name: 'Repeat',
    group: 'Mechanical and structure',
    hint: 'Shows what hangs below again',
    words: 'array copies clone row ring',
    kind: 'repeat',
    height: 0,
  },
  {
    id: 'camera',
    name: 'Camera',
    group: 'Light and camera',
    hint: 'Takes the shot',
    words: 'lens view',
    kind: 'camera',
    height: 2,
    values: { 'location.z': 6, 'rotation.x': -12 },
  },
  {
    id: 'sun',
    name: 'Sun',
    group: 'Light and camera',
    hint: 'From far, hard shadows',
    words: 'directional light',
    kind: 'sun',
    height: 5,
    values: { 'rotation.x': -50, 'rotation.y': 35 },
  },
  {
    id: 'sky',
    name: 'Sky light',
    group: 'Light and camera',
    hint: 'From everywhere above',
    words: 'ambient hemisphere',
    kind: 'sky',
    height: 4,
  },
  {
    id: 'point',
    name: 'Point light',
    group: 'Light and camera',
    hint: 'A bare lamp',
    words: 'bulb lamp omni',
    kind: 'point',
    height: 2.5,
  },
  {
    id: 'spot',
    name: 'Spot light',
    group: 'Light and camera',
    hint: 'A cone of light',
    words: 'lamp beam torch',
    kind: 'spot',
    height: 4,
    values: { 'rotation.x': -90 },
  },
  {
    id: 'area',
    name: 'Area light',
    group: 'Light and camera',
    hint: 'A shining panel',
    words: 'softbox window panel',
    kind: 'area',
    height: 2.5,
    values: { 'location.z': 2, 'rotation.x': -40 },
  },
];

const COLOUR: [number, number, number] = [0.45, 0.2, 0.08];

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

/** What a shape needs beside its sizes when it is new. */
export async function formOf(kind: ShapeKind): Promise<Partial<Pick<Shape, 'profile' | 'outline' | 'text'>>> {
  if (kind === 'lathe') return { profile: PROFILES.Bollard! };
  if (kind === 'outline') return { outline: PENNANT.outline };
  if (kind !== 'lettering') return {};
  const made = await letteringOutline('Whirl', 'rye');
  if (!made.ok) throw new Error(made.reason);
  return { outline: made.outline, text: { text: 'Whirl', font: 'rye' } };
}

/** The part that an entry of the list makes. */
export async function newPartOf(entry: Addable): Promise<NewPart> {
  const values = { ...(entry.height ? { 'location.y': entry.height } : {}), ...entry.values };
  if (!entry.shape) return { kind: entry.kind, name: entry.name, values };
  const form = await formOf(entry.shape);
  const sizes: Record<string, number> = entry.shape === 'outline' ? { width: 1.6, height: 0.96 } : {};
  return {
    kind: entry.kind,
    name: entry.name,
    values,
    shape: { kind: entry.shape, values: sizes, ...form },
    look: { values: { colour: COLOUR } },
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
