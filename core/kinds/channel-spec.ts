/**
 * The one table of everything in a shot that can have a value over time. The values panel, the lanes, the
 * formula checker, the document check and the files all read it.
 */

/** How a channel's value is stored: a number, a linear colour, an on/off switch (0 or 1). */
export type ChannelKind = 'number' | 'colour' | 'switch';

/** What a number measures. Lengths are metres and angles degrees in the document; times are seconds. */
export type Quantity = 'none' | 'length' | 'angle' | 'time';

export type ChannelGroup =
  | 'Place'
  | 'Visibility'
  | 'Shape'
  | 'Look'
  | 'Finish'
  | 'Pattern'
  | 'Picture'
  | 'Drop shadow'
  | 'Light'
  | 'Camera'
  | 'Focus and film'
  | 'Backdrop'
  | 'Callout'
  | 'Fog'
  | 'Repeat'
  | 'Path'
  | 'Dial'
  | 'Sound'
  | 'Pin';

/** What an owner must have for a channel to show in its picture: it is offered only then. */
export type ChannelNeed =
  | 'turned'
  | 'pattern'
  | 'pattern-body'
  | 'pattern-surface'
  | 'picture'
  | 'video'
  | 'layer'
  | 'lens'
  | 'parallel'
  | 'plain-background'
  | 'gradient'
  | 'written';

export interface ChannelSpec {
  /** Path inside its owner, e.g. `rotation.y`. */
  readonly path: string;
  readonly group: ChannelGroup;
  /** Name of the row; the three axes of one row share it. */
  readonly label: string;
  readonly axis?: 'x' | 'y' | 'z';
  readonly kind: ChannelKind;
  readonly quantity: Quantity;
  readonly initial: number | readonly [number, number, number];
  /** Smallest and largest value allowed, both included. */
  readonly min: number;
  readonly max: number;
  /** Whole numbers only (teeth, sides). */
  readonly whole?: boolean;
  /** False for values that only describe how a part lies or is built: no keys, no link. */
  readonly animatable: boolean;
  /** Unit shown after the number when the quantity has none of its own. */
  readonly unit?: string;
  /** What a switch says when it is on and off. */
  readonly says?: readonly [on: string, off: string];
  /** What a whole number from 0 on stands for: it is chosen from these words. */
  readonly words?: readonly string[];
  /** Share of the value that one pixel of sideways dragging changes. */
  readonly step: number;
  /** Missing where it always shows. */
  readonly needs?: ChannelNeed;
  /** Away from its initial value it shows only where a frame is built up from several pictures. */
  readonly sampled?: true;
  readonly help: string;
}

export const LENGTH_LIMIT = 1e6;
export const ANGLE_LIMIT = 1e7;

type Numeric = Partial<ChannelSpec> & Pick<ChannelSpec, 'path' | 'group' | 'label' | 'help'>;

/** A number channel. */
export function number(spec: Numeric): ChannelSpec {
  return {
    kind: 'number',
    quantity: 'none',
    initial: 0,
    min: -1e9,
    max: 1e9,
    animatable: true,
    step: 0.01,
    ...spec,
  };
}

/** Three number channels `path.x`, `path.y`, `path.z`. */
export function axes(spec: Omit<Numeric, 'path'> & { path: string }): ChannelSpec[] {
  return (['x', 'y', 'z'] as const).map((axis) => number({ ...spec, path: `${spec.path}.${axis}`, axis }));
}

/** A length that is not below 0. */
export function size(
  path: string,
  label: string,
  initial: number,
  help: string,
  group: ChannelGroup = 'Shape',
): ChannelSpec {
  return number({ path, group, label, quantity: 'length', initial, min: 0, max: LENGTH_LIMIT, help });
}

/** A linear colour. */
export function colour(
  path: string,
  group: ChannelGroup,
  label: string,
  initial: [number, number, number],
  help: string,
): ChannelSpec {
  return {
    path,
    group,
    label,
    kind: 'colour',
    quantity: 'none',
    initial,
    min: 0,
    max: 1,
    animatable: true,
    step: 0.01,
    help,
  };
}

/** On or off. */
export function onOff(
  spec: Pick<ChannelSpec, 'path' | 'group' | 'label' | 'help' | 'says'> & Partial<ChannelSpec>,
): ChannelSpec {
  return { kind: 'switch', quantity: 'none', initial: 0, min: 0, max: 1, animatable: true, step: 1, ...spec };
}

/** One of several words, stored by its place among them. It says how something is built and cannot be keyed. */
export function oneOf(
  spec: Pick<ChannelSpec, 'path' | 'group' | 'label' | 'help'> & { readonly words: readonly string[] },
  initial = 0,
): ChannelSpec {
  return number({
    initial,
    min: 0,
    max: spec.words.length - 1,
    whole: true,
    animatable: false,
    step: 0.02,
    ...spec,
  });
}
