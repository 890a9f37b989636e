import type { ChannelSpec } from './channel-spec';
import type { ShapeDefinition } from './definition';
import { ball } from './shape/ball';
import { bar } from './shape/bar';
import { box } from './shape/box';
import { capsule } from './shape/capsule';
import { cone } from './shape/cone';
import { cylinder } from './shape/cylinder';
import { disc } from './shape/disc';
import { gear } from './shape/gear';
import { lathe } from './shape/lathe';
import { lettering } from './shape/lettering';
import { mesh } from './shape/mesh';
import { outline } from './shape/outline';
import { plane } from './shape/plane';
import { rack } from './shape/rack';
import { torus } from './shape/torus';
import { tube } from './shape/tube';

const DEFINITIONS = {
  box,
  ball,
  cylinder,
  cone,
  tube,
  torus,
  plane,
  disc,
  capsule,
  lathe,
  outline,
  lettering,
  bar,
  gear,
  rack,
  mesh,
} as const satisfies Record<string, ShapeDefinition>;

export type ShapeKind = keyof typeof DEFINITIONS;

export const SHAPE_KINDS = Object.keys(DEFINITIONS) as [ShapeKind, ...ShapeKind[]];

/** What there is to know of a kind of shape. */
export function shapeDefinition(kind: ShapeKind): ShapeDefinition {
  return DEFINITIONS[kind];
}

/** Channels of a shape of a kind: its sizes. */
export function shapeChannels(kind: ShapeKind): readonly ChannelSpec[] {
  return DEFINITIONS[kind].channels;
}
