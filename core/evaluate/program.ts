import type { FunctionSpec } from '../formula';
import type { Kernel } from './kernels';

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
