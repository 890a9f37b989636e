import type { Outline } from '../../document';
import type { NewPart } from '../../edit';
import { cosDeg, sinDeg } from '../../math';
import type { Settings } from '../recipe';

export type Colour = [number, number, number];
export const BRASS: Colour = [0.57, 0.31, 0.05];
export const IRON: Colour = [0.06, 0.075, 0.09];
export const WOOD: Colour = [0.32, 0.12, 0.034];
export const PAINT: Colour = [0.02, 0.16, 0.17];

export type NewShape = NonNullable<NewPart['shape']>;

/** A part that a recipe wants, known by its place in it. */
export interface PlannedPart {
  readonly slot: string;
  /** Place of the part it hangs from; `null` for the one that carries all. */
  readonly parent: string | null;
  readonly spec: Omit<NewPart, 'parent'>;
  /** Place of the part through whose children it is carried, turned along them. */
  readonly along?: string;
}

/** What plays a role: a part, a channel of it, or a channel of its shape. */
export interface PlannedRole {
  readonly slot: string;
  readonly path?: string;
  readonly of?: 'shape';
}

/** Everything that a recipe builds for its numbers: parts from what carries them downwards, and who plays which role. */
export interface Plan {
  readonly parts: readonly PlannedPart[];
  readonly roles: Readonly<Record<string, PlannedRole | readonly PlannedRole[]>>;
}

/** A channel of a planned part. */
export const channel = (slot: string, path: string): PlannedRole => ({ slot, path });
/** A channel of the shape of a planned part. */
export const shapeChannel = (slot: string, path: string): PlannedRole => ({ slot, path, of: 'shape' });
/** A planned part as a whole. */
export const itself = (slot: string): PlannedRole => ({ slot });

type Values = Record<string, number>;

/** Gathers the parts that a recipe wants. */
export class Planner {
  readonly parts: PlannedPart[] = [];
  private root: string | null = null;

  /** A hub from which everything hangs, so high that nothing reaches below the floor. */
  stand(name: string, height: number): void {
    this.root = this.hub(name, { 'location.y': height }, null);
  }

  hub(name: string, values: Values = {}, parent: string | null = this.root): string {
    return this.add({ kind: 'hub', name, values }, parent);
  }

  solid(
    name: string,
    shape: NewShape,
    colour: Colour,
    values: Values = {},
    parent: string | null = this.root,
  ): string {
    const metallic = colour === WOOD || colour === PAINT ? 0 : 0.8;
    const look = { values: { colour, metallic, roughness: 0.4 } };
    return this.add({ kind: 'solid', name, values, shape, look }, parent);
  }

  box(
    name: string,
    [width, height, depth]: readonly [number, number, number],
    colour: Colour,
    values: Values = {},
    parent: string | null = this.root,
  ): string {
    return this.solid(name, { kind: 'box', values: { width, height, depth } }, colour, values, parent);
  }

  /** A cylinder along z. */
  round(
    name: string,
    radius: number,
    height: number,
    colour: Colour,
    values: Values = {},
    parent: string | null = this.root,
    sides = 48,
  ): string {
    const lying = { 'rest.x': 90, ...values };
    return this.solid(name, { kind: 'cylinder', values: { radius, height, sides } }, colour, lying, parent);
  }

  /** A bar with eyes along x, its first eye at its place. */
  bar(
    name: string,
    length: number,
    width: number,
    colour: Colour,
    values: Values = {},
    parent: string | null = this.root,
  ): string {
    const sizes = { length, width, thickness: width * 0.5, bore: width * 0.22 };
    return this.solid(name, { kind: 'bar', values: sizes }, colour, fromEye(length, values), parent);
  }

  /** A hub that is carried round through the children of another part, which stand in a ring. */
  carried(name: string, along: string): string {
    return this.add({ kind: 'hub', name }, this.root, along);
  }

  private add(spec: Omit<NewPart, 'parent'>, parent: string | null, along?: string): string {
    this.parts.push({ slot: spec.name, parent, spec, ...(along === undefined ? {} : { along }) });
    return spec.name;
  }
}

/** A bar is built about its middle: its pivot and its place put the first eye where the values say. */
function fromEye(length: number, values: Values): Values {
  const { 'location.x': x = 0, ...rest } = values;
  return { ...rest, 'location.x': x + length / 2, 'pivot.x': -length / 2 };
}

/** Plans the parts of a kind of recipe. @throws EditRefused for numbers that make no parts */
export type Builder = (plan: Planner, settings: Settings) => Plan['roles'];

export const numbers = (settings: Settings, ...names: string[]): number[] =>
  names.map((name) => settings[name] as number);

/** A flat disc in metres, given by the distance of its edge from the axis in each direction (degrees). */
export function discOutline(points: number, edge: (degrees: number) => number): Outline {
  const outer = Array.from({ length: points }, (_, i) => {
    const angle = (360 * i) / points;
    return [edge(angle) * cosDeg(angle), edge(angle) * sinDeg(angle)];
  }).flat();
  return [{ letter: 0, outer, holes: [] }];
}

/** A drawing in metres as a shape: one metre wide and high, so that its shares are metres. */
export const plate = (outline: Outline, depth: number): NewShape => ({
  kind: 'outline',
  outline,
  values: { width: 1, height: 1, depth, bevel: 0 },
});
