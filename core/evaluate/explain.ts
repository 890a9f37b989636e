import {
  childrenOf,
  formulasOf,
  interpret,
  type Component,
  type Expression,
  type FormulaError,
  type Moment,
} from '../formula';
import type { Shot } from '../document';
import { orderOfSolution } from '../mechanism';
import type { Evaluator } from './evaluator';
import { CLOCK_SLOT } from './plan';

/** The moment that an evaluator last worked out, as the formula of a channel, or of a component of a colour, sees it. */
export function momentOf(evaluator: Evaluator, address: string, component: Component = 0): Moment {
  const { plan, instant } = evaluator;
  return {
    own: evaluator.own(address, component),
    clock: (name) => evaluator.values[CLOCK_SLOT[name]]!,
    channel: (other, part) => evaluator.component(other, part),
    probe: (kind, other, frame, { spring, pitch, component: part = 0 }) => {
      const first = other === null ? plan.linkOf.get(address)?.ownSlot : plan.slots.get(other);
      const slot = first === undefined ? NaN : first + part;
      const index = plan.probes.findIndex(
        (probe) =>
          probe.kind === kind &&
          probe.slot === slot &&
          probe.spring?.stiffness === spring?.stiffness &&
          probe.spring?.damping === spring?.damping &&
          probe.pitch === pitch,
      );
      return index < 0 ? NaN : instant.probe(index, frame);
    },
    measure: (kind, parts) => {
      const nodes = parts.map((part) => plan.nodeOf.get(part));
      const index = plan.measures.findIndex(
        (measure) => measure.kind === kind && measure.nodes.every((node, i) => node === nodes[i]),
      );
      return index < 0 ? NaN : instant.measure(index);
    },
    pinned: (linkage, body, component) => {
      const index = plan.pinned.findIndex(
        (one) =>
          plan.linkages[one.linkage]!.linkage === linkage && one.body === body && one.component === component,
      );
      return index < 0 ? NaN : instant.pinned(index);
    },
    level: (sound, low, high) => {
      const index = plan.levels.findIndex((level) => level.sound === sound);
      return index < 0 ? NaN : instant.level(index, low, high);
    },
  };
}

/**
 * Why a link gives no number at the evaluated frame, with the part of the formula at fault; `null` when it does
 * give one.
 */
export function explainFailure(evaluator: Evaluator, address: string): FormulaError | null {
  const link = evaluator.plan.linkOf.get(address);
  if (!link) return null;
  if (!link.expression) return link.error;
  for (const [i, formula] of formulasOf(link.expression).entries()) {
    const values = new Map<Expression, number>();
    interpret(formula, momentOf(evaluator, address, i as Component), (node, result) =>
      values.set(node, result),
    );
    const culprit = firstWithout(formula, values);
    if (culprit) return failureOf(culprit, values, evaluator.frame, evaluator.plan.shot);
  }
  return null;
}

/** The innermost sub-formula without a number that leaves the whole one without; `null` where the whole has one. */
function firstWithout(node: Expression, values: ReadonlyMap<Expression, number>): Expression | null {
  if (Number.isFinite(values.get(node))) return null;
  // A branch that is not taken takes no part.
  const parts =
    node.type === 'if' && Number.isFinite(values.get(node.test))
      ? [values.get(node.test) !== 0 ? node.then : node.otherwise]
      : childrenOf(node);
  for (const part of parts) {
    const found = firstWithout(part, values);
    if (found) return found;
  }
  return node;
}

function failureOf(
  node: Expression,
  values: ReadonlyMap<Expression, number>,
  frame: number,
  shot: Shot,
): FormulaError {
  const { from, to } = node;
  const end = 'The channel keeps its own value there.';
  const fault = (code: FormulaError['code'], message: string): FormulaError => ({
    code,
    from,
    to,
    message: `${message} ${end}`,
    fixes: [],
  });
  if (node.type === 'binary' && (node.op === '/' || node.op === '%') && values.get(node.right) === 0)
    return fault('division-by-zero', `Division by zero at frame ${frame}.`);
  if (node.type === 'pinned') {
    const { linkage, body } = node;
    const group = orderOfSolution(linkage.chain).find(({ bodies }) => bodies.includes(body));
    const names = (group?.bodies ?? [body]).map((one) => shot.parts[linkage.bodies[one] ?? '']?.name ?? '');
    return fault(
      'not-a-number',
      `At frame ${frame} the pins of ${names.join(', ')} do not reach one another.`,
    );
  }
  if (node.type === 'level')
    return fault(
      'not-a-number',
      `At frame ${frame} the loudness of the sound is not known: its file has not been read.`,
    );
  if (node.type === 'measure' && node.kind === 'pathlength')
    return fault('not-a-number', 'pathlength asks for a part that follows a path, this one follows none.');
  if (node.type !== 'call') return fault('not-a-number', `This has no value at frame ${frame}.`);
  const args = node.args.map((arg) => values.get(arg) ?? NaN);
  const why = node.spec.trouble?.(...args);
  if (why) return fault('not-a-number', `${node.spec.name} has no value at frame ${frame}: ${why}.`);
  const shown = args.map((arg) => Math.round(arg * 1000) / 1000).join(', ');
  return fault('not-a-number', `${node.spec.name} has no value at frame ${frame} for ${shown}.`);
}
