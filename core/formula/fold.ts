import { applyBinary, type Expression } from './expression';

/** What is worked out of constants alone as one constant; everything else as it is. */
export function folded(node: Expression): Expression {
  const value = foldedValue(node);
  if (value === null) return node;
  return { type: 'constant', value, dimension: node.dimension, from: node.from, to: node.to };
}

/** Value of a node whose inputs are all constants; `null` otherwise and where the result is no finite number. */
function foldedValue(node: Expression): number | null {
  let value: number;
  if (node.type === 'negate' && node.operand.type === 'constant') value = -node.operand.value;
  else if (node.type === 'binary' && node.left.type === 'constant' && node.right.type === 'constant')
    value = applyBinary(node.op, node.left.value, node.right.value);
  else if (node.type === 'call' && node.args.every((arg) => arg.type === 'constant'))
    value = node.spec.compute(...node.args.map((arg) => (arg.type === 'constant' ? arg.value : NaN)));
  else return null;
  return Number.isFinite(value) ? value : null;
}
