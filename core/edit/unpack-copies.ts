import {
  childrenOf,
  freeName,
  LOOK_CHANNELS,
  NAME_LIMIT,
  partDefinition,
  subtreeOf,
  type Key,
  type Part,
  type Shot,
  OWNER_TABLES,
} from '../document';
import { compile, COPY_LOOK_SIZE, Evaluator, MATRIX_SIZE } from '../evaluate';
import { invert, multiply, type Affine } from '../transform';
import { framesToBake, frameAbove, keysOver, liesInCopies, writePlaces } from './bake-place';
import { apply, Draft, valueAt, type Change } from './change';
import { duplicateParts, linkedCopy, type Copied } from './copies';
import { makeId } from './make-id';
import { EditRefused } from './values';

/** Parts that unpacking may make. */
const PARTS_LIMIT = 2000;
const NEUTRAL = [1, 0, 1, 1, 1];
const GLOW_LIMIT = LOOK_CHANNELS.find((spec) => spec.path === 'glow')!.max;
const ORIGIN = { pivot: [0, 0, 0], rest: [0, 0, 0] } as const;

const bareHub = (name: string, parent: string, order: number): Part => ({
  kind: 'hub',
  name,
  parent,
  order,
  rotationOrder: 'XYZ',
  shape: null,
  look: null,
  values: {},
  tracks: {},
  links: {},
});

/** Where each copy of a repeat stands below it, how it looks, and whether it is there, frame for frame. */
interface CopyRows {
  readonly places: Affine[][];
  readonly looks: number[][][];
  readonly there: boolean[][];
}

function rowsOf(shot: Shot, id: string, frames: readonly number[], random?: () => number): CopyRows {
  // A bare hub below the repeat stands where each copy has its origin.
  const probe = makeId('prt', random);
  const hub = bareHub('Copy', id, 0);
  const evaluator = new Evaluator(compile({ ...shot, parts: { ...shot.parts, [probe]: hub } }));
  const rows: CopyRows = { places: [], looks: [], there: [] };
  frames.forEach((frame, f) => {
    evaluator.evaluate(frame);
    const above = invert(frameAbove(evaluator, id));
    if (!above) throw new EditRefused(`"${shot.parts[id]!.name}" has size 0 at frame ${frame}.`);
    const { count, matrices, looks } = evaluator.copiesOf(probe)!;
    for (let k = 0; k < count; k++) {
      const place = multiply(above, matrices.slice(k * MATRIX_SIZE, (k + 1) * MATRIX_SIZE));
      const look = [...looks.subarray(k * COPY_LOOK_SIZE, (k + 1) * COPY_LOOK_SIZE)];
      // A copy that comes later has stood where it is first seen.
      rows.places[k] ??= frames.slice(0, f).map(() => place);
      rows.looks[k] ??= frames.slice(0, f).map(() => look);
      rows.there[k] ??= frames.slice(0, f).map(() => false);
      rows.places[k]!.push(place);
      rows.looks[k]!.push(look);
      rows.there[k]!.push(true);
    }
    for (let k = count; k < rows.places.length; k++) {
      rows.places[k]!.push(rows.places[k]!.at(-1)!);
      rows.looks[k]!.push(rows.looks[k]!.at(-1)!);
      rows.there[k]!.push(false);
    }
  });
  return rows;
}

/**
 * Turns the copies of a repeat into parts of their own: each stands below a hub whose keys carry it as the repeat did, the
 * first copy being the parts themselves. What a copy had of look is baked into looks of its own; copies that differ in
 * nothing but place go on sharing shape and look.
 * @param every frames from key to key of what moves
 * @returns the hubs, one for each copy
 * @throws EditRefused for a part that is no repeat, lies in copies itself, has nothing below it or would become too many parts
 */
export function unpackCopies(
  shot: Shot,
  id: string,
  from: number,
  to: number,
  every = 1,
  random?: () => number,
): Copied {
  const repeat = shot.parts[id];
  if (repeat?.kind !== 'repeat') throw new EditRefused('Choose a repeat: its copies become parts.');
  if (liesInCopies(shot, id))
    throw new EditRefused(`"${repeat.name}" is shown in copies itself: unpack what repeats it first.`);
  const step = repeat.repeat?.step ?? null;
  const roots = Object.keys(shot.parts)
    .filter((child) => shot.parts[child]!.parent === id && child !== step)
    .sort((a, b) => shot.parts[a]!.order - shot.parts[b]!.order);
  if (roots.length === 0) throw new EditRefused(`Nothing hangs below "${repeat.name}".`);
  refuseReaders(shot, id);
  const frames = framesToBake(from, to, every);
  const rows = rowsOf(shot, id, frames, random);
  const count = rows.places.length;
  const below = roots.reduce((sum, root) => sum + subtreeOf(shot, root).length, 0);
  if (count * (below + 1) > PARTS_LIMIT)
    throw new EditRefused(
      `${count} copies of ${below} parts would be ${count * (below + 1)} parts: at most ${PARTS_LIMIT} are made.`,
    );
  const draft = new Draft(shot);
  const { repeat: _options, ...kept } = repeat;
  draft.set(['parts', id], {
    ...kept,
    kind: 'hub',
    values: withoutCopies(repeat.values),
    tracks: withoutCopies(repeat.tracks),
    links: withoutCopies(repeat.links),
  });
  const plain = rows.looks.map((looks) =>
    looks.every((look) => look.every((share, i) => share === NEUTRAL[i])),
  );
  // All are copied from the parts as they were, before anything of the first copy is written.
  const children = rows.places.map((_, k): readonly string[] => {
    if (k === 0) return roots;
    const copied = (plain[k] ? linkedCopy : duplicateParts)(draft.shot, roots, random);
    take(draft, copied.change);
    return copied.ids;
  });
  const hubs = children.map((own, k) => {
    const hub = makeId('prt', random);
    const name = freeName(draft.shot, `${repeat.name} ${k + 1}`.slice(-NAME_LIMIT));
    draft.set(['parts', hub], bareHub(name, id, k + 1));
    writePlaces(draft, hub, frames, rows.places[k]!, ORIGIN, random);
    writeShown(draft, hub, frames, rows.there[k]!, random);
    for (const child of own) draft.set(['parts', child, 'parent'], hub);
    for (const child of own) nameOuter(draft, child, k);
    if (!plain[k]) bakeLooks(draft, own, frames, rows.looks[k]!, k === 0, random);
    return hub;
  });
  return { change: draft.change(`Turn the copies of ${repeat.name} into parts`), ids: hubs };
}

/** What repeats inside a copy read of the repeat that is unpacked, which copy of it they are in, becomes a number. */
function nameOuter(draft: Draft, id: string, copy: number): void {
  const part = draft.shot.parts[id]!;
  if (part.kind !== 'repeat') {
    for (const child of childrenOf(draft.shot, id)) nameOuter(draft, child, copy);
    return;
  }
  for (const [path, link] of Object.entries(part.links)) {
    const formula = link.formula
      .split(/("[^"]*")/)
      .map((piece) =>
        piece.startsWith('"')
          ? piece
          : piece.replace(/(?<![\p{L}\p{N}_.])outer(?![\p{L}\p{N}_.])/gu, String(copy)),
      )
      .join('');
    if (formula !== link.formula) draft.set(['parts', id, 'links', path], { ...link, formula });
  }
}

function take(draft: Draft, change: Change): void {
  const after = apply(draft.shot, change);
  for (const { path } of change.patches) draft.set(path, valueAt(after, path));
}

const OF_REPEATS = new Set(
  partDefinition('repeat')
    .channels.map((spec) => spec.path)
    .filter((path) => !partDefinition('hub').channels.some((spec) => spec.path === path)),
);

function withoutCopies<T>(record: Readonly<Record<string, T>>): Record<string, T> {
  return Object.fromEntries(Object.entries(record).filter(([path]) => !OF_REPEATS.has(path)));
}

/** What reads the repeat's own numbers would have nothing to read. */
function refuseReaders(shot: Shot, id: string): void {
  for (const table of OWNER_TABLES)
    for (const [owner, { links }] of Object.entries<Pick<Part, 'links'>>(shot[table]))
      for (const [path, { formula, refs }] of Object.entries(links)) {
        if (owner === id) continue;
        const names = Object.entries(refs).flatMap(([name, ref]) => (ref === id ? [name] : []));
        const read = [...OF_REPEATS].find((own) => names.some((name) => formula.includes(`${name}.${own}`)));
        if (read)
          throw new EditRefused(
            `A formula (${path}) reads "${read}" of "${shot.parts[id]!.name}", which it has only while it repeats: take that out first.`,
          );
      }
}

function writeShown(
  draft: Draft,
  hub: string,
  frames: readonly number[],
  there: readonly boolean[],
  random?: () => number,
): void {
  if (there.every(Boolean)) return;
  const keys: Record<string, Key> = {};
  there.forEach((shown, i) => {
    if (i === 0 || shown !== there[i - 1])
      keys[makeId('key', random)] = { frame: frames[i]!, value: shown ? 1 : 0, manner: 'hold' };
  });
  draft.set(['parts', hub, 'tracks', 'visible'], { before: 'hold', after: 'hold', keys });
}

/**
 * Bakes what a copy takes from opacity, glow and colour: into its solids, and into looks that only they use.
 * @param shares opacity, glow, red, green and blue at each frame
 */
function bakeLooks(
  draft: Draft,
  roots: readonly string[],
  frames: readonly number[],
  shares: readonly (readonly number[])[],
  first: boolean,
  random?: () => number,
): void {
  const evaluator = new Evaluator(compile(draft.shot));
  const over = <T>(read: (share: readonly number[]) => T): T[] =>
    frames.map((frame, i) => {
      evaluator.evaluate(frame);
      return read(shares[i]!);
    });
  const manner: Key['manner'] = frames.length > 1 && frames[1]! - frames[0]! <= 1 ? 'linear' : 'curve';
  const put = (owner: readonly string[], path: string, values: readonly number[]): void => {
    const written = keysOver(frames, values, manner, random);
    const still = typeof written === 'number';
    draft.set([...owner, 'links', path], undefined);
    draft.set([...owner, 'tracks', path], still ? undefined : written);
    if (still) draft.set([...owner, 'values', path], written);
  };
  const ownLooks = new Map<string, string>();
  for (const id of roots.flatMap((root) => subtreeOf(draft.shot, root))) {
    const { look, kind } = draft.shot.parts[id]!;
    if (partDefinition(kind).channels.some(({ path }) => path === 'opacity'))
      put(
        ['parts', id],
        'opacity',
        over(([opacity]) => evaluator.number(`${id}/opacity`) * opacity!),
      );
    if (look === null) continue;
    const known = ownLooks.get(look);
    if (known) {
      draft.set(['parts', id, 'look'], known);
      continue;
    }
    // The first copy's look may be used elsewhere, too; those of later copies are their own already.
    const own = first ? makeId('lok', random) : look;
    ownLooks.set(look, own);
    if (first) draft.set(['looks', own], draft.shot.looks[look]);
    draft.set(['parts', id, 'look'], own);
    put(
      ['looks', own],
      'glow',
      over(([, glow]) => Math.min(GLOW_LIMIT, evaluator.number(`${look}/glow`) + glow!)),
    );
    const colours = over(([, , ...tint]) =>
      evaluator.colour(`${look}/colour`).map((part, c) => part * tint[c]!),
    );
    const still = colours.every((colour) => colour.every((part, c) => part === colours[0]![c]));
    const keys: Record<string, Key> = {};
    frames.forEach((frame, i) => {
      keys[makeId('key', random)] = { frame, value: colours[i] as [number, number, number], manner };
    });
    draft.set(['looks', own, 'links', 'colour'], undefined);
    draft.set(
      ['looks', own, 'tracks', 'colour'],
      still ? undefined : { before: 'hold', after: 'hold', keys },
    );
    if (still) draft.set(['looks', own, 'values', 'colour'], colours[0]);
  }
}
