import { channelAt, linkOf, ownerOf, splitAddress, tableOf, trackOf, usersOf, type Shot } from '../document';
import { channelName, standingOf } from '../edit';
import { addressesOf, Evaluator, formulaReads, momentOf, type Plan } from '../evaluate';
import {
  COMPONENTS,
  eachNode,
  formulasOf,
  interpret,
  NameTable,
  textOfLink,
  type Expression,
} from '../formula';

/** Where motion stops, or that it does not. */
export type StillCode =
  | 'moves'
  | 'no-key'
  | 'keys-equal'
  | 'keys-outside'
  | 'link-error'
  | 'reads-nothing'
  | 'swallowed'
  | 'still-input'
  | 'copy-moves'
  | 'put-away'
  | 'hidden';

/** One step of the answer, from the channel asked about back to where its motion stops. */
export interface StillReason {
  readonly code: StillCode;
  /** Channel to go to. */
  readonly address: string;
  readonly text: string;
  /** Steps back from the channel asked about. */
  readonly depth: number;
}

const SAMPLES = 96;
const DEEPEST = 40;

interface Watch {
  readonly plan: Plan;
  readonly frames: readonly number[];
  readonly values: ReadonlyMap<string, readonly number[]>;
  readonly evaluator: Evaluator;
}

/** Every channel that a channel depends on through links, itself first. */
function dependsOn(plan: Plan, address: string): string[] {
  const found = [address];
  for (const next of found) {
    const expression = plan.linkOf.get(next)?.expression;
    if (!expression) continue;
    for (const read of addressesOf(expression)) if (!found.includes(read)) found.push(read);
  }
  return found;
}

/** A number that differs for different colours. */
const brightnessOf = ([red, green, blue]: readonly number[]): number =>
  0.2126 * red! + 0.7152 * green! + 0.0722 * blue!;

function watch(plan: Plan, addresses: readonly string[]): Watch {
  const { first, last } = plan.shot.setup;
  const count = Math.min(SAMPLES, last - first);
  const frames = Array.from({ length: count + 1 }, (_, i) =>
    count === 0 ? first : first + ((last - first) * i) / count,
  );
  const evaluator = new Evaluator(plan);
  const values = new Map<string, number[]>(addresses.map((address) => [address, []]));
  for (const frame of frames) {
    evaluator.evaluate(frame);
    for (const [address, list] of values)
      if (channelAt(plan.shot, address)?.spec.kind !== 'colour') list.push(evaluator.number(address));
      else list.push(brightnessOf(evaluator.colour(address)));
  }
  return { plan, frames, values, evaluator };
}

const changes = (values: readonly number[] | undefined): boolean =>
  values !== undefined && values.some((value) => Math.abs(value - values[0]!) > 1e-9);

const tidy = (value: number): string => String(Math.round(value * 1000) / 1000);

/** Outermost part of a formula that stays the same although something in it changes, with what it does. */
function swallowing(
  seen: Watch,
  address: string,
  expression: Expression,
): { node: Expression; inner: Expression } | null {
  const results = new Map<Expression, number[]>();
  for (const frame of seen.frames) {
    seen.evaluator.evaluate(frame);
    for (const [i, formula] of formulasOf(expression).entries())
      interpret(formula, momentOf(seen.evaluator, address, COMPONENTS[i]), (node, value) => {
        const list = results.get(node);
        if (list) list.push(value);
        else results.set(node, [value]);
      });
  }
  let found: { node: Expression; inner: Expression } | null = null;
  eachNode(expression, (node) => {
    if (found || node.type === 'colour' || changes(results.get(node))) return;
    let inner: Expression | null = null;
    eachNode(node, (other) => {
      if (other !== node && changes(results.get(other))) inner ??= other;
    });
    // The innermost one that still swallows tells most.
    if (inner) {
      let at: Expression = node;
      eachNode(node, (other) => {
        if (other === node || changes(results.get(other))) return;
        let moving = false;
        eachNode(other, (leaf) => {
          moving ||= leaf !== other && changes(results.get(leaf));
        });
        if (moving) at = other;
      });
      let moved: Expression = inner;
      eachNode(at, (other) => {
        if (other !== at && changes(results.get(other))) moved = other;
      });
      found = { node: at, inner: moved };
    }
  });
  return found;
}

/** What a formula does that keeps a changing part of it from showing. */
function swallowWords(node: Expression, whole: string, inner: string): string {
  if (node.type === 'binary' && node.op === '*')
    return `"${inner}" changes, but "${whole}" multiplies it by 0.`;
  if (node.type === 'call')
    return `"${inner}" changes, but ${node.spec.name} gives the same for all of it in "${whole}".`;
  if (node.type === 'if') return `"${inner}" changes, but in "${whole}" it is not what is chosen.`;
  return `"${inner}" changes, but "${whole}" gives the same all along.`;
}

/** A part that is a linked copy of another one and moves by the same channel. */
function movingCopy(shot: Shot, address: string): string | null {
  const { owner, path } = splitAddress(address);
  const part = tableOf(owner) === 'parts' ? shot.parts[owner] : undefined;
  if (!part?.shape) return null;
  return (
    usersOf(shot, part.shape).find((other) => {
      const record = shot.parts[other]!;
      return other !== owner && (path in record.tracks || path in record.links);
    }) ?? null
  );
}

/** Why a channel without link stays as it is. */
function ownReason(shot: Shot, address: string, depth: number, value: number | undefined): StillReason[] {
  const name = channelName(shot, address);
  const { first, last } = shot.setup;
  const keys = Object.values(trackOf(shot, address)?.keys ?? {});
  const reason = (code: StillCode, text: string): StillReason => ({ code, address, text, depth });
  if (keys.length === 0) {
    const copy = movingCopy(shot, address);
    const stays = value === undefined ? '' : `: it stays at ${tidy(value)}`;
    return [
      reason('no-key', `${name} has neither keys nor a link${stays}.`),
      ...(copy
        ? [
            {
              code: 'copy-moves' as const,
              address: `${copy}/${splitAddress(address).path}`,
              text: `${shot.parts[copy]!.name}, a linked copy, is what moves: copies share shape and look, not their place.`,
              depth: depth + 1,
            },
          ]
        : []),
    ];
  }
  const frames = keys.map((key) => key.frame).sort((a, b) => a - b);
  if (frames.at(-1)! <= first || frames[0]! >= last)
    return [
      reason(
        'keys-outside',
        `${name} is keyed at frames ${tidy(frames[0]!)} to ${tidy(frames.at(-1)!)}, outside the range ${first} to ${last}.`,
      ),
    ];
  return [
    reason(
      'keys-equal',
      keys.length === 1
        ? `${name} has one key only, at frame ${tidy(frames[0]!)}: a second one would make it move.`
        : `All ${keys.length} keys of ${name} have the same value.`,
    ),
  ];
}

/** What hides a part that moves: that it is not seen to. */
function hiding(plan: Plan, evaluator: Evaluator, address: string): StillReason[] {
  const { shot } = plan;
  const { owner } = splitAddress(address);
  const parts = tableOf(owner) === 'parts' ? [owner] : usersOf(shot, owner);
  const standing = standingOf(shot);
  return parts.flatMap((id): StillReason[] => {
    const part = shot.parts[id];
    const node = plan.nodeOf.get(id);
    if (!part || node === undefined) return [];
    if (standing.away.has(id))
      return [{ code: 'put-away', address, text: `${part.name} lies in a tray that is put away.`, depth: 0 }];
    if (evaluator.shown[node] !== 1)
      return [
        {
          code: 'hidden',
          address: `${id}/visible`,
          text: `${part.name}, or what it hangs from, is hidden.`,
          depth: 0,
        },
      ];
    return [];
  });
}

/**
 * Tells in words why a channel does not move: from the channel back through what its formula reads to where the motion
 * stops. The range of the shot is looked at, in up to 97 frames.
 * @returns steps from the channel to the culprits; a first step `moves` when it does move
 */
export function whyStill(plan: Plan, address: string): StillReason[] {
  const { shot } = plan;
  const seen = watch(plan, dependsOn(plan, address));
  const hidden = hiding(plan, seen.evaluator, address);
  const values = seen.values.get(address);
  if (changes(values)) {
    const [low, high] = [Math.min(...values!), Math.max(...values!)];
    return [
      {
        code: 'moves',
        address,
        text: `${channelName(shot, address)} does move: from ${tidy(low)} to ${tidy(high)} within the range.${hidden.length > 0 ? ' It is only not seen:' : ''}`,
        depth: 0,
      },
      ...hidden,
    ];
  }
  const names = new NameTable(shot);
  const told = new Set<string>();
  const back = (at: string, depth: number): StillReason[] => {
    if (told.has(at) || depth > DEEPEST) return [];
    told.add(at);
    const link = plan.linkOf.get(at);
    const name = channelName(shot, at);
    if (!link) return ownReason(shot, at, depth, seen.values.get(at)?.[0]);
    const failure = link.error;
    const source = linkOf(shot, at)!;
    if (failure || !link.expression)
      return [
        {
          code: 'link-error',
          address: at,
          text: `The link of ${name} is out of force: ${failure?.message ?? 'it has no value.'}`,
          depth,
        },
      ];
    const { expression } = link;
    const reads = addressesOf(expression);
    const { pivots, whole, paths } = formulaReads(expression);
    const swallowed = swallowing(seen, at, expression);
    if (swallowed) {
      const written = (node: Expression): string =>
        textOfLink(names, { formula: source.formula.slice(node.from, node.to), refs: source.refs });
      return [
        {
          code: 'swallowed',
          address: at,
          text: `${name}: ${swallowWords(swallowed.node, written(swallowed.node), written(swallowed.inner))}`,
          depth,
        },
      ];
    }
    if (reads.length === 0 && pivots.length + whole.length + paths.length === 0)
      return [
        {
          code: 'reads-nothing',
          address: at,
          text: `The link of ${name}, ${textOfLink(names, source)}, reads nothing that changes.`,
          depth,
        },
      ];
    return [
      {
        code: 'still-input',
        address: at,
        text: `${name} = ${textOfLink(names, source)}: nothing that it reads changes.`,
        depth,
      },
      ...reads.flatMap((read) => back(read, depth + 1)),
    ];
  };
  if (!channelAt(shot, address) || !ownerOf(shot, splitAddress(address).owner)) return [];
  return [...back(address, 0), ...hidden];
}
