import {
  channelAt,
  channelsOf,
  channelsReachedFrom,
  tableOf,
  type ChannelSpec,
  type Quantity,
} from '../document';
import { componentPaths } from './colour';
import { PLAIN_NAMES, writtenName } from './scope';
import { dimensionName, dimensionOf } from './dimension';
import { FUNCTIONS, type ArgumentRule, type FunctionSpec } from './functions';
import { repeatOfCopies, type NameTable } from './link';
import { UNIT_NAMES, unitNamed } from './units';

/** What a proposal puts in. */
export type ProposalKind = 'part' | 'dial' | 'channel' | 'function' | 'word' | 'plain' | 'unit' | 'sound';

export interface Proposal {
  readonly kind: ProposalKind;
  /** What is shown. */
  readonly label: string;
  /** What replaces the text from `from` to `to`. */
  readonly insert: string;
  /** What it measures, in words: "an angle", "a plain number". */
  readonly dimension?: string;
  /** What it is now, in house units. */
  readonly value?: number;
  readonly help?: string;
}

export interface Completion {
  /** Range of the text that a proposal replaces. */
  readonly from: number;
  readonly to: number;
  readonly proposals: readonly Proposal[];
  /** The function whose argument the caret is in, and which argument. */
  readonly call: { readonly spec: FunctionSpec; readonly argument: number } | null;
}

const LIMIT = 50;
const WORD = /[\p{L}_][\p{L}\p{N}_]*$/u;
const TAIL = /^[\p{L}\p{N}_]*/u;

/** The innermost call around the end of a text, and which argument it is in. */
function callAround(before: string): { name: string; argument: number } | null {
  const stack: { name: string; argument: number }[] = [];
  let quoted = false;
  for (let i = 0; i < before.length; i++) {
    const sign = before[i];
    if (sign === '"') quoted = !quoted;
    if (quoted) continue;
    if (sign === '(') stack.push({ name: WORD.exec(before.slice(0, i))?.[0] ?? '', argument: 0 });
    else if (sign === ')') stack.pop();
    else if (sign === ',' && stack.length > 0) stack.at(-1)!.argument++;
  }
  return stack.at(-1) ?? null;
}

function rank(label: string, wanted: string): number {
  if (label === wanted) return 0;
  if (wanted !== '' && label.startsWith(wanted)) return 0.5;
  const text = label.toLowerCase();
  const part = wanted.toLowerCase();
  if (text.startsWith(part)) return 1;
  if (text.split(/[\s._-]/).some((word) => word.startsWith(part))) return 2;
  return text.includes(part) ? 3 : Infinity;
}

function ranked(proposals: readonly Proposal[], wanted: string): Proposal[] {
  return proposals
    .map((proposal, i) => ({ proposal, order: rank(proposal.label, wanted), i }))
    .filter(({ order }) => order < Infinity)
    .sort((a, b) => a.order - b.order || a.i - b.i)
    .slice(0, LIMIT)
    .map(({ proposal }) => proposal);
}

/**
 * What could be written at a caret: parts, dials, channels, functions, units and words that fit there, best first. Works
 * on unfinished text.
 * @param address channel that the formula drives
 * @param valueOf value of a channel now, where it is known
 */
export function completeFormula(
  names: NameTable,
  address: string,
  text: string,
  caret: number,
  valueOf: (address: string) => number = () => NaN,
): Completion {
  const before = text.slice(0, caret);
  const around = callAround(before);
  const spec = around && FUNCTIONS.get(around.name);
  const call = spec ? { spec, argument: around.argument } : null;
  const rule = spec?.rules[Math.min(around!.argument, spec.rules.length - 1)];
  const found = (from: number, to: number, proposals: readonly Proposal[], wanted: string): Completion => ({
    from,
    to,
    proposals: ranked(proposals, wanted),
    call,
  });

  const quote = openQuote(before);
  if (quote !== null) {
    const wanted = before.slice(quote + 1);
    const closing = text.indexOf('"', caret);
    const end = closing >= 0 && !/[,()]/.test(text.slice(caret, closing)) ? closing + 1 : caret;
    return found(quote, end, namesFor(names, address, rule, spec ?? null), wanted);
  }
  const word = WORD.exec(before)?.[0] ?? '';
  const from = caret - word.length;
  const to = caret + TAIL.exec(text.slice(caret))![0].length;
  const unit = /(?:\d+\.?\d*|\.\d+)(?:[eE][+-]?\d+)?$/.exec(text.slice(0, from));
  if (unit && word !== '') {
    const { setup } = names.shot;
    const proposals = UNIT_NAMES.map((name): Proposal => {
      const entry = unitNamed(name, setup.rate)!;
      return {
        kind: 'unit',
        label: name,
        insert: name,
        help: entry.help,
        dimension: dimensionName(entry.dimension),
      };
    });
    return found(from, to, proposals, word);
  }
  const path = /((?:"[^"]*"|[\p{L}_][\p{L}\p{N}_]*)(?:\.[\p{L}_][\p{L}\p{N}_]*)*)\.([\p{L}\p{N}_.]*)$/u.exec(
    before,
  );
  if (path && !/\d$/.test(path[1]!)) {
    const [first = '', ...rest] = splitOwner(before.slice(path.index));
    const start = path.index + first.length + 1;
    const wanted = rest.join('.');
    if (first === 'dial') return found(start, to, dials(names, valueOf), wanted);
    const id = names.idOf(first.startsWith('"') ? first.slice(1, -1) : first);
    if (id !== null) return found(start, to, channels(names, id, address, valueOf), wanted);
  }
  const own = rule === undefined || !['word', 'sound', 'part', 'ref'].includes(rule) ? localsIn(before) : [];
  return found(from, to, [...own, ...namesFor(names, address, rule, spec ?? null, valueOf)], word);
}

/** Names of the formula's own that stand before the caret. */
const localsIn = (before: string): Proposal[] =>
  [...before.matchAll(/\blet\s+([\p{L}_][\p{L}\p{N}_]*)\s*=[^;]*;/gu)].map(([, name]) => ({
    kind: 'plain',
    label: name!,
    insert: name!,
    help: 'A name of this formula.',
  }));

/** Owner and path of a text such as `"Crown wheel".rotation.z`. */
function splitOwner(text: string): string[] {
  const quoted = /^"[^"]*"/.exec(text)?.[0];
  return quoted === undefined ? text.split('.') : [quoted, ...text.slice(quoted.length + 1).split('.')];
}

function openQuote(before: string): number | null {
  const count = [...before].filter((sign) => sign === '"').length;
  return count % 2 === 1 ? before.lastIndexOf('"') : null;
}

const measured = (quantity: Quantity): string => dimensionName(dimensionOf(quantity));

function channels(
  names: NameTable,
  owner: string,
  self: string,
  valueOf: (address: string) => number,
): Proposal[] {
  const { shot } = names;
  const reached =
    tableOf(owner) === 'parts'
      ? channelsReachedFrom(shot, owner)
      : channelsOf(shot, owner).map((spec) => ({ owner, path: spec.path, spec }));
  const wantsColour = channelAt(shot, self)?.spec.kind === 'colour';
  const proposed = (path: string, spec: ChannelSpec, more: Partial<Proposal>): Proposal => ({
    kind: 'channel',
    label: path,
    insert: path,
    help: spec.help,
    ...more,
  });
  return (
    reached
      .filter(({ owner: of, path }) => `${of}/${path}` !== self)
      // What is wanted comes first.
      .sort((a, b) => (wantsColour ? Number(b.spec.kind === 'colour') - Number(a.spec.kind === 'colour') : 0))
      .flatMap(({ spec, owner: of, path }) =>
        spec.kind === 'colour'
          ? [
              ...(wantsColour ? [proposed(path, spec, { dimension: 'a colour' })] : []),
              ...componentPaths(path).map((part) => proposed(part, spec, { dimension: measured('none') })),
            ]
          : proposed(path, spec, { dimension: measured(spec.quantity), value: valueOf(`${of}/${path}`) }),
      )
  );
}

function dials(names: NameTable, valueOf: (address: string) => number): Proposal[] {
  return Object.entries(names.shot.dials).map(([id, dial]) => ({
    kind: 'dial',
    label: dial.name,
    insert: dial.name,
    dimension: measured(dial.quantity),
    value: valueOf(`${id}/value`),
  }));
}

/** Names, functions and words that can begin a value, or that an argument of the given rule takes. */
function namesFor(
  names: NameTable,
  address: string,
  rule: ArgumentRule | undefined,
  spec: FunctionSpec | null,
  valueOf: (address: string) => number = () => NaN,
): Proposal[] {
  const { shot } = names;
  if (rule === 'word')
    return (spec?.words ?? []).map((word) => ({ kind: 'word', label: word, insert: writtenName(word) }));
  if (rule === 'sound')
    return Object.values(shot.sounds).map(({ name }) => ({
      kind: 'sound',
      label: name,
      insert: writtenName(name),
    }));
  const parts = Object.values(shot.parts).map(({ name, kind }): Proposal => ({
    kind: 'part',
    label: name,
    insert: rule === 'part' ? writtenName(name) : `${writtenName(name)}.`,
    help: kind,
  }));
  if (rule === 'part') return parts;
  const perCopy = repeatOfCopies(shot, address) !== null;
  const own = channelAt(shot, address)?.spec.quantity ?? 'none';
  const plain = PLAIN_NAMES.filter((name) => perCopy || !['index', 'outer', 'count'].includes(name)).map(
    (name): Proposal => ({
      kind: 'plain',
      label: name,
      insert: name,
      dimension: name === 'own' ? measured(own) : name === 'time' ? measured('time') : measured('none'),
    }),
  );
  const wantsColour = channelAt(shot, address)?.spec.kind === 'colour';
  const callable = [...FUNCTIONS.values()].filter((entry) => wantsColour || entry.special !== 'colour');
  const functions = ['if', ...callable.map(({ name }) => name)].map((name): Proposal => {
    const entry = FUNCTIONS.get(name);
    return {
      kind: 'function',
      label: name,
      insert: `${name}(`,
      help: entry ? `${name}(${entry.params.join(', ')}): ${entry.help}` : 'if(test, then, else)',
    };
  });
  const named = dials(names, valueOf).map((proposal): Proposal => ({
    ...proposal,
    label: `dial.${proposal.label}`,
    insert: `dial.${proposal.insert}`,
  }));
  return [...parts, ...named, ...plain, ...functions];
}
