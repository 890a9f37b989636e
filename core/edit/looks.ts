import {
  channelsOf,
  shotSchema,
  type Backdrop,
  type Look,
  type Picture,
  type PictureMap,
  type Shot,
} from '../document';
import { Draft, type Change } from './change';
import { demand, demandPart } from './demand';
import { EditRefused } from './values';

const { looks: lookTable, parts: partTable } = shotSchema.shape;
const lookShape = lookTable.valueType.shape;
const partShape = partTable.valueType.shape;

function demandLook(shot: Shot, id: string): Look {
  const look = shot.looks[id];
  if (!look) throw new EditRefused('This look is no longer in the shot.');
  return look;
}

/** What a look has beside its values. */
export type LookOptions = Pick<Look, 'pattern' | 'twoSided' | 'shadow'>;

/** These go over a surface once, where all others do so many times. */
const ONCE_OVER: ReadonlySet<string> = new Set(['gradient']);

/** Changes the pattern of a look, from which side it is seen, and what it has to do with shadows; `undefined` takes it back. */
export function changeLook(
  shot: Shot,
  id: string,
  options: { readonly [K in keyof LookOptions]?: LookOptions[K] | undefined },
): Change {
  const look = demandLook(shot, id);
  const draft = new Draft(shot);
  for (const [key, value] of Object.entries(options)) {
    demand(lookShape[key as keyof LookOptions], value, `A look cannot have this ${key}.`);
    draft.set(['looks', id, key], value);
  }
  const { pattern } = options;
  const once = pattern?.lies === 'surface' && ONCE_OVER.has(pattern.kind);
  if (once && look.values['pattern.times'] === undefined)
    draft.set(['looks', id, 'values', 'pattern.times'], 1);
  return draft.change(`Change the look ${look.name}`);
}

/** Lets a picture say the roughness, metal, slopes, glow or opacity of a look; `null` takes it off. */
export function setPictureMap(shot: Shot, id: string, map: PictureMap, picture: Picture | null): Change {
  const look = demandLook(shot, id);
  const { [map]: _old, ...rest } = look.maps ?? {};
  const maps = picture ? { ...rest, [map]: picture } : rest;
  const draft = new Draft(shot);
  draft.set(['looks', id, 'maps'], Object.keys(maps).length > 0 ? maps : undefined);
  return draft.change(picture ? `Put a picture on ${look.name}` : `Take the picture off ${look.name}`);
}

/** A look without anything that moves: what is kept in a library. */
export type KeptLook = Pick<Look, 'name' | 'values'> & Partial<Pick<Look, 'pictures' | 'maps'> & LookOptions>;

/** What of a look is kept in a library. */
export function keptLook({ name, values, pictures, maps, pattern, twoSided, shadow }: KeptLook): KeptLook {
  return {
    name,
    values,
    ...(pictures ? { pictures } : {}),
    ...(maps ? { maps } : {}),
    ...(pattern ? { pattern } : {}),
    ...(twoSided ? { twoSided } : {}),
    ...(shadow ? { shadow } : {}),
  };
}

/**
 * Makes a look like another one. What is keyed or linked stays keyed or linked; its pictures stay where the other one has
 * none.
 */
export function takeLook(shot: Shot, id: string, from: KeptLook): Change {
  const look = demandLook(shot, id);
  const known = new Set(channelsOf(shot, id).map((spec) => spec.path));
  const values = Object.fromEntries(Object.entries(from.values).filter(([path]) => known.has(path)));
  const draft = new Draft(shot);
  const { pictures = look.pictures, maps = look.maps } = from;
  draft.set(['looks', id], {
    ...keptLook({ ...from, ...(pictures ? { pictures } : {}), ...(maps ? { maps } : {}) }),
    values,
    tracks: look.tracks,
    links: look.links,
  });
  return draft.change(`Give ${look.name} the look ${from.name}`);
}

/** Changes what a backdrop shows behind everything, and which surroundings are mirrored. */
export function changeBackdrop(shot: Shot, id: string, options: Partial<Backdrop>): Change {
  const part = demandPart(shot, id, 'backdrop');
  const next: Backdrop = { shows: 'colour', surroundings: 'plain', ...part.backdrop, ...options };
  demand(partShape.backdrop, next, 'A backdrop that shows a picture needs one: choose a file.');
  const draft = new Draft(shot);
  draft.set(['parts', id, 'backdrop'], next);
  return draft.change(`Change ${part.name}`);
}
