import {
  childrenOf,
  COMPONENTS,
  floorMod,
  type ClockName,
  type Expression,
  type FunctionSpec,
} from '../formula';
import { pow, sinCosDeg } from '../math';
import { constrain, FIT_PLAIN } from './constrain';
import { KERNELS, type Kernel } from './kernels';

/** Numbers per instruction: operation, destination slot, up to four operands. */
export const STRIDE = 6;

export const OP = {
  MOVE: 0,
  ADD: 1,
  SUB: 2,
  MUL: 3,
  DIV: 4,
  MOD: 5,
  POW: 6,
  LT: 7,
  LE: 8,
  GT: 9,
  GE: 10,
  EQ: 11,
  NE: 12,
  AND: 13,
  OR: 14,
  NEG: 15,
  NOT: 16,
  SELECT: 17,
  SIN: 18,
  COS: 19,
  SQRT: 20,
  ABS: 21,
  MIN: 22,
  MAX: 23,
  CALL1: 24,
  CALL2: 25,
  CALL3: 26,
  CALLN: 27,
  /** Ends a link: its result if that is a finite number, fitted to the channel, else the channel's own value. */
  LINK: 28,
  PROBE: 29,
  MEASURE: 30,
  LEVEL: 31,
  KERNEL: 32,
  PINNED: 33,
  /** Ends the link of a colour, whose components lie side by side: all three, or the channel's own value. */
  LINK3: 34,
} as const;

const OP_OF_BINARY = {
  '+': OP.ADD,
  '-': OP.SUB,
  '*': OP.MUL,
  '/': OP.DIV,
  '%': OP.MOD,
  '^': OP.POW,
  '<': OP.LT,
  '<=': OP.LE,
  '>': OP.GT,
  '>=': OP.GE,
  '==': OP.EQ,
  '!=': OP.NE,
  and: OP.AND,
  or: OP.OR,
} as const;

const OP_OF_FUNCTION: ReadonlyMap<string, number> = new Map([
  ['sin', OP.SIN],
  ['cos', OP.COS],
  ['wave', OP.SIN],
  ['sqrt', OP.SQRT],
  ['abs', OP.ABS],
]);

type Special = Extract<Expression, { type: 'probe' | 'measure' | 'level' | 'pinned' }>;

/** Slots of the numbers that a formula can reach, and numbers of what it asks of the shot. */
export interface SlotMap {
  channel(address: string): number;
  clock(name: ClockName): number;
  constant(value: number): number;
  /** First of `count` temporary slots in a row, `offset` temporaries after the start. */
  temporary(offset: number, count: number): number;
  special(node: Special, own: string): number;
}

/** Functions and kernels that programs call by number; they only grow from a plan to the next. */
export class CallTable {
  readonly functions: FunctionSpec['compute'][];
  readonly kernels: Kernel[];
  private readonly numbers: Map<string, number>;

  constructor(before: CallTable | null) {
    this.functions = [...(before?.functions ?? [])];
    this.kernels = [...(before?.kernels ?? [])];
    this.numbers = new Map(before?.numbers);
  }

  functionOf(spec: FunctionSpec): number {
    return this.number(`f ${spec.name}`, () => this.functions.push(spec.compute) - 1);
  }

  kernelOf(name: string, kernel: Kernel): number {
    return this.number(`k ${name}`, () => this.kernels.push(kernel) - 1);
  }

  private number(key: string, add: () => number): number {
    let number = this.numbers.get(key);
    if (number === undefined) {
      number = add();
      this.numbers.set(key, number);
    }
    return number;
  }
}

/** Instructions of one link. */
export interface Segment {
  readonly code: Int32Array;
  /** Whether they name a probe, a measure or a level, whose numbers hold for one plan only. */
  readonly special: boolean;
}

/** Where in the last instruction of a segment the number of its link stands. */
const INDEX_FROM_END = STRIDE - 4;

/**
 * Puts segments one after another, and tells each the number of its link, which is its place in the list.
 * @returns `starts`: where each begins, and where the last one ends
 */
export function joinSegments(segments: readonly Segment[]): Pick<Program, 'code' | 'starts'> {
  const starts = new Int32Array(segments.length + 1);
  for (let i = 0; i < segments.length; i++) starts[i + 1] = starts[i]! + segments[i]!.code.length;
  const code = new Int32Array(starts[segments.length]!);
  for (let i = 0; i < segments.length; i++) {
    code.set(segments[i]!.code, starts[i]);
    code[starts[i + 1]! - INDEX_FROM_END] = i;
  }
  return { code, starts };
}

/** Writes the instructions of links, one link at a time. */
export class ProgramBuilder {
  private code: number[] = [];
  private used = 0;
  private address = '';
  private special = false;

  constructor(
    private readonly slots: SlotMap,
    private readonly calls: CallTable,
  ) {}

  /** The instructions of one link: formula, or three for a colour, then the end that writes the channel. */
  segment(expression: Expression, link: { address: string; slot: number; ownSlot: number }): Segment {
    this.code = [];
    this.used = 0;
    this.special = false;
    this.address = link.address;
    if (expression.type === 'colour') {
      const first = this.temporaries(3);
      const mark = this.used;
      for (const component of COMPONENTS) {
        const made = this.emit(expression.components[component], link.ownSlot + component);
        this.push(OP.MOVE, first + component, made);
        this.used = mark;
      }
      this.push(OP.LINK3, link.slot, first, link.ownSlot);
    } else this.push(OP.LINK, link.slot, this.emit(expression, link.ownSlot), link.ownSlot);
    return { code: Int32Array.from(this.code), special: this.special };
  }

  private temporaries(count: number): number {
    const slot = this.slots.temporary(this.used, count);
    this.used += count;
    return slot;
  }

  private push(op: number, dst: number, a = 0, b = 0, c = 0, d = 0): number {
    this.code.push(op, dst, a, b, c, d);
    return dst;
  }

  private emit(node: Expression, own: number): number {
    switch (node.type) {
      case 'constant':
        return this.slots.constant(node.value);
      case 'channel':
        return this.slots.channel(node.address) + (node.component ?? 0);
      case 'own':
        return own;
      case 'clock':
        return this.slots.clock(node.clock);
    }
    if (node.type === 'call' && node.spec.name === 'clamp') return this.clamp(node.args, own);
    const mark = this.used;
    const inputs = childrenOf(node).map((child) => this.emit(child, own));
    const [a = 0, b = 0, c = 0] = inputs;
    const kernel = node.type === 'call' ? KERNELS.get(node.spec.name) : undefined;
    if (node.type === 'call' && kernel && inputs.length <= 3) {
      this.used = mark;
      return this.push(OP.KERNEL, this.temporaries(1), this.calls.kernelOf(node.spec.name, kernel), a, b, c);
    }
    if (node.type === 'call' && inputs.length > 3 && node.spec.name !== 'min' && node.spec.name !== 'max') {
      const first = this.temporaries(inputs.length);
      inputs.forEach((slot, i) => this.push(OP.MOVE, first + i, slot));
      // Every result lies where its sub-formula began, so that those of several arguments lie side by side.
      this.used = mark;
      const dst = this.temporaries(1);
      return kernel
        ? this.push(OP.KERNEL, dst, this.calls.kernelOf(node.spec.name, kernel), first, first + 1, first + 2)
        : this.push(OP.CALLN, dst, this.calls.functionOf(node.spec), first, inputs.length);
    }
    this.used = mark;
    const dst = this.temporaries(1);
    switch (node.type) {
      case 'negate':
        return this.push(OP.NEG, dst, a);
      case 'not':
        return this.push(OP.NOT, dst, a);
      case 'binary':
        // pow(x, 2) is x * x to the bit.
        if (node.op === '^' && node.right.type === 'constant' && node.right.value === 2)
          return this.push(OP.MUL, dst, a, a);
        return this.push(OP_OF_BINARY[node.op], dst, a, b);
      case 'if':
        return this.push(OP.SELECT, dst, a, b, c);
      case 'call':
        return this.call(node.spec, dst, inputs);
      case 'probe':
        return this.push(OP.PROBE, dst, this.specialOf(node), a);
      case 'measure':
        return this.push(OP.MEASURE, dst, this.specialOf(node));
      case 'pinned':
        return this.push(OP.PINNED, dst, this.specialOf(node));
      case 'level':
        return this.push(OP.LEVEL, dst, this.specialOf(node), a, b);
      case 'colour':
        throw new Error('A colour stands inside a formula.');
    }
  }

  private specialOf(node: Special): number {
    this.special = true;
    return this.slots.special(node, this.address);
  }

  /** The larger of `low` and the smaller of `high` and x. */
  private clamp(args: readonly Expression[], own: number): number {
    const mark = this.used;
    const [x = 0, low = 0, high = 0] = args.map((arg) => this.emit(arg, own));
    this.used = mark;
    const dst = this.temporaries(1);
    // Arguments that were worked out just before lie from `mark` on: `low` must outlive the first step.
    if (low === dst) {
      const aside = this.slots.temporary(this.used + args.length, 1);
      this.push(OP.MOVE, aside, low);
      this.push(OP.MIN, dst, high, x);
      return this.push(OP.MAX, dst, aside, dst);
    }
    this.push(OP.MIN, dst, high, x);
    return this.push(OP.MAX, dst, low, dst);
  }

  private call(spec: FunctionSpec, dst: number, inputs: readonly number[]): number {
    const [a = 0, b = 0, c = 0] = inputs;
    if (spec.name === 'min' || spec.name === 'max') {
      const op = spec.name === 'min' ? OP.MIN : OP.MAX;
      // The first step must not write where a later argument stands.
      const into = inputs.slice(2).includes(dst) ? this.temporaries(inputs.length) + inputs.length - 1 : dst;
      this.push(op, into, a, b);
      for (const slot of inputs.slice(2)) this.push(op, into, into, slot);
      return into;
    }
    const direct = OP_OF_FUNCTION.get(spec.name);
    if (direct !== undefined) return this.push(direct, dst, a);
    const index = this.calls.functionOf(spec);
    if (inputs.length === 1) return this.push(OP.CALL1, dst, index, a);
    if (inputs.length === 2) return this.push(OP.CALL2, dst, index, a, b);
    return this.push(OP.CALL3, dst, index, a, b, c);
  }
}

const trig = new Float64Array(2);

/** A flat program with what its links need at their ends, by number. */
export interface Program {
  readonly code: Int32Array;
  /** Where the instructions of each link in force begin, and where those of the last one end. */
  readonly starts: Int32Array;
  readonly functions: readonly FunctionSpec['compute'][];
  readonly kernels: readonly Kernel[];
  readonly fit: Uint8Array;
  readonly min: Float64Array;
  readonly max: Float64Array;
}

/** Numbers that a program works on, and what it can ask. */
export interface Machine {
  readonly values: Float64Array;
  /** 1 for each link whose result was no finite number. */
  readonly failed: Uint8Array;
  probe(index: number, frame: number): number;
  measure(index: number): number;
  level(index: number, low: number, high: number): number;
  pinned(index: number): number;
}

/**
 * Runs links `[first, last)` of a program. What is no finite number stays none: no instruction makes a number of it,
 * but for the branch of `if` that is not taken and the right side of `and` and `or` where the left one decides.
 * `x - x` is 0 for a finite number and none for any other. It is written out each time: this function is too long for
 * the engine to take another into it, and a call makes its numbers on the heap; so does a choice between a number and NaN
 * in one expression.
 */
export function run(program: Program, first: number, last: number, machine: Machine): void {
  const from = program.starts[first]!;
  const to = program.starts[last]!;
  const { code, functions, kernels, fit, min, max } = program;
  const { values: v, failed } = machine;
  for (let p = from; p < to; p += STRIDE) {
    const dst = code[p + 1]!;
    const a = v[code[p + 2]!]!;
    switch (code[p]) {
      case OP.MOVE:
        v[dst] = a;
        break;
      case OP.ADD:
        v[dst] = a + v[code[p + 3]!]!;
        break;
      case OP.SUB:
        v[dst] = a - v[code[p + 3]!]!;
        break;
      case OP.MUL:
        v[dst] = a * v[code[p + 3]!]!;
        break;
      case OP.DIV: {
        const b = v[code[p + 3]!]!;
        if (b - b === 0) v[dst] = a / b;
        else v[dst] = NaN;
        break;
      }
      case OP.MOD:
        v[dst] = floorMod(a, v[code[p + 3]!]!);
        break;
      case OP.POW: {
        const b = v[code[p + 3]!]!;
        if (a - a + (b - b) === 0) v[dst] = pow(a, b);
        else v[dst] = NaN;
        break;
      }
      case OP.LT: {
        const b = v[code[p + 3]!]!;
        if (a - a + (b - b) !== 0) v[dst] = NaN;
        else v[dst] = a < b ? 1 : 0;
        break;
      }
      case OP.LE: {
        const b = v[code[p + 3]!]!;
        if (a - a + (b - b) !== 0) v[dst] = NaN;
        else v[dst] = a <= b ? 1 : 0;
        break;
      }
      case OP.GT: {
        const b = v[code[p + 3]!]!;
        if (a - a + (b - b) !== 0) v[dst] = NaN;
        else v[dst] = a > b ? 1 : 0;
        break;
      }
      case OP.GE: {
        const b = v[code[p + 3]!]!;
        if (a - a + (b - b) !== 0) v[dst] = NaN;
        else v[dst] = a >= b ? 1 : 0;
        break;
      }
      case OP.EQ: {
        const b = v[code[p + 3]!]!;
        if (a - a + (b - b) !== 0) v[dst] = NaN;
        else v[dst] = a === b ? 1 : 0;
        break;
      }
      case OP.NE: {
        const b = v[code[p + 3]!]!;
        if (a - a + (b - b) !== 0) v[dst] = NaN;
        else v[dst] = a !== b ? 1 : 0;
        break;
      }
      case OP.AND: {
        const b = v[code[p + 3]!]!;
        if (a - a !== 0) v[dst] = NaN;
        else if (a === 0) v[dst] = 0;
        else if (b - b !== 0) v[dst] = NaN;
        else v[dst] = b !== 0 ? 1 : 0;
        break;
      }
      case OP.OR: {
        const b = v[code[p + 3]!]!;
        if (a - a !== 0) v[dst] = NaN;
        else if (a !== 0) v[dst] = 1;
        else if (b - b !== 0) v[dst] = NaN;
        else v[dst] = b !== 0 ? 1 : 0;
        break;
      }
      case OP.NEG:
        v[dst] = -a;
        break;
      case OP.NOT:
        if (a - a !== 0) v[dst] = NaN;
        else v[dst] = a === 0 ? 1 : 0;
        break;
      case OP.SELECT:
        if (a - a !== 0) v[dst] = NaN;
        else if (a !== 0) v[dst] = v[code[p + 3]!]!;
        else v[dst] = v[code[p + 4]!]!;
        break;
      case OP.SIN:
        sinCosDeg(trig, 0, v, code[p + 2]!);
        v[dst] = trig[0]!;
        break;
      case OP.COS:
        sinCosDeg(trig, 0, v, code[p + 2]!);
        v[dst] = trig[1]!;
        break;
      case OP.SQRT:
        v[dst] = Math.sqrt(a);
        break;
      case OP.ABS:
        v[dst] = Math.abs(a);
        break;
      case OP.MIN: {
        const b = v[code[p + 3]!]!;
        if (a - a + (b - b) === 0) v[dst] = Math.min(a, b);
        else v[dst] = NaN;
        break;
      }
      case OP.MAX: {
        const b = v[code[p + 3]!]!;
        if (a - a + (b - b) === 0) v[dst] = Math.max(a, b);
        else v[dst] = NaN;
        break;
      }
      case OP.CALL1:
        v[dst] = functions[code[p + 2]!]!(v[code[p + 3]!]!);
        break;
      case OP.CALL2:
        v[dst] = functions[code[p + 2]!]!(v[code[p + 3]!]!, v[code[p + 4]!]!);
        break;
      case OP.CALL3:
        v[dst] = functions[code[p + 2]!]!(v[code[p + 3]!]!, v[code[p + 4]!]!, v[code[p + 5]!]!);
        break;
      case OP.CALLN:
        v[dst] = callMany(functions[code[p + 2]!]!, v, code[p + 3]!, code[p + 4]!);
        break;
      case OP.LINK: {
        const index = code[p + 4]!;
        const sound = a - a === 0;
        failed[index] = sound ? 0 : 1;
        if (!sound) v[dst] = v[code[p + 3]!]!;
        else if (fit[index] === FIT_PLAIN)
          v[dst] = a < min[index]! ? min[index]! : a > max[index]! ? max[index]! : a;
        else v[dst] = constrain(a, fit[index]!, min[index]!, max[index]!);
        break;
      }
      case OP.KERNEL:
        kernels[code[p + 2]!]!(v, dst, code[p + 3]!, code[p + 4]!, code[p + 5]!);
        break;
      case OP.PROBE:
        v[dst] = machine.probe(code[p + 2]!, v[code[p + 3]!]!);
        break;
      case OP.MEASURE:
        v[dst] = machine.measure(code[p + 2]!);
        break;
      case OP.PINNED:
        v[dst] = machine.pinned(code[p + 2]!);
        break;
      case OP.LEVEL:
        v[dst] = machine.level(code[p + 2]!, v[code[p + 3]!]!, v[code[p + 4]!]!);
        break;
      case OP.LINK3:
        linkColour(program, v, failed, p);
        break;
    }
  }
}

/** As the end of a link of one number, for three that stand or fall together. */
function linkColour({ code, fit, min, max }: Program, v: Float64Array, failed: Uint8Array, p: number): void {
  const dst = code[p + 1]!;
  const made = code[p + 2]!;
  const index = code[p + 4]!;
  const sound = v[made]! - v[made]! + (v[made + 1]! - v[made + 1]!) + (v[made + 2]! - v[made + 2]!) === 0;
  failed[index] = sound ? 0 : 1;
  const from = sound ? made : code[p + 3]!;
  for (let c = 0; c < 3; c++) {
    const value = v[from + c]!;
    v[dst + c] = sound ? constrain(value, fit[index]!, min[index]!, max[index]!) : value;
  }
}

function callMany(compute: FunctionSpec['compute'], v: Float64Array, first: number, count: number): number {
  if (count === 4) return compute(v[first]!, v[first + 1]!, v[first + 2]!, v[first + 3]!);
  if (count === 5) return compute(v[first]!, v[first + 1]!, v[first + 2]!, v[first + 3]!, v[first + 4]!);
  if (count === 6)
    return compute(v[first]!, v[first + 1]!, v[first + 2]!, v[first + 3]!, v[first + 4]!, v[first + 5]!);
  return compute(...v.subarray(first, first + count));
}
