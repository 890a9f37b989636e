import { channelAt, isWithin, linkOf, splitAddress, storedValue, trackOf } from '../document';
import { atan2 } from '../math';
import { size } from './drives';
import { length, plus, type Kit, type RecipeSpec } from './recipe';

type Flat = readonly [x: number, y: number];

const AXES = ['x', 'y'] as const;
const DEG = 180 / Math.PI;

/** A number of a part that has to stand still for the recipe to hold. */
function standing(kit: Kit, part: string, path: string): number {
  const address = `${part}/${path}`;
  if (linkOf(kit.shot, address) || trackOf(kit.shot, address))
    kit.refuse(
      `${kit.part(part)}.${path} is keyed or linked: bones do not change. Key a hub above, or the turn of the bones.`,
    );
  const channel = channelAt(kit.shot, address);
  const stored = channel ? storedValue(kit.shot, channel) : 0;
  return typeof stored === 'number' ? stored : 0;
}

const plusLength = (metres: number): string =>
  metres > 0 ? ` + ${length(metres)}` : ` - ${length(-metres)}`;

const both = (of: (axis: 'x' | 'y') => number): Flat => [of('x'), of('y')];

/** The part whose turn about z a role's channel is, which must lie in the plane of what it hangs from. */
function boneOf(kit: Kit, role: string): string {
  const { owner, path } = splitAddress(kit.address(role));
  if (!kit.shot.parts[owner] || path !== 'rotation.z')
    kit.refuse(`the ${role} bone is turned by a rotation.z of a part, not by ${kit.ref(kit.address(role))}.`);
  for (const axis of AXES)
    for (const turn of [`rest.${axis}`, `rotation.${axis}`])
      if (standing(kit, owner, turn) !== 0)
        kit.refuse(`${kit.part(owner)} is turned about ${axis}: bones that reach turn about z alone.`);
  return owner;
}

/** The way from the pivot of a bone to the pivot of what hangs from it, in the bone's measure. */
function boneTo(kit: Kit, bone: string, end: string): Flat {
  if (kit.shot.parts[end]?.parent !== bone)
    kit.refuse(`${kit.part(end)} has to hang from ${kit.part(bone)}, the bone that carries it.`);
  const way = both(
    (axis) =>
      standing(kit, end, `location.${axis}`) +
      standing(kit, end, `pivot.${axis}`) -
      standing(kit, bone, `pivot.${axis}`),
  );
  if (Math.hypot(...way) < 1e-9)
    kit.refuse(`${kit.part(end)} turns where ${kit.part(bone)} turns: a bone has to be longer than 0.`);
  return way;
}

function evenScale(kit: Kit, bone: string): number {
  const [x, y] = both((axis) => standing(kit, bone, `scale.${axis}`));
  if (x !== y || !(x > 0))
    kit.refuse(`${kit.part(bone)} is ${x} times as long and ${y} times as high: bones are sized evenly.`);
  return x;
}

/**
 * Two bones whose end reaches for a part. Both turn about z; a target that hangs elsewhere is taken as it is seen from what
 * the upper bone hangs from, along z.
 */
export const REACH: RecipeSpec = {
  kind: 'reach',
  label: 'Reach',
  help: 'Two bones, one hanging from the other, reach with their end for a part: arms, legs, cranes. The joint stays on its side.',
  roles: [
    { name: 'upper', label: 'Upper bone', kind: 'angle' },
    { name: 'lower', label: 'Lower bone', kind: 'angle' },
    { name: 'end', label: 'End of the lower bone', kind: 'part' },
    { name: 'target', label: 'Target', kind: 'part' },
    { name: 'share', label: 'Share by which it reaches, 0 to 1', kind: 'any', optional: true },
  ],
  settings: [
    { name: 'right', label: 'Joint on the other side', kind: 'switch', initial: false },
    { ...size('upperLength', 'Length of the upper bone', 0.6), building: true },
    { ...size('lowerLength', 'Length of the lower bone', 0.5), building: true },
  ],
  write: (kit) => {
    const [upper, lower] = [boneOf(kit, 'upper'), boneOf(kit, 'lower')];
    const [end, target] = [kit.address('end'), kit.address('target')];
    const first = boneTo(kit, upper, lower);
    const second = boneTo(kit, lower, end);
    const size = evenScale(kit, upper);
    const ends = size * evenScale(kit, lower);
    const [hangs, beside] = [kit.shot.parts[upper]!.parent, kit.shot.parts[target]!.parent];
    if (isWithin(kit.shot, target, upper) && target !== upper)
      kit.refuse(`${kit.part(target)} hangs from the arm itself: it would flee from what reaches for it.`);
    if (target === upper) kit.refuse('a bone cannot reach for itself.');
    const [aim, root] = [kit.part(target), kit.part(upper)];
    // What hangs elsewhere is seen from what the upper bone hangs from.
    const seen = (axis: 'x' | 'y'): string =>
      hangs === null ? `world${axis}(${aim})` : `seen${axis}(${aim}, ${kit.part(hangs)})`;
    const away = AXES.map((axis) => {
      if (beside !== hangs) {
        const pivot = standing(kit, upper, `pivot.${axis}`);
        return `${seen(axis)} - ${root}.location.${axis}${pivot === 0 ? '' : plusLength(-pivot)}`;
      }
      const pivots = standing(kit, target, `pivot.${axis}`) - standing(kit, upper, `pivot.${axis}`);
      const more = pivots === 0 ? '' : plusLength(pivots);
      return `${aim}.location.${axis} - ${root}.location.${axis}${more}`;
    });
    const bones = [Math.hypot(...first) * size, Math.hypot(...second) * ends] as const;
    const numbers = `${away.join(', ')}, ${bones.map(length).join(', ')}, ${kit.is('right') ? -1 : 1}`;
    const direction = ([x, y]: Flat): number => atan2(y, x) * DEG;
    const [along, then] = [direction(first), direction(second)];
    const share = kit.optional('share');
    const shared = (formula: string): string => (share ? `mix(own, ${formula}, ${kit.ref(share)})` : formula);
    return {
      links: [
        [
          kit.address('upper'),
          shared(`reachroot(${numbers})${plus(-along - standing(kit, upper, 'rest.z'))}`),
        ],
        [
          kit.address('lower'),
          shared(`reachbend(${numbers})${plus(along - then - standing(kit, lower, 'rest.z'))}`),
        ],
      ],
      facts: { 'upper bone': bones[0], 'lower bone': bones[1], 'reaches up to': bones[0] + bones[1] },
    };
  },
};
