import { childrenOf, COMPONENTS, type ClockName, type Expression, type FunctionSpec } from '../formula';
import { KERNELS } from './kernels';
import { OP, type CallTable, type Segment } from './program';

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
