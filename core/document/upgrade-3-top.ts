type Written = Record<string, unknown>;

const isRecord = (value: unknown): value is Written =>
  typeof value === 'object' && value !== null && !Array.isArray(value);
const records = (value: unknown): [string, Written][] =>
  isRecord(value)
    ? Object.entries(value).filter((entry): entry is [string, Written] => isRecord(entry[1]))
    : [];

const INITIAL_RADIUS = 0.5;
/** Top radius that shapes had before they were given one. */
const INITIAL_TOP: ReadonlyMap<unknown, number> = new Map([
  ['cylinder', 0.5],
  ['cone', 0],
]);
const TABLES = ['parts', 'shapes', 'looks', 'dials'] as const;

/**
 * Version 3 tells the top of a cylinder or cone as a share of its radius, so that one number makes both wider; before,
 * `topRadius` was a length of its own. Values and keys are divided by the radius that is stored; links by the radius as
 * it is, read by name; formulas that read a top radius read the share times the radius.
 */
export function topAsShare(shot: Written): Written {
  const shapes = Object.fromEntries(
    Object.entries(isRecord(shot.shapes) ? shot.shapes : {}).map(([id, shape]) => [
      id,
      isRecord(shape) && INITIAL_TOP.has(shape.kind) ? shared(shape, id, shot) : shape,
    ]),
  );
  const upgraded: Written = { ...shot, shapes };
  for (const table of TABLES)
    if (isRecord(upgraded[table]))
      upgraded[table] = Object.fromEntries(
        Object.entries(upgraded[table]).map(([id, owner]) => [
          id,
          isRecord(owner) ? readShares(owner) : owner,
        ]),
      );
  return upgraded;
}

function shared(shape: Written, id: string, shot: Written): Written {
  const values = isRecord(shape.values) ? shape.values : {};
  const radius = typeof values.radius === 'number' ? values.radius : INITIAL_RADIUS;
  // A point at the bottom has no share that makes a wider top of it: it becomes as good as a point.
  const bottom = radius > 0 ? radius : 1e-6;
  const { topRadius, ...kept } = values;
  const top = typeof topRadius === 'number' ? topRadius : INITIAL_TOP.get(shape.kind)!;
  const share = top / bottom;
  const tracks = isRecord(shape.tracks) ? shape.tracks : {};
  const links = isRecord(shape.links) ? shape.links : {};
  const { topRadius: keyed, ...otherTracks } = tracks;
  const { topRadius: linked, ...otherLinks } = links;
  return {
    ...shape,
    values: {
      ...kept,
      ...(radius > 0 ? {} : { radius: bottom }),
      ...(share === (shape.kind === 'cone' ? 0 : 1) ? {} : { top: share }),
    },
    tracks: { ...otherTracks, ...(isRecord(keyed) ? { top: divided(keyed, bottom) } : {}) },
    links: { ...otherLinks, ...(isRecord(linked) ? { top: overRadius(linked, id, shot, bottom) } : {}) },
  };
}

function divided(track: Written, by: number): Written {
  const rise = (handle: unknown): unknown =>
    isRecord(handle) && typeof handle.rise === 'number' ? { ...handle, rise: handle.rise / by } : handle;
  const keys = records(track.keys).map(([id, key]) => [
    id,
    {
      ...key,
      ...(typeof key.value === 'number' ? { value: key.value / by } : {}),
      ...('left' in key ? { left: rise(key.left) } : {}),
      ...('right' in key ? { right: rise(key.right) } : {}),
      ...(isRecord(key.piece) && typeof key.piece.gain === 'number'
        ? { piece: { ...key.piece, gain: key.piece.gain / by } }
        : {}),
    },
  ]);
  return { ...track, keys: Object.fromEntries(keys) };
}

function overRadius(link: Written, shape: string, shot: Written, radius: number): Written {
  const user = records(shot.parts).find(([, part]) => part.shape === shape);
  const formula = String(link.formula);
  if (!user || typeof user[1].name !== 'string') return { ...link, formula: `(${formula}) / ${radius}m` };
  const { name } = user[1];
  const refs = isRecord(link.refs) ? link.refs : {};
  return { formula: `(${formula}) / "${name}".radius`, refs: { ...refs, [name]: user[0] } };
}

/** An owner whose formulas that read a top radius read the share times the radius. */
function readShares(owner: Written): Written {
  if (!isRecord(owner.links)) return owner;
  const links = Object.fromEntries(
    Object.entries(owner.links).map(([path, link]) => [
      path,
      isRecord(link) && typeof link.formula === 'string' && link.formula.includes('topRadius')
        ? {
            ...link,
            formula: link.formula.replaceAll(
              /("[^"]*"|[\p{L}_][\p{L}\p{N}_]*)\.topRadius\b/gu,
              '($1.top * $1.radius)',
            ),
          }
        : link,
    ]),
  );
  return { ...owner, links };
}
