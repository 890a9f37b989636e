import fc from 'fast-check';
import { expect, it } from 'vitest';
import { eachNode, FUNCTIONS, HSL_COMPONENT } from '../formula';
import { randomLoudness, randomShot } from '../testing/random-shot';
import { compile, Evaluator, Reference, type Plan } from './index';
import { KERNELS } from './kernels';
import { OP, STRIDE } from './program';

/** A fault put into a plan on purpose: what it does, and the plan with it, or `null` where the plan does not have the place. */
interface Fault {
  readonly name: string;
  readonly what: string;
  put(plan: Plan): Plan | null;
}

/** Numbers a little off, as a wrong constant or a wrong last step makes them. */
const off = (value: number): number => value + (Math.abs(value) + 1) * 1e-12;

function inFunction(name: string): Fault {
  const spec = name === 'hsl' ? HSL_COMPONENT : FUNCTIONS.get(name)!;
  return {
    name,
    what: 'result a little off where it is called',
    put: (plan) => {
      const called = plan.functions.indexOf(spec.compute);
      const kernel = KERNELS.get(name);
      const kernelAt = kernel ? plan.kernels.indexOf(kernel) : -1;
      if (called < 0 && kernelAt < 0) return null;
      return {
        ...plan,
        functions: plan.functions.map((compute, i) =>
          i === called ? (...args: number[]) => off(compute(...args)) : compute,
        ),
        kernels: plan.kernels.map((run, i) =>
          i !== kernelAt
            ? run
            : (v, dst, a, b, c) => {
                run(v, dst, a, b, c);
                v[dst] = off(v[dst]!);
              },
        ),
      };
    },
  };
}

const opAs = (name: string, from: number, to: number): Fault => ({
  name,
  what: `done as instruction ${to}`,
  put: (plan) => {
    const code = plan.code.slice();
    let found = false;
    for (let p = 0; p < code.length; p += STRIDE)
      if (code[p] === from) {
        code[p] = to;
        found = true;
      }
    return found ? { ...plan, code } : null;
  },
});

/** Operands of an instruction from `count` on exchanged: the mistake of a wrong place. */
const swapped = (name: string, op: number, one: number, other: number): Fault => ({
  name: `${name} operands`,
  what: `operands ${one} and ${other} exchanged`,
  put: (plan) => {
    const code = plan.code.slice();
    let found = false;
    for (let p = 0; p < code.length; p += STRIDE)
      if (code[p] === op && code[p + 1 + one] !== code[p + 1 + other]) {
        const first = code[p + 1 + one]!;
        code[p + 1 + one] = code[p + 1 + other]!;
        code[p + 1 + other] = first;
        found = true;
      }
    return found ? { ...plan, code } : null;
  },
});

type Asked = Plan['probes'][number]['kind'];
const probed = (name: Asked, as: Asked): Fault => ({
  name: name === 'at' ? 'at, delay' : name,
  what: `asked as ${as}`,
  put: (plan) =>
    plan.probes.some((probe) => probe.kind === name)
      ? {
          ...plan,
          probes: plan.probes.map((probe) => (probe.kind === name ? { ...probe, kind: as } : probe)),
        }
      : null,
});

const measured = (name: Plan['measures'][number]['kind'], as: Plan['measures'][number]['kind']): Fault => ({
  name,
  what: `measured as ${as}`,
  put: (plan) =>
    plan.measures.some((measure) => measure.kind === name)
      ? {
          ...plan,
          measures: plan.measures.map((measure) =>
            measure.kind === name ? { ...measure, kind: as } : measure,
          ),
        }
      : null,
});

/** The same fault, only where no other function shares the instruction. */
function alone(fault: Fault, others: readonly string[]): Fault {
  return {
    ...fault,
    put: (plan) => {
      const called = new Set<string>();
      for (const { expression } of plan.order)
        eachNode(expression!, (node) => called.add(node.type === 'call' ? node.spec.name : ''));
      return called.has(fault.name) && !others.some((name) => called.has(name)) ? fault.put(plan) : null;
    },
  };
}

/** Functions that are instructions of their own. */
const OWN_OPS: readonly Fault[] = [
  alone(opAs('sin', OP.SIN, OP.COS), ['wave']),
  opAs('cos', OP.COS, OP.SIN),
  alone(opAs('wave', OP.SIN, OP.ABS), ['sin']),
  opAs('sqrt', OP.SQRT, OP.ABS),
  opAs('abs', OP.ABS, OP.NEG),
  alone(opAs('min', OP.MIN, OP.MAX), ['clamp']),
  alone(opAs('max', OP.MAX, OP.MIN), ['clamp']),
  alone(opAs('clamp', OP.MIN, OP.ADD), ['min']),
];
const SPECIAL: readonly Fault[] = [
  probed('at', 'travel'),
  probed('speed', 'at'),
  probed('travel', 'at'),
  probed('gone', 'travel'),
  probed('since', 'at'),
  probed('ratchet', 'at'),
  {
    name: 'follow',
    what: 'spring a little stiffer',
    put: (plan) =>
      plan.probes.some(({ spring }) => spring)
        ? {
            ...plan,
            probes: plan.probes.map((probe) =>
              probe.spring
                ? { ...probe, spring: { ...probe.spring, stiffness: probe.spring.stiffness * 1.01 } }
                : probe,
            ),
          }
        : null,
  },
  measured('worldx', 'worldz'),
  measured('worldy', 'worldx'),
  measured('worldz', 'worldy'),
  measured('worldturnx', 'worldturny'),
  measured('worldturny', 'worldturnz'),
  measured('worldturnz', 'worldturnx'),
  measured('seenx', 'worldx'),
  measured('seeny', 'seenx'),
  measured('seenz', 'seeny'),
  measured('distance', 'worldx'),
  measured('pathlength', 'worldx'),
  {
    name: 'level',
    what: 'sound begins a frame late',
    put: (plan) =>
      plan.levels.length > 0
        ? {
            ...plan,
            levels: plan.levels.map((level) => ({
              ...level,
              piece: { ...level.piece, start: level.piece.start + 1 },
            })),
          }
        : null,
  },
];
const COLOURS: readonly Fault[] = [
  {
    name: 'colour',
    what: 'red given for blue',
    put: (plan) => {
      const code = plan.code.slice();
      let found = false;
      for (let p = STRIDE; p < code.length; p += STRIDE)
        if (code[p] === OP.LINK3) {
          // Blue is put beside the others right before.
          code[p - STRIDE + 2] = code[p + 2]!;
          found = true;
        }
      return found ? { ...plan, code } : null;
    },
  },
  {
    name: 'colour at another moment',
    what: 'green asked for red',
    put: (plan) => {
      const colours = plan.probes.filter(({ slot }) =>
        plan.probes.some((other) => other.kind === 'at' && other.slot === slot + 1),
      );
      return colours.length === 0
        ? null
        : {
            ...plan,
            probes: plan.probes.map((probe) =>
              colours.includes(probe) ? { ...probe, slot: probe.slot + 1 } : probe,
            ),
          };
    },
  },
];
const PINNED: Fault = {
  name: 'pinned',
  what: 'x given for y',
  put: (plan) =>
    plan.pinned.length > 0
      ? { ...plan, pinned: plan.pinned.map((one) => (one.component === 1 ? { ...one, component: 0 } : one)) }
      : null,
};
const OPERATORS: readonly Fault[] = [
  opAs('+', OP.ADD, OP.SUB),
  opAs('-', OP.SUB, OP.ADD),
  opAs('*', OP.MUL, OP.ADD),
  opAs('/', OP.DIV, OP.MUL),
  opAs('%', OP.MOD, OP.DIV),
  opAs('^', OP.POW, OP.MUL),
  opAs('<', OP.LT, OP.LE),
  opAs('<=', OP.LE, OP.LT),
  opAs('>', OP.GT, OP.GE),
  opAs('>=', OP.GE, OP.GT),
  opAs('==', OP.EQ, OP.NE),
  opAs('!=', OP.NE, OP.EQ),
  opAs('and', OP.AND, OP.OR),
  opAs('or', OP.OR, OP.AND),
  opAs('not', OP.NOT, OP.NEG),
  opAs('unary -', OP.NEG, OP.ABS),
  opAs('if', OP.SELECT, OP.MIN),
  swapped('if', OP.SELECT, 2, 3),
  swapped('-', OP.SUB, 1, 2),
  swapped('/', OP.DIV, 1, 2),
];

const named = new Set([...OWN_OPS, ...SPECIAL, ...COLOURS].flatMap(({ name }) => name.split(', ')));
const FAULTS: readonly Fault[] = [
  ...[...FUNCTIONS.keys()].filter((name) => !named.has(name)).map(inFunction),
  ...OWN_OPS,
  ...SPECIAL,
  ...COLOURS,
  PINNED,
  ...OPERATORS,
];

function differs(plan: Plan, frame: number): boolean {
  const reference = new Reference(plan.shot, frame, randomLoudness);
  const evaluator = new Evaluator(plan);
  evaluator.evaluate(frame);
  return plan.order.some(({ address, slot }) =>
    reference.value(address).some((number, i) => !Object.is(evaluator.values[slot + i], number)),
  );
}

it('the random documents find a fault in every function and operator', () => {
  const covered = new Set(FAULTS.flatMap(({ name }) => name.split(', ')));
  for (const name of FUNCTIONS.keys()) expect(covered.has(name), `no fault for ${name}`).toBe(true);
  const missing = new Set(FAULTS);
  const table: string[] = [];
  let documents = 0;
  const shots = fc.sample(randomShot, { numRuns: 4000 });
  for (const shot of shots) {
    if (missing.size === 0) break;
    documents++;
    const plan = compile(shot, randomLoudness);
    if (plan.order.length === 0) continue;
    for (const fault of [...missing]) {
      const faulty = fault.put(plan);
      if (!faulty || !differs(faulty, 7)) continue;
      missing.delete(fault);
      table.push(`${fault.name}: ${fault.what}: found in document ${documents}`);
    }
  }
  expect([...missing].map(({ name, what }) => `${name}: ${what}`)).toEqual([]);
  expect(table).toHaveLength(FAULTS.length);
  if (process.env.WHIRL_TABLE) process.stdout.write(`${table.join('\n')}\n`);
});
