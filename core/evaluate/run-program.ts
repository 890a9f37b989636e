import { floorMod, type FunctionSpec } from '../formula';
import { pow, sinCosDeg } from '../math';
import { constrain, FIT_PLAIN } from './constrain';
import { OP, STRIDE, type Program } from './program';

const trig = new Float64Array(2);

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
