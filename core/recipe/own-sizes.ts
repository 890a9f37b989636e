import { splitAddress, subtreeOf, type Shot } from '../document';
import { MATRIX_SIZE, type Evaluator } from '../evaluate';
import { atan2 } from '../math';
import { buildMesh } from '../shape';
import { invert, multiply, transformPoint } from '../transform';
import type { Roles, Settings, SettingValue } from './recipe';

/** Digits to which a measured size is taken: rounding in the places of parts is not typed into a recipe. */
const DIGITS = 9;
/** Digits that points of a mesh carry, which are single precision numbers (IEEE 754: 24 bits). */
const MESH_DIGITS = 7;
const tidy = (value: number, digits = DIGITS): number => Number(value.toPrecision(digits)) + 0;

interface Measured {
  readonly shot: Shot;
  readonly evaluator: Evaluator;
  /** Addresses of a role's channels, or ids of its parts. */
  role(name: string): readonly string[];
}

const ownerOf = (address: string): string => (address.includes('/') ? splitAddress(address).owner : address);

/** Farthest that what is seen of a part, with all that hangs below it, reaches from the axis it is turned about. */
function reachOf({ shot, evaluator }: Measured, address: string | undefined): number | null {
  const axis = 'xyz'.indexOf(address?.at(-1) ?? '');
  if (address === undefined || axis < 0) return null;
  const root = ownerOf(address);
  const world = evaluator.worldOf(root);
  const inverse = world && invert(world);
  if (!inverse) return null;
  const pivot = ['x', 'y', 'z'].map((name) => evaluator.number(`${root}/pivot.${name}`));
  const scale = ['x', 'y', 'z'].map((name) => evaluator.number(`${root}/scale.${name}`));
  let most = 0;
  for (const id of subtreeOf(shot, root)) {
    const { shape } = shot.parts[id]!;
    const form = shape === null ? undefined : shot.shapes[shape];
    if (!form) continue;
    const at = evaluator.plan.nodeOf.get(id)! * MATRIX_SIZE;
    const matrix = multiply(inverse, evaluator.world.slice(at, at + MATRIX_SIZE));
    const { positions } = buildMesh(form, (path) => evaluator.number(`${shape}/${path}`));
    for (let i = 0; i < positions.length; i += 3) {
      const point = transformPoint(matrix, positions[i]!, positions[i + 1]!, positions[i + 2]!);
      const [a, b] = [(axis + 1) % 3, (axis + 2) % 3].map((k) => (point[k]! - pivot[k]!) * scale[k]!) as [
        number,
        number,
      ];
      most = Math.max(most, a * a + b * b);
    }
  }
  return most > 0 ? tidy(Math.sqrt(most), MESH_DIGITS) : null;
}

/** A size of the gear that a channel turns, or `null` for what is no gear. */
function gearSize({ shot, evaluator }: Measured, address: string | undefined, path: string): number | null {
  const shape = address === undefined ? undefined : shot.parts[ownerOf(address)]?.shape;
  if (!shape || shot.shapes[shape]?.kind !== 'gear') return null;
  return evaluator.number(`${shape}/${path}`);
}

/** Direction from one part to another beside it, degrees, for gears that turn about z. */
function directionOf({ shot, evaluator }: Measured, one?: string, two?: string): number | null {
  if (!one?.endsWith('rotation.z') || !two?.endsWith('rotation.z')) return null;
  const [a, b] = [ownerOf(one), ownerOf(two)];
  if (shot.parts[a]!.parent !== shot.parts[b]!.parent) return null;
  const at = (id: string, axis: string): number => evaluator.number(`${id}/location.${axis}`);
  const [x, y] = [at(b, 'x') - at(a, 'x'), at(b, 'y') - at(a, 'y')];
  return x === 0 && y === 0 ? null : tidy((atan2(y, x) * 180) / Math.PI);
}

type Sizes = Readonly<Record<string, SettingValue | null>>;

const pair = (m: Measured): Sizes => {
  const [one] = m.role('driver');
  const [two] = m.role('driven');
  return {
    teeth1: gearSize(m, one, 'teeth'),
    teeth2: gearSize(m, two, 'teeth'),
    module: gearSize(m, one, 'module') ?? gearSize(m, two, 'module'),
    direction: directionOf(m, one, two),
  };
};
const wheel = (m: Measured): Sizes => ({ radius: reachOf(m, m.role('wheel')[0]) });
const twice = (value: number | null): number | null => (value === null ? null : value * 2);

const BY_KIND: ReadonlyMap<string, (m: Measured) => Sizes> = new Map([
  ['roll', wheel],
  ['roll-path', wheel],
  ['gear-outer', pair],
  ['gear-inner', pair],
  ['gear-bevel', pair],
  [
    'train',
    (m: Measured): Sizes => {
      const teeth = [...m.role('driver'), ...m.role('driven')].map((address) =>
        gearSize(m, address, 'teeth'),
      );
      return { teeth: teeth.length > 1 && teeth.every((count) => count !== null) ? teeth : null };
    },
  ],
  [
    'planetary',
    (m: Measured): Sizes => ({
      sunTeeth: gearSize(m, m.role('sun')[0], 'teeth'),
      planetTeeth: gearSize(m, m.role('planets')[0], 'teeth'),
    }),
  ],
  [
    'rack',
    (m: Measured): Sizes => ({
      teeth: gearSize(m, m.role('driver')[0], 'teeth'),
      module: gearSize(m, m.role('driver')[0], 'module'),
    }),
  ],
  [
    'belt',
    (m: Measured): Sizes => ({
      diameter1: twice(reachOf(m, m.role('driver')[0])),
      diameter2: twice(reachOf(m, m.role('driven')[0])),
    }),
  ],
]);

/**
 * Sizes that the parts of a recipe have by themselves: radius of a wheel, teeth and module of gears, the direction from
 * one to the other. What cannot be told is left out.
 */
export function ownSizes(shot: Shot, evaluator: Evaluator, kind: string, roles: Roles): Settings {
  const measure = BY_KIND.get(kind);
  if (!measure) return {};
  const sizes = measure({
    shot,
    evaluator,
    role: (name) =>
      [roles[name] ?? []].flat().filter((address) => shot.parts[ownerOf(address)] !== undefined),
  });
  return Object.fromEntries(
    Object.entries(sizes).filter((entry): entry is [string, SettingValue] => entry[1] !== null),
  );
}
