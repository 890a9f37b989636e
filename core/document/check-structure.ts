import {
  channelsOf,
  ownerOf,
  specsByPath,
  splitAddress,
  tableOf,
  type OwnerTable,
  OWNER_TABLES,
} from './query';
import { RANGE_LIMIT, type Owner, type Shot, type Track, type Value } from './schema';
import { partDefinition, shapeDefinition, type ChannelSpec, type ShapeOption } from './channel-table';

/** Something wrong with a document: where, what stands there, what is allowed. */
export interface DocumentProblem {
  readonly code: string;
  /** Path in the document, segments joined by `/`. */
  readonly path: string;
  readonly message: string;
}

/** Problems told of a document at most: whoever mends these looks again. */
export const PROBLEMS_TOLD = 20;

/** Entries of a document that a change has touched, as `table/id`. */
export type Touched = ReadonlySet<string>;

/**
 * Checks what the schema alone cannot say: limits of channels, references between parts, unique names, loops of parents.
 * @param touched when given, the rest is known to be sound but for what these can have made unsound in it
 */
export function checkStructure(shot: Shot, touched?: Touched): DocumentProblem[] {
  const problems: DocumentProblem[] = [];
  const add = (code: string, path: string, message: string): void => {
    if (problems.length < PROBLEMS_TOLD) problems.push({ code, path, message });
  };
  const { first, last, camera } = shot.setup;
  if (last < first)
    add(
      'range.reversed',
      'setup/last',
      `${last} is before the first frame, ${first}: the last frame must not be smaller.`,
    );
  else if (last - first + 1 > RANGE_LIMIT)
    add('range.long', 'setup/last', `${last - first + 1} frames are too many: at most ${RANGE_LIMIT}.`);
  if (camera !== null && shot.parts[camera]?.kind !== 'camera')
    add('camera.missing', 'setup/camera', `${camera} is no camera of this shot.`);

  const names = new Map<string, string>();
  const loops = partsInParentLoops(shot);
  for (const [id, part] of Object.entries(shot.parts)) {
    const path = `parts/${id}`;
    const taken = names.get(part.name);
    if (taken !== undefined)
      add(
        'name.taken',
        `${path}/name`,
        `"${part.name}" is already the name of another part: names are unique in a shot.`,
      );
    names.set(part.name, id);
    if (part.parent !== null && !shot.parts[part.parent])
      add('parent.missing', `${path}/parent`, `${part.parent} is not in this shot.`);
    if (loops.has(id)) add('parent.loop', `${path}/parent`, `"${part.name}" cannot hang below itself.`);
    if (partDefinition(part.kind).solid) {
      if (part.shape === null || !shot.shapes[part.shape])
        add(
          'shape.missing',
          `${path}/shape`,
          `"${part.name}" needs a shape of this shot, ${part.shape ?? 'none'} is given.`,
        );
      if (part.look === null || !shot.looks[part.look])
        add(
          'look.missing',
          `${path}/look`,
          `"${part.name}" needs a look of this shot, ${part.look ?? 'none'} is given.`,
        );
    } else if (part.shape !== null || part.look !== null)
      add('shape.unwanted', path, `A ${part.kind} has no shape and no look.`);
    for (const [option, other] of [
      ['aim/target', part.aim?.target],
      ['follow/path', part.follow?.path],
      ['repeat/step', part.repeat?.step],
      ['glowOf', part.glowOf],
    ] as const)
      if (other && !shot.parts[other])
        add('part.missing', `${path}/${option}`, `${other} is not in this shot.`);
    if (part.aim && part.aim.axis.at(-1) === part.aim.up.at(-1))
      add(
        'aim.axes',
        `${path}/aim/up`,
        `"${part.aim.up}" cannot point up: it lies along the axis that aims.`,
      );
    if (part.tray !== undefined && !shot.trays[part.tray])
      add('tray.missing', `${path}/tray`, `${part.tray} is no tray of this shot.`);
    if (part.repeat && part.kind !== 'repeat')
      add('repeat.unwanted', `${path}/repeat`, `A ${part.kind} has no copies: only a repeat has.`);
    if (part.glowOf !== undefined && !partDefinition(part.kind).light)
      add('glow.unwanted', `${path}/glowOf`, `A ${part.kind} does not shine: only a light does.`);
    else if (part.glowOf !== undefined && shot.parts[part.glowOf]?.look === null)
      add('glow.unwanted', `${path}/glowOf`, `"${shot.parts[part.glowOf]!.name}" has no look that glows.`);
    if (part.projection && part.kind !== 'camera')
      add(
        'projection.unwanted',
        `${path}/projection`,
        `A ${part.kind} takes no picture: only a camera does.`,
      );
    if (part.backdrop && part.kind !== 'backdrop')
      add('backdrop.unwanted', `${path}/backdrop`, `A ${part.kind} is no backdrop.`);
    if ((part.kind === 'callout') !== (part.callout !== undefined))
      add(
        'callout.unwanted',
        `${path}/callout`,
        part.callout ? `A ${part.kind} says nothing: only a callout does.` : 'A callout needs its words.',
      );
    if ((part.kind === 'shot') !== (part.inset !== undefined))
      add(
        'inset.unwanted',
        `${path}/inset`,
        part.inset ? `A ${part.kind} shows no other shot.` : 'A shot needs to say which one it shows.',
      );
    if (part.inset && part.inset.until !== null && part.inset.until < part.inset.start)
      add(
        'inset.reversed',
        `${path}/inset/until`,
        `${part.inset.until} is before its start, ${part.inset.start}.`,
      );
  }
  const dialNames = new Set<string>();
  for (const [id, dial] of Object.entries(shot.dials)) {
    if (dialNames.has(dial.name))
      add('name.taken', `dials/${id}/name`, `"${dial.name}" is already the name of another dial.`);
    dialNames.add(dial.name);
    if (dial.max < dial.min)
      add('dial.limits', `dials/${id}/max`, `${dial.max} is below the smallest value, ${dial.min}.`);
  }
  checkShared(shot, add, touched);
  for (const table of OWNER_TABLES)
    for (const id of touched ? idsOf(touched, table, shot) : Object.keys(shot[table])) {
      if (tableOf(id) !== table)
        add('id.table', `${table}/${id}`, `The id ${id} does not belong among the ${table}.`);
      else checkOwner(shot, table, id, add);
    }
  return problems;
}

function idsOf(touched: Touched, table: OwnerTable, shot: Shot): string[] {
  const start = `${table}/`;
  return [...touched]
    .filter((entry) => entry.startsWith(start))
    .map((entry) => entry.slice(start.length))
    .filter((id) => Object.hasOwn(shot[table], id));
}

const OPTIONS = ['profile', 'outline', 'text', 'pulleys', 'mesh'] as const satisfies readonly ShapeOption[];

/** Sounds, clips and their placements, recipes: names, references and limits. */
function checkShared(shot: Shot, add: Add, touched?: Touched): void {
  for (const [table, prefix] of [
    ['sounds', 'snd'],
    ['pins', 'pin'],
    ['clips', 'clp'],
    ['placements', 'plc'],
    ['recipes', 'rcp'],
    ['trays', 'try'],
    ['markers', 'mrk'],
    ['contacts', 'con'],
  ] as const)
    for (const id of Object.keys(shot[table]))
      if (!id.startsWith(`${prefix}_`))
        add('id.table', `${table}/${id}`, `The id ${id} does not belong among the ${table}.`);
  for (const table of ['sounds', 'clips', 'trays'] as const) {
    const names = new Set<string>();
    for (const [id, { name }] of Object.entries<{ readonly name: string }>(shot[table])) {
      if (names.has(name))
        add('name.taken', `${table}/${id}/name`, `"${name}" is already the name of another of the ${table}.`);
      names.add(name);
    }
  }
  for (const [id, { a, b }] of Object.entries(shot.pins)) {
    for (const [end, part] of [
      ['a', a],
      ['b', b],
    ] as const)
      if (part !== null && !shot.parts[part])
        add('part.missing', `pins/${id}/${end}`, `${part} is not in this shot.`);
    if (a === b) add('pin.itself', `pins/${id}/b`, 'A part cannot be pinned to itself.');
  }
  for (const [id, { a, b }] of Object.entries(shot.contacts))
    for (const [end, part] of Object.entries({ a, b }))
      if (!shot.parts[part]) add('part.missing', `contacts/${id}/${end}`, `${part} is not in this shot.`);
  for (const [id, shape] of Object.entries(shot.shapes)) {
    const needed = shapeDefinition(shape.kind).needs;
    for (const option of OPTIONS) {
      const wanted = needed.includes(option);
      if (wanted && shape[option] === undefined)
        add('shape.incomplete', `shapes/${id}/${option}`, `A ${shape.kind} needs its ${option}.`);
      if (!wanted && shape[option] !== undefined)
        add('shape.option', `shapes/${id}/${option}`, `A ${shape.kind} has no ${option}.`);
    }
  }
  for (const [id, clip] of Object.entries(shot.clips)) {
    if (clip.last < clip.first)
      add(
        'clip.reversed',
        `clips/${id}/last`,
        `${clip.last} is before the clip's first frame, ${clip.first}.`,
      );
    for (const [address, track] of Object.entries(clip.tracks)) {
      const { owner, path } = splitAddress(address);
      if (touched && !touched.has(`clips/${id}`) && !touched.has(`${tableOf(owner)}/${owner}`)) continue;
      const spec = channelsOf(shot, owner).find((entry) => entry.path === path);
      // A clip may outlive a part that it moved: what it has for that part is not shown.
      if (spec) checkTrack(spec, track, `clips/${id}/tracks/${address}`, add);
    }
  }
  for (const [id, placement] of Object.entries(shot.placements)) {
    const { clip, start, until } = placement;
    const source = shot.clips[clip];
    if (!source) add('clip.missing', `placements/${id}/clip`, `${clip} is no clip of this shot.`);
    if (until !== null && until < start)
      add('placement.reversed', `placements/${id}/until`, `${until} is before its start, ${start}.`);
    const { from = source?.first ?? 0, to = source?.last ?? from } = placement;
    if (to < from)
      add('placement.trimmed', `placements/${id}/to`, `${to} is before its first frame, ${from}.`);
  }
}

/** Parts that hang below themselves: each is walked up from once, however long the chains are. */
function partsInParentLoops(shot: Shot): ReadonlySet<string> {
  const loops = new Set<string>();
  const settled = new Set<string>();
  for (const start of Object.keys(shot.parts)) {
    const chain: string[] = [];
    const places = new Map<string, number>();
    let current: string | null = start;
    while (current !== null && !settled.has(current) && !places.has(current)) {
      places.set(current, chain.length);
      chain.push(current);
      current = shot.parts[current]?.parent ?? null;
    }
    const back = current === null ? undefined : places.get(current);
    if (back !== undefined) for (const id of chain.slice(back)) loops.add(id);
    for (const id of chain) settled.add(id);
  }
  return loops;
}

type Add = (code: string, path: string, message: string) => void;

function checkOwner(shot: Shot, table: OwnerTable, id: string, add: Add): void {
  const owner: Owner | null = ownerOf(shot, id);
  if (!owner) return;
  const specs = specsByPath(channelsOf(shot, id));
  const base = `${table}/${id}`;
  for (const [path, value] of Object.entries(owner.values)) {
    const where = `${base}/values/${path}`;
    const spec = specs.get(path);
    if (!spec) add('channel.unknown', where, `There is no channel "${path}" here.`);
    else {
      const reason = refuseValue(spec, value);
      if (reason) add('value.range', where, reason);
    }
  }
  for (const [path, track] of Object.entries(owner.tracks)) {
    const where = `${base}/tracks/${path}`;
    const spec = specs.get(path);
    if (!spec?.animatable) {
      add(
        'channel.unknown',
        where,
        spec ? `"${path}" cannot be keyed.` : `There is no channel "${path}" here.`,
      );
      continue;
    }
    checkTrack(spec, track, where, add);
  }
  for (const path of Object.keys(owner.links)) {
    const spec = specs.get(path);
    if (!spec?.animatable)
      add(
        'channel.unknown',
        `${base}/links/${path}`,
        spec ? `"${path}" cannot be linked.` : `There is no channel "${path}" here.`,
      );
  }
}

/** Checks the keys of a track against the channel they are for. */
function checkTrack(spec: ChannelSpec, track: Track, where: string, add: Add): void {
  let count = 0;
  for (const keyId in track.keys) {
    const key = track.keys[keyId]!;
    count++;
    const reason = refuseValue(spec, key.value);
    if (reason) add('value.range', `${where}/keys/${keyId}/value`, reason);
    for (const handle of [key.left, key.right])
      if (handle && handle.rise !== 0 && (spec.kind === 'colour') === (typeof handle.rise === 'number'))
        add(
          'key.handle',
          `${where}/keys/${keyId}`,
          spec.kind === 'colour'
            ? 'A handle of a colour rises by three numbers, or 0.'
            : 'A handle rises by one number.',
        );
    if (spec.kind === 'switch' && key.manner !== 'hold')
      add('key.manner', `${where}/keys/${keyId}/manner`, 'A switch always holds.');
    if (key.piece && !key.manner.includes('-'))
      add(
        'key.piece',
        `${where}/keys/${keyId}/piece`,
        'Only a stretch that moves by a named easing shows a piece of one.',
      );
    if (key.piece && (typeof key.piece.gain === 'number') !== (typeof key.value === 'number'))
      add(
        'key.piece',
        `${where}/keys/${keyId}/piece/gain`,
        'The gain must be of the kind that the value is.',
      );
  }
  if (count === 0) add('track.empty', where, 'A track needs at least one key.');
  if (track.blend && spec.kind !== 'colour')
    add(
      'track.blend',
      `${where}/blend`,
      `Only colours blend in ${track.blend === 'oklab' ? 'OKLab' : 'linear light'}.`,
    );
}

/** Why a value may not stand in a channel, or `null` when it may. */
export function refuseValue(spec: ChannelSpec, value: Value): string | null {
  if (spec.kind === 'colour')
    return typeof value === 'number'
      ? `${value} is no colour: ${spec.label} takes red, green and blue.`
      : null;
  if (typeof value !== 'number') return `${spec.label} takes one number, not a colour.`;
  if (!Number.isFinite(value)) return `${spec.label} must be a finite number.`;
  if (spec.kind === 'switch' && value !== 0 && value !== 1)
    return `${spec.label} is a switch: ${value} must be 0 or 1.`;
  if (value < spec.min || value > spec.max)
    return `${spec.label} ${value} is out of range: ${spec.min} to ${spec.max} is allowed.`;
  if (spec.whole && !Number.isInteger(value)) return `${spec.label} ${value} must be a whole number.`;
  return null;
}
