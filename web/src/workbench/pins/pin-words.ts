import type { PinKind, Shot } from '../../../../core/document';
import { pinsOf, roleOf, solutionOf, drivingPath, type PinnedRole } from '../../../../core/edit';
import { foundOf, pinnedPlaces } from '../../../../core/formula';
import { CONDITIONS } from '../../../../core/mechanism';

export const KIND_WORDS: Readonly<Record<PinKind, readonly [name: string, help: string]>> = {
  pin: ['Pin', 'A point on a point: both turn about it'],
  slot: ['Slot', 'A point on a line: it runs along it and turns'],
  slide: ['Slide', 'A point on a line: it runs along it and does not turn against it'],
};

export const ROLE_WORDS: Readonly<Record<PinnedRole, readonly [name: string, help: string]>> = {
  stands: ['Stands', 'Pins do not move it: its own values, keys and links do'],
  drives: [
    'Drives',
    'Its pins place it; its turn, or its way along a slide, is its own and drives the others',
  ],
  follows: ['Follows', 'Its pins place and turn it'],
};

const PATH_WORDS = {
  'rotation.z': 'rotation z',
  'location.x': 'location x',
  'location.y': 'location y',
} as const;

const names = (shot: Shot, ids: readonly string[]): string => {
  const list = ids.map((id) => shot.parts[id]?.name ?? id);
  return list.length < 2 ? list.join('') : `${list.slice(0, -1).join(', ')} and ${list.at(-1)!}`;
};

/** How the pins of a part determine it, and whether anything is wrong with that. */
export function stateOfPinned(shot: Shot, part: string): { readonly words: string; readonly fine: boolean } {
  const role = roleOf(shot, part);
  const place = pinnedPlaces(shot).get(part);
  if (role === 'stands')
    return {
      words: pinsOf(shot, part).length > 0 ? 'Pins hold others to it; its own values move it.' : '',
      fine: true,
    };
  if (!place) return { words: 'No pin holds it.', fine: false };
  if (!place.ok) return { words: place.trouble, fine: false };
  const group = solutionOf(shot, part).find(({ parts }) => parts.includes(part));
  const others = (group?.parts ?? []).filter((id) => id !== part);
  if (group?.sort === 'loose')
    return {
      words: `${others.length > 0 ? `With ${names(shot, others)} it` : 'It'} can still move in ${group.by === 1 ? 'one way' : `${group.by} ways`}: pin more, or let a part drive.`,
      fine: false,
    };
  if (group?.sort === 'over')
    return {
      words: `With ${names(shot, others)}: ${group.by === 1 ? 'one condition' : `${group.by} conditions`} more than ways to move. It moves only where the lengths allow it.`,
      fine: false,
    };
  if (role === 'drives')
    return { words: `Driven by its own ${PATH_WORDS[drivingPath(shot, part)]}.`, fine: true };
  if (others.length === 0) return { words: 'Found from its pins.', fine: true };
  const how = others.length === 1 ? '' : ' by nearing';
  return { words: `Found together with ${names(shot, others)}${how}.`, fine: true };
}

/** The count of a part's linkage after Gruebler and Kutzbach, in words; empty where nothing pinned moves it. */
export function mobilityWords(shot: Shot, part: string): string {
  const place = pinnedPlaces(shot).get(part);
  if (!place?.ok) return '';
  const { chain, bodies } = place.linkage;
  const moving = bodies.filter((id) => id !== null && foundOf(shot.parts[id]).some(Boolean));
  const driven = chain.found.reduce(
    (sum, found) => sum + (found.some(Boolean) ? found.filter((one) => !one).length : 0),
    0,
  );
  const held = chain.joints.reduce((sum, { kind }) => sum + CONDITIONS[kind], 0);
  const ways = 3 * moving.length - held;
  return `${moving.length} moving, ${chain.joints.length} ${chain.joints.length === 1 ? 'joint' : 'joints'}: 3 × ${moving.length} − ${held} = ${ways} ${Math.abs(ways) === 1 ? 'way' : 'ways'} to move, ${driven} driven`;
}
