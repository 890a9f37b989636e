import type { ChannelSpec } from './channel-spec';
import type { ShapeDefinition } from './definition';
import { ball } from './shape/ball';
import { bar } from './shape/bar';
import { belt } from './shape/belt';
import { bevelGear } from './shape/bevel-gear';
import { box } from './shape/box';
import { bracket } from './shape/bracket';
import { cam } from './shape/cam';
import { capsule } from './shape/capsule';
import { chain } from './shape/chain';
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
import { ringGear } from './shape/ring-gear';
import { shaft } from './shape/shaft';
import { spring } from './shape/spring';
import { sprocket } from './shape/sprocket';
import { torus } from './shape/torus';
import { tube } from './shape/tube';
import { worm } from './shape/worm';

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
  'ring-gear': ringGear,
  'bevel-gear': bevelGear,
  rack,
  worm,
  cam,
  sprocket,
  chain,
  belt,
  spring,
  shaft,
  bracket,
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
