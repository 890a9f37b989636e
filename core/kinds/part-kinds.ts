import type { ChannelSpec } from './channel-spec';
import type { PartDefinition } from './definition';
import { area } from './part/area';
import { camera } from './part/camera';
import { hub } from './part/hub';
import { point } from './part/point';
import { repeat } from './part/repeat';
import { sky } from './part/sky';
import { solid } from './part/solid';
import { spot } from './part/spot';
import { sun } from './part/sun';
import { PLACE_CHANNELS, VISIBILITY_CHANNELS } from './place-channels';

const DEFINITIONS = { solid, hub, repeat, camera, sun, sky, point, spot, area } as const satisfies Record<
  string,
  PartDefinition
>;

export type PartKind = keyof typeof DEFINITIONS;

export const PART_KINDS = Object.keys(DEFINITIONS) as [PartKind, ...PartKind[]];

/** What there is to know of a kind of part. */
export function partDefinition(kind: PartKind): PartDefinition {
  return DEFINITIONS[kind];
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
