import type {
  Backdrop,
  Extend,
  Inset,
  Key,
  Look,
  Part,
  PartKind,
  RepeatOptions,
  Setup,
  Shape,
  ShapeKind,
  Shot,
  Value,
} from '../core/document';
import { blankShot, parseShot, tableOf, trackOf } from '../core/document';
import {
  addDial,
  addMarker,
  addSound,
  apply,
  changeSound,
  holdOnSteps,
  keyAt,
  makeId,
  markBeats,
  matchSlope,
  setExtend,
  setLink,
  setStretchShape,
  type DialOptions,
  type SoundOptions,
} from '../core/edit';
import { colourFromHex } from '../core/math';
import { applyRecipe, RECIPES, type Roles, type Settings } from '../core/recipe';
import type { RotationOrder } from '../core/transform';

type Triple = readonly [number, number, number];

export interface PartSpec {
  readonly parent?: string | null;
  readonly at?: Triple;
  readonly turn?: Triple;
  readonly rest?: Triple;
  readonly scale?: Triple;
  readonly order?: RotationOrder;
  readonly values?: Record<string, Value>;
  readonly repeat?: RepeatOptions;
  readonly inset?: Inset;
  readonly backdrop?: Backdrop;
}

export interface KeySpec {
  readonly frame: number;
  readonly value: number | string;
  readonly manner?: Key['manner'];
}

/** Repeatable random numbers (Park and Miller 1988), so that a demo shot has the same ids on every machine. */
function seeded(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state * 16807) % 2147483647;
    return state / 2147483647;
  };
}

function colour(hex: string): [number, number, number] {
  const found = colourFromHex(hex);
  if (!found) throw new RangeError(`${hex} is no colour such as #a1b2c3.`);
  return found;
}

/** Builds a demo shot by code: parts, shared shapes and looks, keys and links. */
export class ShotBuilder {
  private shot: Shot;
  private readonly random: () => number;
  private order = 0;

  constructor(seed: number, setup: Partial<Omit<Setup, 'background'>> & { background: string }) {
    this.random = seeded(seed);
    this.shot = blankShot({ ...setup, background: colour(setup.background) });
  }

  look(
    name: string,
    hex: string,
    values: Record<string, Value> = {},
    more: Pick<Partial<Look>, 'pictures' | 'pattern' | 'twoSided' | 'shadow'> = {},
  ): string {
    const id = makeId('lok', this.random);
    this.shot = {
      ...this.shot,
      looks: {
        ...this.shot.looks,
        [id]: {
          name,
          ...more,
          values: { colour: colour(hex), ...values },
          tracks: {},
          links: {},
        },
      },
    };
    return id;
  }

  shape(
    kind: ShapeKind,
    values: Record<string, number>,
    form: Partial<Pick<Shape, 'profile' | 'outline' | 'text'>> = {},
  ): string {
    const id = makeId('shp', this.random);
    this.shot = {
      ...this.shot,
      shapes: { ...this.shot.shapes, [id]: { kind, ...form, values, tracks: {}, links: {} } },
    };
    return id;
  }

  part(
    kind: PartKind,
    name: string,
    spec: PartSpec = {},
    shape: string | null = null,
    look: string | null = null,
  ): string {
    const id = makeId('prt', this.random);
    const values: Record<string, Value> = { ...spec.values };
    const place = { location: spec.at, rotation: spec.turn, rest: spec.rest, scale: spec.scale };
    for (const [name, triple] of Object.entries(place)) {
      triple?.forEach((number, i) => {
        if (number !== (name === 'scale' ? 1 : 0)) values[`${name}.${'xyz'[i]}`] = number;
      });
    }
    const part: Part = {
      kind,
      name,
      parent: spec.parent ?? null,
      order: this.order++,
      rotationOrder: spec.order ?? 'XYZ',
      shape,
      look,
      ...(spec.repeat ? { repeat: spec.repeat } : {}),
      ...(spec.inset ? { inset: spec.inset } : {}),
      ...(spec.backdrop ? { backdrop: spec.backdrop } : {}),
      values,
      tracks: {},
      links: {},
    };
    this.shot = { ...this.shot, parts: { ...this.shot.parts, [id]: part } };
    return id;
  }

  /** @throws RangeError for a name that no part has */
  idOf(name: string): string {
    const found = Object.entries(this.shot.parts).find(([, part]) => part.name === name);
    if (!found) throw new RangeError(`There is no part "${name}".`);
    return found[0];
  }

  hub(name: string, spec: PartSpec = {}): string {
    return this.part('hub', name, spec);
  }

  solid(name: string, shape: string, look: string, spec: PartSpec = {}): string {
    return this.part('solid', name, spec, shape, look);
  }

  camera(name: string, spec: PartSpec): string {
    const id = this.part('camera', name, { order: 'YXZ', ...spec });
    this.shot = { ...this.shot, setup: { ...this.shot.setup, camera: id } };
    return id;
  }

  /** Keys one channel; colours as `#rrggbb`. */
  keys(address: string, specs: readonly KeySpec[]): void {
    const [owner = '', path = ''] = address.split('/');
    const keys: Record<string, Key> = {};
    for (const { frame, value, manner } of specs)
      keys[makeId('key', this.random)] = {
        frame,
        value: typeof value === 'string' ? colour(value) : value,
        manner: manner ?? 'curve',
      };
    const table = tableOf(owner);
    if (table !== 'parts' && table !== 'looks' && table !== 'shapes' && table !== 'dials')
      throw new RangeError(`${address} cannot be keyed by the builder.`);
    const record = this.shot[table][owner]!;
    const tracks = { ...record.tracks, [path]: { before: 'hold' as const, after: 'hold' as const, keys } };
    this.shot = { ...this.shot, [table]: { ...this.shot[table], [owner]: { ...record, tracks } } };
  }

  /** How a keyed channel goes on before its first and after its last key. */
  outside(address: string, before: Extend, after: Extend): void {
    this.shot = apply(this.shot, setExtend(this.shot, address, 'before', before));
    this.shot = apply(this.shot, setExtend(this.shot, address, 'after', after));
  }

  /** Gives every stretch of a keyed channel a shape of its own: control points in the unit square. */
  shapeStretches(address: string, points: readonly [number, number, number, number]): void {
    const keys = Object.keys(trackOf(this.shot, address)?.keys ?? {}).map((key) => ({ address, key }));
    this.shot = apply(this.shot, setStretchShape(this.shot, keys, { manner: 'curve', points }));
  }

  /** Lets a channel leave its key at a frame as steeply as it arrives. */
  matchSlope(address: string, frame: number): void {
    const key = keyAt(this.shot, address, frame);
    if (key) this.shot = apply(this.shot, matchSlope(this.shot, [{ address, key }]));
  }

  /** Holds a keyed channel on every second frame of a range. */
  onTwos(address: string, from: number, to: number): void {
    this.shot = apply(this.shot, holdOnSteps(this.shot, [address], from, to, 2, this.random));
  }

  marker(name: string, frame: number): void {
    this.shot = apply(this.shot, addMarker(this.shot, frame, name, this.random).change);
  }

  /** A sound whose file comes with the demo. @returns its id */
  sound(name: string, asset: string, start: number, options: SoundOptions = {}): string {
    const { id, change } = addSound(this.shot, name, asset, start, this.random);
    this.shot = apply(this.shot, change);
    this.shot = apply(this.shot, changeSound(this.shot, id, options));
    return id;
  }

  /** Marks beats, the first of them where a sound begins. */
  beats(sound: string, count: number, every: number): void {
    const { start } = this.shot.sounds[sound]!;
    const frames = Array.from({ length: count }, (_, i) => start + i * every);
    this.shot = apply(this.shot, markBeats(this.shot, frames, false, this.random));
  }

  /** Id of the shape of a part. */
  shapeOf(part: string): string {
    return this.shot.parts[part]!.shape!;
  }

  /** Any other change, with the builder's own random numbers for ids. */
  change(make: (shot: Shot, random: () => number) => Shot): void {
    this.shot = make(this.shot, this.random);
  }

  /** @returns its id */
  dial(options: DialOptions, value: number): string {
    const { id, change } = addDial(this.shot, options, value, this.random);
    this.shot = apply(this.shot, change);
    return id;
  }

  /** Links parts by a recipe, which is kept with its numbers. */
  recipe(kind: string, roles: Roles, settings: Settings): void {
    this.shot = apply(
      this.shot,
      applyRecipe(this.shot, RECIPES.get(kind)!, roles, settings, { random: this.random }).change,
    );
  }

  link(address: string, formula: string): void {
    this.shot = apply(this.shot, setLink(this.shot, address, formula));
  }

  /** @throws RangeError when what was built is no sound document */
  build(): Shot {
    const parsed = parseShot(JSON.parse(JSON.stringify(this.shot)));
    if (!parsed.ok)
      throw new RangeError(
        parsed.problems.map((problem) => `${problem.path}: ${problem.message}`).join('\n'),
      );
    return parsed.shot;
  }
}

/** Turn, in degrees for the order YXZ, with which a camera at `from` looks at `to`. */
export function lookingAt(from: Triple, to: Triple): [number, number, number] {
  const [x, y, z] = [to[0] - from[0], to[1] - from[1], to[2] - from[2]];
  const deg = 180 / Math.PI;
  return [Math.atan2(y, Math.hypot(x, z)) * deg, Math.atan2(-x, -z) * deg, 0];
}
