import type { ChannelSpec } from './channel-spec';
import type { PartDefinition } from './definition';
import { area } from './part/area';
import { backdrop } from './part/backdrop';
import { callout } from './part/callout';
import { camera } from './part/camera';
import { hub } from './part/hub';
import { point } from './part/point';
import { repeat } from './part/repeat';
import { shot } from './part/shot';
import { sky } from './part/sky';
import { solid } from './part/solid';
import { spot } from './part/spot';
import { sun } from './part/sun';
import { PLACE_CHANNELS, VISIBILITY_CHANNELS } from './place-channels';

const DEFINITIONS = {
  solid,
  hub,
  repeat,
  shot,
  camera,
  sun,
  sky,
  point,
  spot,
  area,
  backdrop,
  callout,
} as const satisfies Record<string, PartDefinition>;

export type PartKind = keyof typeof DEFINITIONS;

export const PART_KINDS = Object.keys(DEFINITIONS) as [PartKind, ...PartKind[]];

/** A definition with what follows from the role. */
export interface PartKindFacts extends PartDefinition {
  /** Has a shape and a look. */
  readonly solid: boolean;
  readonly light: boolean;
  /** Can take the shot. */
  readonly takes: boolean;
  readonly carries: boolean;
  /** Every new shot has one or more to begin with. */
  readonly given: boolean;
  /** A change of it changes the picture, not only that of what hangs from it. */
  readonly seen: boolean;
  /** What looks or shines is turned about y, then tilted. */
  readonly rotationOrder: 'XYZ' | 'YXZ';
  /** Axis that faces the target when it begins to aim. */
  readonly faces: 'z' | '-z';
}

function factsOf(definition: PartDefinition): PartKindFacts {
  const { role } = definition;
  const looks = role === 'light' || role === 'camera';
  const given = looks || role === 'backdrop';
  return {
    ...definition,
    solid: role === 'solid',
    light: role === 'light',
    takes: role === 'camera',
    carries: role === 'carrier',
    given,
    seen: role !== 'carrier',
    rotationOrder: looks ? 'YXZ' : 'XYZ',
    faces: looks ? '-z' : 'z',
  };
}

const FACTS = Object.fromEntries(PART_KINDS.map((kind) => [kind, factsOf(DEFINITIONS[kind])])) as Readonly<
  Record<PartKind, PartKindFacts>
>;

/** What there is to know of a kind of part. */
export function partDefinition(kind: PartKind): PartKindFacts {
  return FACTS[kind];
}

const tables = new Map<PartKind, readonly ChannelSpec[]>(
  PART_KINDS.map((kind) => [
    kind,
    [...PLACE_CHANNELS, ...VISIBILITY_CHANNELS, ...partDefinition(kind).channels],
  ]),
);

/** Channels of a part of a kind, place first. */
export function partChannels(kind: PartKind): readonly ChannelSpec[] {
  return tables.get(kind) ?? [];
}
