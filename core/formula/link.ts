import {
  channelAt,
  channelsReachedFrom,
  channelsOf,
  resolveChannel,
  splitAddress,
  tableOf,
  type Link,
  type Shot,
} from '../document';
import { checkFormula, TEXT_ITSELF, writtenName, type Scope } from './check';
import { dimensionOf } from './dimension';
import { FormulaFault, type FormulaError } from './error';
import type { Expression } from './expression';
import { parseFormula, type Ast } from './parse';
import { tokenize } from './tokens';

export type CheckedLink = { ok: true; expression: Expression } | { ok: false; error: FormulaError };

/** What names mean in one shot; made once per document and shared by all its links. */
export class NameTable {
  private readonly idOfName = new Map<string, string>();

  constructor(readonly shot: Shot) {
    for (const [id, part] of Object.entries(shot.parts)) this.idOfName.set(part.name, id);
    for (const [id, dial] of Object.entries(shot.dials)) this.idOfName.set(`dial.${dial.name}`, id);
  }

  idOf(name: string): string | null {
    return this.idOfName.get(name) ?? null;
  }

  names(): Iterable<string> {
    return this.idOfName.keys();
  }

  /** Name now of an id, as references write it; `null` when it has gone. */
  nameOf(id: string): string | null {
    if (tableOf(id) === 'dials') return this.shot.dials[id] ? `dial.${this.shot.dials[id].name}` : null;
    return this.shot.parts[id]?.name ?? null;
  }
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
    wanted: dimensionOf(spec?.quantity ?? 'none'),
    owner: (name) => {
      const id = refs ? refs[name] : names.idOf(name);
      if (id === undefined || id === null) return null;
      return names.nameOf(id) === null ? 'gone' : { id };
    },
    channel: (owner, path) => resolveChannel(shot, owner, path),
    ownerNames: () => names.names(),
    paths: (owner) =>
      (tableOf(owner) === 'parts'
        ? channelsReachedFrom(shot, owner)
        : channelsOf(shot, owner).map((entry) => ({ path: entry.path, spec: entry }))
      )
        .filter((channel) => channel.spec.kind !== 'colour')
        .map((channel) => channel.path),
  };
}

function guarded(text: string, run: () => Expression): CheckedLink {
  try {
    return { ok: true, expression: run() };
  } catch (thrown) {
    if (!(thrown instanceof FormulaFault)) throw thrown;
    const { problem } = thrown;
    const fixes = problem.fixes.map((fix) => ({
      ...fix,
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
  const refs: Record<string, string> = {};
  for (const { key } of referencesIn(text)) {
    const id = names.idOf(key);
    if (id !== null) refs[key] = id;
  }
  return { formula: text, refs };
}

/** Text of a link with the names that its parts have now. Names that have gone stay as they were written. */
export function textOfLink(names: NameTable, link: Link): string {
  let text = link.formula;
  for (const { key, from, to } of referencesIn(link.formula).reverse()) {
    const id = link.refs[key];
    const now = id === undefined ? null : names.nameOf(id);
    if (now !== null && now !== key)
      text = text.slice(0, from) + (now.startsWith('dial.') ? now : writtenName(now)) + text.slice(to);
  }
  return text;
}

/** Names of owners written in a formula, left to right, with their ranges. Works on broken formulas too. */
export function referencesIn(text: string): { key: string; from: number; to: number }[] {
  const found: { key: string; from: number; to: number }[] = [];
  try {
    const tokens = tokenize(text);
    tokens.forEach((token, i) => {
      const dot = tokens[i + 1];
      const path = tokens[i + 2];
      const before = tokens[i - 1];
      if ((token.kind !== 'name' && token.kind !== 'quoted') || dot?.text !== '.' || dot.kind !== 'operator')
        return;
      if (before?.kind === 'operator' && before.text === '.') return;
      if (token.kind === 'name' && token.text === 'dial' && path?.kind === 'name')
        found.push({ key: `dial.${path.text}`, from: token.from, to: path.to });
      else found.push({ key: token.text, from: token.from, to: token.to });
    });
  } catch (thrown) {
    if (!(thrown instanceof FormulaFault)) throw thrown;
  }
  return found;
}

/** Ids of the owners that a link reads. */
export function ownersRead(link: Link): string[] {
  return Object.values(link.refs);
}

/**
 * Works out arithmetic typed into a field: numbers, units and functions, without references.
 * @param current value that `own` and a leading operator (`+=10`, `*2`) refer to, in house units
 */
export function checkArithmetic(names: NameTable, address: string, text: string): CheckedLink {
  return guarded(text, () => {
    const ast: Ast = parseFormula(text);
    return checkFormula(ast, { ...scopeFor(names, address, null), self: '' });
  });
}

/** Owner id of an address, for callers that only have the text. */
export function ownerOfAddress(address: string): string {
  return splitAddress(address).owner;
}
