import { expect } from 'vitest';
import { checkStructure, splitAddress, type Shot } from '../document';
import { apply, compose, setLink } from '../edit';
import { compile, Evaluator } from '../evaluate';
import { applyRecipe, buildParts, FACT_MEASURES, RECIPES, type Roles, type Settings } from '../recipe';
import { emptyShot } from './random-shot';

export type Point = [number, number];

/** Numbers that a kind of recipe begins with. */
export const initialOf = (kind: string): Settings =>
  Object.fromEntries(RECIPES.get(kind)!.settings.map(({ name, initial }) => [name, initial]));

/** A shot in which the parts of a recipe are built and linked, and nothing turns yet. */
export function builtShot(
  kind: string,
  settings: Settings,
  random?: () => number,
): {
  shot: Shot;
  id: string;
  roles: Roles;
  slots: Readonly<Record<string, string>>;
  facts: Record<string, number>;
  warnings: readonly string[];
} {
  const complete = { ...initialOf(kind), ...settings };
  const shot = emptyShot();
  const parts = buildParts(shot, kind, complete, random);
  const withParts = apply(shot, parts.change);
  const made = applyRecipe(withParts, RECIPES.get(kind)!, parts.roles, complete, {
    built: parts.slots,
    random,
  });
  const whole = apply(shot, compose(parts.change, made.change));
  expect(checkStructure(whole)).toEqual([]);
  for (const name of Object.keys(made.written.facts ?? {}))
    expect(FACT_MEASURES, `what "${name}" measures`).toHaveProperty([name]);
  return {
    shot: whole,
    id: made.id,
    roles: parts.roles,
    slots: parts.slots,
    facts: { ...made.written.facts },
    warnings: made.written.warnings ?? [],
  };
}

/**
 * The same with its driver turned: one turn in 720 frames of half a degree, or by a formula of the frame. Places are asked
 * in the measure of a part, by its name.
 */
export function built(kind: string, settings: Settings, by = 'frame * 0.5deg') {
  const made = builtShot(kind, settings);
  const driver = [Object.values(made.roles)[0]!].flat()[0]!;
  const shown = apply(made.shot, setLink(made.shot, (made.roles.driver as string | undefined) ?? driver, by));
  const evaluator = new Evaluator(compile(shown));
  const at = (frame: number): Evaluator => {
    evaluator.evaluate(frame);
    return evaluator;
  };
  const idOf = (name: string): string =>
    Object.keys(shown.parts).find((id) => shown.parts[id]!.name === name)!;
  const world = (name: string, x: number, y: number, z = 0): [number, number, number] => {
    const m = evaluator.worldOf(idOf(name))!;
    return [0, 4, 8].map((row) => m[row]! * x + m[row + 1]! * y + m[row + 2]! * z + m[row + 3]!) as [
      number,
      number,
      number,
    ];
  };
  const place = (name: string, x: number, y: number): Point => {
    const [wx, wy] = world(name, x, y);
    return [wx, wy];
  };
  const shapeOf = (name: string) => shown.shapes[shown.parts[idOf(name)]!.shape!]!;
  const valueOf = (role: string): number => evaluator.number(made.roles[role] as string);
  return {
    ...made,
    shot: shown,
    at,
    place,
    world,
    idOf,
    shapeOf,
    valueOf,
    evaluator,
    driver: splitAddress(driver),
  };
}

/** Even-odd rule; how deep inside does not matter here. */
export function inside(polygon: readonly Point[], [x, y]: Point): boolean {
  let found = false;
  for (let i = 0, j = polygon.length - 1; i < polygon.length; j = i++) {
    const [[ax, ay], [bx, by]] = [polygon[i]!, polygon[j]!];
    if (ay > y !== by > y && x < ((bx - ax) * (y - ay)) / (by - ay) + ax) found = !found;
  }
  return found;
}

/** Shortest distance of a point from the edge of a polygon. */
export function fromEdge(polygon: readonly Point[], [x, y]: Point): number {
  let least = Infinity;
  for (let i = 0; i < polygon.length; i++) {
    const [[ax, ay], [bx, by]] = [polygon[i]!, polygon[(i + 1) % polygon.length]!];
    const [dx, dy] = [bx - ax, by - ay];
    const t = Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy || 1)));
    least = Math.min(least, Math.hypot(x - ax - t * dx, y - ay - t * dy));
  }
  return least;
}
