import type { Plan, PlannedLink } from './plan';

/**
 * How the values of links in force are kept within limits, in the order of the links.
 * @param before the plan before: its lists are taken over where nothing in them is another
 */
export function limitsOf(
  order: readonly PlannedLink[],
  before: Plan | null,
): Pick<Plan, 'fit' | 'min' | 'max'> {
  const same = (link: PlannedLink, i: number): boolean => {
    const was = before!.order[i]!;
    return link === was || (link.fit === was.fit && link.min === was.min && link.max === was.max);
  };
  if (before?.order.length === order.length && order.every(same)) {
    const { fit, min, max } = before;
    return { fit, min, max };
  }
  return {
    fit: Uint8Array.from(order, (link) => link.fit),
    min: Float64Array.from(order, (link) => link.min),
    max: Float64Array.from(order, (link) => link.max),
  };
}
