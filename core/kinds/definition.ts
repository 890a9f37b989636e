import type { ChannelSpec } from './channel-spec';

export type AddGroup =
  | 'Solids'
  | 'Flat, turned and drawn'
  | 'Mechanical and structure'
  | 'Light and camera'
  | 'Shots of the project';

/** How a kind is offered where things are added. */
export interface Offer {
  readonly name: string;
  readonly group: AddGroup;
  /** What it is for, in a few words. */
  readonly hint: string;
  /** Other words that somebody may search by. */
  readonly words: string;
  /** Height above the floor at which it begins, metres. */
  readonly height: number;
  /** Values of the part that it begins with beside its height: metres, degrees. */
  readonly values?: Readonly<Record<string, number>>;
}

/**
 * What a part does in a shot: a solid has a shape and a look, a light shines and a camera looks along its own -z, a carrier
 * shows nothing of its own and carries others, a shot shows another shot of the project, a backdrop stands behind all, a label lies over the picture.
 */
export type PartRole = 'solid' | 'light' | 'camera' | 'carrier' | 'shot' | 'backdrop' | 'label';

/** Everything that there is to know of a kind of part. Every list of kinds is made from these. */
export interface PartDefinition {
  /** What it is called where a part is told by its kind. */
  readonly word: string;
  /** What it has beside its place and visibility. */
  readonly channels: readonly ChannelSpec[];
  readonly role: PartRole;
  /** How it is offered; `null` for solids and shots, which are offered by their shapes and by what there is. */
  readonly offer: Offer | null;
}

export type Axis = 'x' | 'y' | 'z';
/** Size of a shape by the path of its channel, in metres, degrees or whole numbers. */
export type Sizes = (path: string) => number;

/** What a shape can have in the document beside its sizes. */
export type ShapeOption = 'profile' | 'outline' | 'text' | 'pulleys' | 'mesh';

/** Everything that there is to know of a kind of shape, but for how it is built (`core/shape`). */
export interface ShapeDefinition {
  readonly word: string;
  /** Size that is told beside the word, with what it counts. */
  readonly counted?: { readonly path: string; readonly of: string };
  readonly channels: readonly ChannelSpec[];
  readonly needs: readonly ShapeOption[];
  /** How often it looks the same in one turn about an axis of its own, without a picture on it; `ROUND` always. */
  readonly symmetry: (size: Sizes, axis: Axis) => number;
  /** Axis about which it is turned or cut, if it has one. */
  readonly roundAxis: Axis | null;
  /** Size along x from one of its two eyes to the other, about its middle; missing where it has none. */
  readonly eyes?: string;
  /** Looks the same mirrored. */
  readonly even: boolean;
  /** How it is offered; `null` for what comes from files. */
  readonly offer: Offer | null;
  /** Sizes that it begins with when they are not those of its channels. */
  readonly sizes?: Readonly<Record<string, number>>;
}
