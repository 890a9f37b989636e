import type { FunctionSpec } from './functions';
import { floorMod } from './functions';
import { pow } from '../math';
import type { BinaryOp } from './parse';
import type { Dimension } from './dimension';
import type { Linkage } from './pinned';

/** Quantities of the moment that a formula may read. */
export type ClockName = 'frame' | 'time' | 'progress' | 'index' | 'outer';
/** Clocks that count copies of repeats, not time: the copy itself, and that of the repeat around its repeat. */
const COPY_CLOCKS: ReadonlySet<ClockName> = new Set(['index', 'outer']);

/**
 * What is asked of a channel at other moments: its value, its speed per second, the way it has gone; what it has added up to
 * as a speed, where a spring draws something after it, how long ago it rose above 0, how far it has turned a ratchet.
 */
export type ProbeKind = 'at' | 'speed' | 'travel' | 'gone' | 'follow' | 'since' | 'ratchet';

/** A spring with a damper: 1/s^2, above 0, and 1/s, not below 0. */
export interface Spring {
  readonly stiffness: number;
  readonly damping: number;
}

/** What is asked of places in the world. */
export type MeasureKind =
  | `world${'x' | 'y' | 'z'}`
  | `worldturn${'x' | 'y' | 'z'}`
  | `seen${'x' | 'y' | 'z'}`
  | 'distance'
  | 'pathlength';

/** What of a part is measured: where its pivot stands, the whole of its place, or the path that it follows. */
export type Measured = 'pivot' | 'place' | 'path';

/** What is measured of each part that a measure names. */
export const MEASURED: Readonly<Record<MeasureKind, readonly Measured[]>> = {
  worldx: ['pivot'],
  worldy: ['pivot'],
  worldz: ['pivot'],
  worldturnx: ['place'],
  worldturny: ['place'],
  worldturnz: ['place'],
  seenx: ['pivot', 'place'],
  seeny: ['pivot', 'place'],
  seenz: ['pivot', 'place'],
  distance: ['pivot', 'pivot'],
  pathlength: ['path'],
};

/**
 * A checked formula: names are channels, units are gone, every number is in house units. Ranges point into the
 * text it came from.
 */
export type Expression = { readonly from: number; readonly to: number; readonly dimension: Dimension } & (
  | { readonly type: 'constant'; readonly value: number }
  | {
      readonly type: 'channel';
      readonly address: string;
      /** Which component of a colour is read; 0 of everything else. */
      readonly component?: Component;
    }
  | { readonly type: 'own' }
  | { readonly type: 'clock'; readonly clock: ClockName }
  | { readonly type: 'negate' | 'not'; readonly operand: Expression }
  | { readonly type: 'binary'; readonly op: BinaryOp; readonly left: Expression; readonly right: Expression }
  | {
      readonly type: 'if';
      readonly test: Expression;
      readonly then: Expression;
      readonly otherwise: Expression;
    }
  | {
      readonly type: 'probe';
      readonly kind: ProbeKind;
      /** Channel that is asked; `null` is the linked channel's own value. */
      readonly address: string | null;
      /** Which component of a colour is asked; 0 of everything else. */
      readonly component?: Component;
      /** Frame at which it is asked. */
      readonly frame: Expression;
      /** Of a spring, its stiffness and damping. */
      readonly spring?: Spring;
      /** Of a ratchet, the angle from one tooth to the next in degrees. */
      readonly pitch?: number;
    }
  | { readonly type: 'measure'; readonly kind: MeasureKind; readonly parts: readonly string[] }
  | {
      /** What the pins of a part give its channel: x, y or turn (0, 1, 2) of a body of a linkage. */
      readonly type: 'pinned';
      readonly linkage: Linkage;
      readonly body: number;
      readonly component: number;
    }
  | { readonly type: 'level'; readonly sound: string; readonly low: Expression; readonly high: Expression }
  | { readonly type: 'call'; readonly spec: FunctionSpec; readonly args: readonly Expression[] }
  | {
      /** What a colour is made of: always the whole of a link, never a piece of it. */
      readonly type: 'colour';
      readonly components: readonly [Expression, Expression, Expression];
    }
);

/** Red, green or blue of a colour. */
export type Component = 0 | 1 | 2;
export const COMPONENTS: readonly Component[] = [0, 1, 2];

/** The formula of each number that a link gives: one, or three for a colour. */
export function formulasOf(expression: Expression): readonly Expression[] {
  return expression.type === 'colour' ? expression.components : [expression];
}

/** One binary operation on plain numbers. Comparisons and `and` / `or` give 1 or 0. */
export function applyBinary(op: BinaryOp, a: number, b: number): number {
  switch (op) {
    case '+':
      return a + b;
    case '-':
      return a - b;
    case '*':
      return a * b;
    case '/':
      return a / b;
    case '%':
      return floorMod(a, b);
    case '^':
      return pow(a, b);
    case '<':
      return a < b ? 1 : 0;
    case '<=':
      return a <= b ? 1 : 0;
    case '>':
      return a > b ? 1 : 0;
    case '>=':
      return a >= b ? 1 : 0;
    case '==':
      return a === b ? 1 : 0;
    case '!=':
      return a !== b ? 1 : 0;
    case 'and':
      return a !== 0 && b !== 0 ? 1 : 0;
    case 'or':
      return a !== 0 || b !== 0 ? 1 : 0;
  }
}

/** Where the numbers of a moment come from while a formula is worked out. */
export interface Moment {
  readonly own: number;
  clock(name: ClockName): number;
  channel(address: string, component: Component): number;
  probe(
    kind: ProbeKind,
    address: string | null,
    frame: number,
    numbers: { readonly spring?: Spring; readonly pitch?: number; readonly component?: Component },
  ): number;
  measure(kind: MeasureKind, parts: readonly string[]): number;
  level(sound: string, low: number, high: number): number;
  pinned(linkage: Linkage, body: number, component: number): number;
}

const isNumber = (value: number): boolean => Number.isFinite(value);

/**
 * Works a formula out by walking it: the slow and obvious way. `visit` sees every sub-formula with its value.
 * A colour is worked out component by component (`formulasOf`). A sub-formula without a finite value leaves all that is
 * made of it without one. Both branches of `if` are worked out,
 * as in the compiled form; only the chosen one counts, as only the left side of `and` and `or` does where it decides.
 */
export function interpret(
  expression: Expression,
  moment: Moment,
  visit?: (expression: Expression, value: number) => void,
): number {
  const walk = (node: Expression): number => {
    const value = compute(node);
    visit?.(node, value);
    return value;
  };
  const compute = (node: Expression): number => {
    switch (node.type) {
      case 'constant':
        return node.value;
      case 'channel':
        return moment.channel(node.address, node.component ?? 0);
      case 'own':
        return moment.own;
      case 'clock':
        return moment.clock(node.clock);
      case 'negate':
        return -walk(node.operand);
      case 'not': {
        const value = walk(node.operand);
        return isNumber(value) ? applyBinary('==', value, 0) : NaN;
      }
      case 'binary': {
        const left = walk(node.left);
        const right = walk(node.right);
        const decided = node.op === 'and' ? left === 0 : node.op === 'or' && left !== 0;
        return isNumber(left) && (decided || isNumber(right)) ? applyBinary(node.op, left, right) : NaN;
      }
      case 'if': {
        const test = walk(node.test);
        const then = walk(node.then);
        const otherwise = walk(node.otherwise);
        return !isNumber(test) ? NaN : test !== 0 ? then : otherwise;
      }
      case 'probe':
        return moment.probe(node.kind, node.address, walk(node.frame), node);
      case 'measure':
        return moment.measure(node.kind, node.parts);
      case 'pinned':
        return moment.pinned(node.linkage, node.body, node.component);
      case 'level':
        return moment.level(node.sound, walk(node.low), walk(node.high));
      case 'call': {
        const args = node.args.map(walk);
        return args.every(isNumber) ? node.spec.compute(...args) : NaN;
      }
      case 'colour':
        return NaN;
    }
  };
  return walk(expression);
}

/** Every channel address that a formula reads, now or at another frame, each once. */
export function addressesRead(expression: Expression): string[] {
  const found = new Set<string>();
  eachNode(expression, (node) => {
    if ((node.type === 'channel' || node.type === 'probe') && node.address !== null) found.add(node.address);
    if (node.type === 'pinned')
      for (const address of node.linkage.inputs) if (address !== null) found.add(address);
  });
  return [...found];
}

/** Every part of which a formula measures something, each once. A path stands for the points below it. */
export function partsMeasured(expression: Expression): Readonly<Record<Measured, readonly string[]>> {
  const found = { pivot: new Set<string>(), place: new Set<string>(), path: new Set<string>() };
  eachNode(expression, (node) => {
    if (node.type === 'measure') node.parts.forEach((part, i) => found[MEASURED[node.kind][i]!].add(part));
  });
  return { pivot: [...found.pivot], place: [...found.place], path: [...found.path] };
}

/** Visits a formula and all its sub-formulas, outermost first. */
export function eachNode(expression: Expression, visit: (node: Expression) => void): void {
  visit(expression);
  for (const child of childrenOf(expression)) eachNode(child, visit);
}

/** Direct sub-formulas, left to right. */
export function childrenOf(node: Expression): readonly Expression[] {
  switch (node.type) {
    case 'negate':
    case 'not':
      return [node.operand];
    case 'binary':
      return [node.left, node.right];
    case 'if':
      return [node.test, node.then, node.otherwise];
    case 'call':
      return node.args;
    case 'probe':
      return [node.frame];
    case 'level':
      return [node.low, node.high];
    case 'colour':
      return node.components;
    default:
      return [];
  }
}

/** True when a formula reads the time or a sound; what channels and places it reads is judged by the caller. */
export function readsClock(expression: Expression): boolean {
  if (expression.type === 'clock') return !COPY_CLOCKS.has(expression.clock);
  // A probe's frame is a clock, but what it reads there may be the same for ever.
  if (expression.type === 'probe') return false;
  return expression.type === 'level' || childrenOf(expression).some(readsClock);
}

/** True when a formula reads how loud a sound is. */
export function readsSound(expression: Expression): boolean {
  return expression.type === 'level' || childrenOf(expression).some(readsSound);
}

/** True when a formula differs from copy to copy of a repeat. */
export function readsIndex(expression: Expression): boolean {
  return (
    (expression.type === 'clock' && COPY_CLOCKS.has(expression.clock)) ||
    childrenOf(expression).some(readsIndex)
  );
}

/** True when a formula differs from copy to copy of the repeat around its own repeat. */
export function readsOuter(expression: Expression): boolean {
  return (
    (expression.type === 'clock' && expression.clock === 'outer') || childrenOf(expression).some(readsOuter)
  );
}
