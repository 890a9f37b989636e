import {
  COPY_PREFIX,
  channelAt,
  channelsReachedFrom,
  channelsOf,
  entryOf,
  resolveChannel,
  splitAddress,
  tableOf,
  type ChannelSpec,
  type Link,
  type Shot,
} from '../document';
import { checkFormula } from './check';
import { componentPaths } from './colour';
import { TEXT_ITSELF } from './measures';
import { pinnedPlaces, PINNED_PATHS } from './pinned';
import { writtenName, type Scope } from './scope';
import { dimensionOf } from './dimension';
import { FormulaFault, type FormulaError } from './error';
import type { Expression } from './expression';
import { FUNCTIONS, type FunctionSpec } from './functions';
import { parseFormula, type Ast } from './parse';
import { tokenize } from './tokens';

export type CheckedLink = { ok: true; expression: Expression } | { ok: false; error: FormulaError };

/** What names mean in one shot; made once per document and shared by all its links. */
export class NameTable {
  private made: Map<string, string> | null = null;

  constructor(readonly shot: Shot) {}

  /** Ids by name; made when the first name is asked for, since links in the document know their ids. */
  private get idOfName(): ReadonlyMap<string, string> {
    if (!this.made) {
      this.made = new Map();
      const { parts, dials, sounds } = this.shot;
      for (const [id, part] of Object.entries(parts)) this.made.set(part.name, id);
      for (const [id, dial] of Object.entries(dials)) this.made.set(`dial.${dial.name}`, id);
      for (const [id, sound] of Object.entries(sounds)) this.made.set(`sound.${sound.name}`, id);
    }
    return this.made;
  }

  idOf(name: string): string | null {
    return this.idOfName.get(name) ?? null;
  }

  /** Names of parts and dials, as references write them. */
  names(): Iterable<string> {
    return [...this.idOfName].filter(([, id]) => !id.startsWith('snd_')).map(([name]) => name);
  }

  /** Name now of an id, as references write it; `null` when it has gone. */
  nameOf(id: string): string | null {
    if (tableOf(id) === 'dials') return this.shot.dials[id] ? `dial.${this.shot.dials[id].name}` : null;
    if (id.startsWith('snd_')) return this.shot.sounds[id] ? `sound.${this.shot.sounds[id].name}` : null;
    return this.shot.parts[id]?.name ?? null;
  }
}

/** The repeat whose copies a channel is worked out for one by one, or `null`. */
export function repeatOfCopies(shot: Shot, address: string): string | null {
  const { owner, path } = splitAddress(address);
  return path.startsWith(COPY_PREFIX) && shot.parts[owner]?.kind === 'repeat' ? owner : null;
}

/** What pins give a channel; `null` for one that they never give. */
function pinnedAt(shot: Shot, address: string): Scope['pinned'] {
  const { owner, path } = splitAddress(address);
  const component = (PINNED_PATHS as readonly string[]).indexOf(path);
  const part = tableOf(owner) === 'parts' ? shot.parts[owner] : undefined;
  if (component < 0 || !part) return null;
  const place = pinnedPlaces(shot).get(owner) ?? {
    ok: false,
    trouble: `Nothing is pinned to ${part.name}: pin it to another part, or take this link away.`,
  };
  return { ...place, component };
}

function scopeFor(names: NameTable, address: string, refs: Link['refs'] | null): Scope {
  const { shot } = names;
  const spec = channelAt(shot, address)?.spec;
  return {
    unit: shot.setup.unit,
    rate: shot.setup.rate,
    first: shot.setup.first,
    last: shot.setup.last,
    self: address,
    colour: spec?.kind === 'colour',
    wanted: dimensionOf(spec?.quantity ?? 'none'),
    owner: (name) => {
      const id = refs ? entryOf(refs, name) : names.idOf(name);
      if (id === undefined || id === null) return null;
      return names.nameOf(id) === null ? 'gone' : { id };
    },
    channel: (owner, path) => resolveChannel(shot, owner, path),
    repeat: repeatOfCopies(shot, address),
    get pinned() {
      return pinnedAt(shot, address);
    },
    sound: (name) => {
      const id = refs ? entryOf(refs, `sound.${name}`) : names.idOf(`sound.${name}`);
      if (id === undefined || id === null) return null;
      return names.nameOf(id) === null ? 'gone' : { id };
    },
    soundNames: () => Object.values(shot.sounds).map((sound) => sound.name),
    ownerNames: () => names.names(),
    paths: (owner) =>
      (tableOf(owner) === 'parts'
        ? channelsReachedFrom(shot, owner)
        : channelsOf(shot, owner).map((entry) => ({ path: entry.path, spec: entry }))
      )
        // Where a colour is wanted, colours come first.
        .sort((a, b) => (spec?.kind === 'colour' ? rankOf(a.spec) - rankOf(b.spec) : 0))
        .flatMap((channel) =>
          channel.spec.kind !== 'colour'
            ? channel.path
            : spec?.kind === 'colour'
              ? [channel.path, ...componentPaths(channel.path)]
              : componentPaths(channel.path),
        ),
  };
}

const rankOf = ({ kind }: ChannelSpec): number => (kind === 'colour' ? 0 : 1);

function guarded(text: string, run: () => Expression): CheckedLink {
  try {
    return { ok: true, expression: run() };
  } catch (thrown) {
    if (!(thrown instanceof FormulaFault)) throw thrown;
    const { problem } = thrown;
    const fixes = problem.fixes.map((fix) => ({
      ...fix,
      label: fix.label.replaceAll(TEXT_ITSELF, text.slice(fix.from, fix.to)),
      insert: fix.insert.replaceAll(TEXT_ITSELF, text.slice(fix.from, fix.to)),
    }));
    return { ok: false, error: { ...problem, fixes } };
  }
}

/** Checks a link that is in the document: names mean what they meant when it was written. */
export function checkLink(names: NameTable, address: string, link: Link): CheckedLink {
  return guarded(link.formula, () =>
    checkFormula(parseFormula(link.formula), scopeFor(names, address, link.refs)),
  );
}

/** Checks a formula as typed, by the names of the parts now. */
export function checkTyped(names: NameTable, address: string, text: string): CheckedLink {
  return guarded(text, () => checkFormula(parseFormula(text), scopeFor(names, address, null)));
}

/**
 * A link of a formula as typed. Every name that is known now is tied to its id; unknown ones stay unknown, so
 * that a formula with a mistake can be kept and mended later.
 */
export function linkFromText(names: NameTable, text: string): Link {
  const known = referencesIn(text).flatMap(({ key }) => {
    const id = names.idOf(key);
    return id === null ? [] : [[key, id] as const];
  });
  return { formula: text, refs: Object.fromEntries(known) };
}

/** Text of a link with the names that its parts have now. Names that have gone stay as they were written. */
export function textOfLink(names: NameTable, link: Link): string {
  let text = link.formula;
  for (const { from, to, now } of renamedIn(names, link).reverse())
    text = text.slice(0, from) + now + text.slice(to);
  return text;
}

/** Names of a formula that are others now, left to right. */
function renamedIn(
  names: NameTable,
  link: Link,
): { readonly from: number; readonly to: number; readonly now: string }[] {
  return referencesIn(link.formula).flatMap(({ key, from, to }) => {
    const id = entryOf(link.refs, key);
    const now = id === undefined ? null : names.nameOf(id);
    return now === null || now === key ? [] : [{ from, to, now: written(now) }];
  });
}

/** What is wrong with a link that is in the document, where it stands in its text as `textOfLink` shows it. */
export function errorAsShown(names: NameTable, link: Link, error: FormulaError): FormulaError {
  const renamed = renamedIn(names, link);
  if (renamed.length === 0) return error;
  const placed = (at: number): number => {
    let moved = at;
    for (const { from, to, now } of renamed)
      if (at >= to) moved += now.length - (to - from);
      else if (at > from) moved = Math.min(moved, moved - at + from + now.length);
    return moved;
  };
  const moved = <T extends { readonly from: number; readonly to: number }>(range: T): T => ({
    ...range,
    from: placed(range.from),
    to: placed(range.to),
  });
  const text = textOfLink(names, link);
  const fixes = error.fixes.map((fix) => {
    const at = moved(fix);
    const [was, now] = [link.formula.slice(fix.from, fix.to), text.slice(at.from, at.to)];
    // What a fix puts round the text that it replaces.
    return was === '' ? at : { ...at, insert: fix.insert.replaceAll(was, () => now) };
  });
  return { ...moved(error), fixes };
}

/** How a name of the table stands in a formula's text. */
function written(name: string): string {
  if (name.startsWith('dial.')) return name;
  return writtenName(name.startsWith('sound.') ? name.slice('sound.'.length) : name);
}

/** Names of owners written in a formula, left to right, with their ranges. Works on broken formulas too. */
export function referencesIn(text: string): { key: string; from: number; to: number }[] {
  const found: { key: string; from: number; to: number }[] = [];
  try {
    const tokens = tokenize(text);
    // For each open parenthesis, the function it belongs to and the argument being read.
    const open: { spec: FunctionSpec | undefined; argument: number }[] = [];
    tokens.forEach((token, i) => {
      const next = tokens[i + 1];
      const before = tokens[i - 1];
      const inner = open.at(-1);
      if (token.kind === 'operator') {
        if (token.text === '(')
          open.push({ spec: before?.kind === 'name' ? FUNCTIONS.get(before.text) : undefined, argument: 0 });
        else if (token.text === ')') open.pop();
        else if (token.text === ',' && inner) inner.argument++;
      }
      if (token.kind !== 'name' && token.kind !== 'quoted') return;
      if (before?.kind === 'operator' && before.text === '.') return;
      if (next?.kind === 'operator' && next.text === '.') {
        const path = tokens[i + 2];
        if (token.kind === 'name' && token.text === 'dial' && path?.kind === 'name')
          found.push({ key: `dial.${path.text}`, from: token.from, to: path.to });
        else found.push({ key: token.text, from: token.from, to: token.to });
        return;
      }
      const rule = inner?.spec?.rules[inner.argument];
      if (rule === 'part') found.push({ key: token.text, from: token.from, to: token.to });
      if (rule === 'sound') found.push({ key: `sound.${token.text}`, from: token.from, to: token.to });
    });
  } catch (thrown) {
    if (!(thrown instanceof FormulaFault)) throw thrown;
  }
  return found;
}

/**
 * Works out arithmetic typed into a field: numbers, units and functions, without references.
 * `own` and a leading operator (`+=10`, `*2`) refer to the value that is there. `index` is the place among `count` fields
 * that are typed into at once.
 */
export function checkArithmetic(names: NameTable, address: string, text: string, count = 1): CheckedLink {
  return guarded(text, () => {
    const ast: Ast = parseFormula(text);
    return checkFormula(ast, {
      ...scopeFor(names, address, null),
      self: '',
      colour: false,
      repeat: null,
      among: count,
    });
  });
}

/** Whether a formula reads the value that its channel has without it. */
export function readsOwn(formula: string): boolean {
  try {
    return tokenize(formula).some((token) => token.kind === 'name' && token.text === 'own');
  } catch {
    return false;
  }
}
