import { childrenOf, floorMod, type Expression, type FunctionSpec } from '../formula';
import { cosDeg, pow, sinDeg } from '../math';

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

const OP_OF_FUNCTION: Record<string, number> = { sin: OP.SIN, cos: OP.COS, sqrt: OP.SQRT, abs: OP.ABS };

/** Slots of the numbers that a formula can reach. */
export interface SlotMap {
  channel(address: string): number;
  clock(name: 'frame' | 'time' | 'progress'): number;
  constant(value: number): number;
  /** First of `count` temporary slots in a row, `offset` temporaries after the start. */
  temporary(offset: number, count: number): number;
}

/** Collects the instructions of all links of a plan into one flat program. */
export class ProgramBuilder {
  readonly code: number[] = [];
  readonly functions: FunctionSpec['compute'][] = [];
  private readonly functionIndex = new Map<string, number>();
  private used = 0;

  constructor(private readonly slots: SlotMap) {}

  /** Appends the instructions of one formula; its value ends in the slot returned. */
  add(expression: Expression, ownSlot: number): number {
    this.used = 0;
    return this.emit(expression, ownSlot);
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

  private functionOf(spec: FunctionSpec): number {
    let index = this.functionIndex.get(spec.name);
    if (index === undefined) {
      index = this.functions.push(spec.compute) - 1;
      this.functionIndex.set(spec.name, index);
    }
    return index;
  }

  private emit(node: Expression, own: number): number {
    switch (node.type) {
      case 'constant':
        return this.slots.constant(node.value);
      case 'channel':
        return this.slots.channel(node.address);
      case 'own':
        return own;
      case 'clock':
        return this.slots.clock(node.clock);
    }
    const mark = this.used;
    const inputs = childrenOf(node).map((child) => this.emit(child, own));
    const [a = 0, b = 0, c = 0] = inputs;
    if (node.type === 'call' && inputs.length > 3 && node.spec.name !== 'min' && node.spec.name !== 'max') {
      const first = this.temporaries(inputs.length);
      inputs.forEach((slot, i) => this.push(OP.MOVE, first + i, slot));
      return this.push(OP.CALLN, this.temporaries(1), this.functionOf(node.spec), first, inputs.length);
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
    }
  }

  private call(spec: FunctionSpec, dst: number, inputs: readonly number[]): number {
    const [a = 0, b = 0, c = 0] = inputs;
    if (spec.name === 'min' || spec.name === 'max') {
      const op = spec.name === 'min' ? OP.MIN : OP.MAX;
      this.push(op, dst, a, b);
      for (const slot of inputs.slice(2)) this.push(op, dst, dst, slot);
      return dst;
    }
    const direct = OP_OF_FUNCTION[spec.name];
    if (direct !== undefined) return this.push(direct, dst, a);
    const index = this.functionOf(spec);
    if (inputs.length === 1) return this.push(OP.CALL1, dst, index, a);
    if (inputs.length === 2) return this.push(OP.CALL2, dst, index, a, b);
    return this.push(OP.CALL3, dst, index, a, b, c);
  }
}

/** Runs instructions `[from, to)` of a program over the slots `v`. */
export function run(
  code: Int32Array,
  from: number,
  to: number,
  v: Float64Array,
  functions: readonly FunctionSpec['compute'][],
): void {
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
      case OP.DIV:
        v[dst] = a / v[code[p + 3]!]!;
        break;
      case OP.MOD:
        v[dst] = floorMod(a, v[code[p + 3]!]!);
        break;
      case OP.POW:
        v[dst] = pow(a, v[code[p + 3]!]!);
        break;
      case OP.LT:
        v[dst] = a < v[code[p + 3]!]! ? 1 : 0;
        break;
      case OP.LE:
        v[dst] = a <= v[code[p + 3]!]! ? 1 : 0;
        break;
      case OP.GT:
        v[dst] = a > v[code[p + 3]!]! ? 1 : 0;
        break;
      case OP.GE:
        v[dst] = a >= v[code[p + 3]!]! ? 1 : 0;
        break;
      case OP.EQ:
        v[dst] = a === v[code[p + 3]!]! ? 1 : 0;
        break;
      case OP.NE:
        v[dst] = a !== v[code[p + 3]!]! ? 1 : 0;
        break;
      case OP.AND:
        v[dst] = a !== 0 && v[code[p + 3]!]! !== 0 ? 1 : 0;
        break;
      case OP.OR:
        v[dst] = a !== 0 || v[code[p + 3]!]! !== 0 ? 1 : 0;
        break;
      case OP.NEG:
        v[dst] = -a;
        break;
      case OP.NOT:
        v[dst] = a === 0 ? 1 : 0;
        break;
      case OP.SELECT:
        v[dst] = a !== 0 ? v[code[p + 3]!]! : v[code[p + 4]!]!;
        break;
      case OP.SIN:
        v[dst] = sinDeg(a);
        break;
      case OP.COS:
        v[dst] = cosDeg(a);
        break;
      case OP.SQRT:
        v[dst] = Math.sqrt(a);
        break;
      case OP.ABS:
        v[dst] = Math.abs(a);
        break;
      case OP.MIN:
        v[dst] = Math.min(a, v[code[p + 3]!]!);
        break;
      case OP.MAX:
        v[dst] = Math.max(a, v[code[p + 3]!]!);
        break;
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
    }
  }
}

function callMany(compute: FunctionSpec['compute'], v: Float64Array, first: number, count: number): number {
  if (count === 4) return compute(v[first]!, v[first + 1]!, v[first + 2]!, v[first + 3]!);
  if (count === 5) return compute(v[first]!, v[first + 1]!, v[first + 2]!, v[first + 3]!, v[first + 4]!);
  return compute(...v.subarray(first, first + count));
}
