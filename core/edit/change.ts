import type { Shot } from '../document';

/** A part of a document: anything JSON can hold. */
export type Json = unknown;

/**
 * One place of the document and what stands there before and after; `undefined` means nothing stands there.
 * Values are plain JSON.
 */
export interface Patch {
  readonly path: readonly string[];
  readonly before?: Json;
  readonly after?: Json;
}

/**
 * A change of a shot, as a value: it can be stored, sent, undone and joined with others. Laws, tested:
 * `apply(apply(s, c), invert(c))` equals `s`; `apply(s, compose(a, b))` equals `apply(apply(s, a), b)`.
 */
export interface Change {
  /** What was done, for the undo button and the history: "Key Pinion rotation Z". */
  readonly label: string;
  readonly patches: readonly Patch[];
}

/** Puts `after` at a path. Nodes on the way are copied once for all patches of a change: `own` holds the copies. */
function replaceAt(
  node: unknown,
  path: readonly string[],
  depth: number,
  after: Json,
  own: WeakSet<object>,
): Record<string, unknown> {
  const key = path[depth]!;
  if (key === '__proto__') throw new RangeError('__proto__ is no name in a document.');
  let record = (node ?? {}) as Record<string, unknown>;
  if (!own.has(record)) own.add((record = { ...record }));
  if (depth === path.length - 1) {
    if (after === undefined) delete record[key];
    else record[key] = after;
    return record;
  }
  const inner = record[key];
  if (typeof inner !== 'object' || inner === null)
    throw new RangeError(
      `Nothing stands at ${path.slice(0, depth + 1).join('/')}: the change does not fit this document.`,
    );
  record[key] = replaceAt(inner, path, depth + 1, after, own);
  return record;
}

/** The value at a path of the document, or `undefined`. */
export function valueAt(shot: Shot, path: readonly string[]): Json {
  let current: unknown = shot;
  for (const key of path) {
    if (typeof current !== 'object' || current === null || !Object.hasOwn(current, key)) return undefined;
    current = (current as Record<string, unknown>)[key];
  }
  return current;
}

/**
 * The document after a change; untouched branches are shared. The result is not checked: see `checkStructure`.
 * @throws RangeError when a patch leads below something that is not there, or names `__proto__`
 */
export function apply(shot: Shot, change: Change): Shot {
  let current: unknown = shot;
  const own = new WeakSet<object>();
  for (const patch of change.patches) current = replaceAt(current, patch.path, 0, patch.after, own);
  return current as Shot;
}

/** The change that takes `change` back. */
export function invert(change: Change): Change {
  return {
    label: change.label,
    patches: [...change.patches]
      .reverse()
      .map(({ path, before, after }) => ({ path, before: after, after: before })),
  };
}

/** A path as one text, different for different paths. */
export const keyOf = (path: readonly string[]): string => path.join('\u0000');

/** One change that does first `a`, then `b`. Patches of one place are joined where nothing between touches it. */
export function compose(a: Change, b: Change): Change {
  const patches: Patch[] = [...a.patches];
  for (const patch of b.patches) {
    const key = keyOf(patch.path);
    const index = patches.findLastIndex((earlier) => overlaps(earlier.path, patch.path));
    const same = index >= 0 && keyOf(patches[index]!.path) === key;
    if (same) patches[index] = { path: patch.path, before: patches[index]!.before, after: patch.after };
    else patches.push(patch);
  }
  return { label: b.label, patches };
}

/** True when one path lies at or below the other. */
export function overlaps(a: readonly string[], b: readonly string[]): boolean {
  const shorter = Math.min(a.length, b.length);
  for (let i = 0; i < shorter; i++) if (a[i] !== b[i]) return false;
  return true;
}

/** Places that both changes touch, as paths of `b`. */
export function conflictsOf(a: Change, b: Change): string[] {
  return b.patches
    .filter((patch) => a.patches.some((other) => overlaps(other.path, patch.path)))
    .map((patch) => patch.path.join('/'));
}

/** True when nothing in the document would be different afterwards. */
export function isEmpty(change: Change): boolean {
  return change.patches.every((patch) => JSON.stringify(patch.before) === JSON.stringify(patch.after));
}

/** Collects patches against a document, keeping an up-to-date copy to read from. */
export class Draft {
  private readonly patches: Patch[] = [];

  constructor(public shot: Shot) {}

  /** Puts `after` at a path; `undefined` takes away what stands there. */
  set(path: readonly string[], after: Json): void {
    const before = valueAt(this.shot, path);
    if (before === undefined && after === undefined) return;
    // As it will be after storing and sending: no `undefined` inside, 0 for -0.
    const plain: Json = after === undefined ? undefined : JSON.parse(JSON.stringify(after));
    const patch: Patch = { path, before, after: plain };
    this.shot = apply(this.shot, { label: '', patches: [patch] });
    this.patches.push(patch);
  }

  change(label: string): Change {
    return { label, patches: this.patches };
  }
}
