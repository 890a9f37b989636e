import type { Body, Finding } from '../../../../core/clearance';
import { shownLength } from '../../../../core/check';
import { subtreeOf, type Shot } from '../../../../core/document';

/** Depths below this are a touch, metres: as far as facets of round shapes may lie off. */
const TOUCH = 1e-4;

export const frameWords = (frame: number): string => String(Number(frame.toFixed(2)));

/** From when to when two bodies touch. */
export function stretchWords({ from, to }: Pick<Finding, 'from' | 'to'>): string {
  if (to === null) return `${frameWords(from)} - ...`;
  return from === to ? frameWords(from) : `${frameWords(from)} - ${frameWords(to)}`;
}

/** How deep a finding is, in the unit of the shot. */
export function depthWords(shot: Shot, { depth, still }: Finding): string {
  if (still) return 'stand in one another';
  if (depth === null) return 'looking...';
  return depth < TOUCH ? 'touch' : `${shownLength(shot, depth)} deep`;
}

/** Name of a body, with the number of its copy. */
export function bodyName(shot: Shot, { part, copy }: Body): string {
  const name = shot.parts[part]?.name ?? 'gone';
  return copy === null ? name : `${name}, copy ${copy + 1}`;
}

/** Whether a shot has been changed in anything that a check looks at. */
export function hasChanged(before: Shot, now: Shot): boolean {
  const { contacts: _before, ...then } = before;
  return Object.entries(then).some(([table, value]) => now[table as keyof Shot] !== value);
}

/** Whether one of two parts hangs from the other: what is watched of them would be within itself. */
export const holdOneAnother = (shot: Shot, a: string, b: string): boolean =>
  [...subtreeOf(shot, a)].includes(b) || [...subtreeOf(shot, b)].includes(a);
