import { describe, expect, it } from 'vitest';
import type { Shot } from '../document';
import { apply, setLink, setValues, unpackCopies } from '../edit';
import { emptyShot, hub, shape, solid } from '../testing/random-shot';
import { compile, Evaluator } from '.';
import { Reference } from './reference';

const repeat = (name: string, copies: number, parent: string | null, gap: number) =>
  hub(name, { kind: 'repeat', repeat: { pattern: 'row', step: null }, values: { copies, gap }, parent });

/** Rows of pennants: three lines, of each four pennants a metre apart. */
function lines(links: Readonly<Record<string, string>>, outermost = 1): Shot {
  let shot: Shot = {
    ...emptyShot(),
    parts: {
      prt_streets: repeat('Streets', outermost, null, 100),
      prt_lines: repeat('Lines', 3, 'prt_streets', 10),
      prt_row: repeat('Row', 4, 'prt_lines', 1),
      prt_flag: solid('Flag', 'shp_f', { parent: 'prt_row' }),
    },
    shapes: { shp_f: shape('box') },
    looks: { lok_a: { name: 'Plain', values: {}, tracks: {}, links: {} } },
  };
  for (const [path, formula] of Object.entries(links))
    shot = apply(shot, setLink(shot, `prt_row/${path}`, formula));
  return shot;
}

const placesOf = (shot: Shot): number[][] => {
  const evaluator = new Evaluator(compile(shot));
  evaluator.evaluate(1);
  const { count, matrices } = evaluator.copiesOf('prt_flag')!;
  return Array.from({ length: count }, (_, k) => [3, 7, 11].map((at) => matrices[k * 12 + at]!));
};

describe('copies of a repeat inside another one', () => {
  it('know which copy of the outer one they are in: each line hangs by its own rule', () => {
    const shot = lines({ 'copy.location.y': '0.5m * outer + 0.1m * index' }, 2);
    const places = placesOf(shot);
    expect(places).toHaveLength(24);
    places.forEach(([x, y, z], k) => {
      const [street, line, flag] = [Math.floor(k / 12), Math.floor(k / 4) % 3, k % 4];
      expect(x).toBeCloseTo(100 * street + 10 * line + flag, 12);
      expect(y).toBeCloseTo(0.5 * line + 0.1 * flag, 12);
      expect(z).toBe(0);
    });
    // The slow way, written apart, says the same.
    const slow = new Reference(shot, 1).copies('prt_flag');
    expect(slow.map(({ matrix }) => [3, 7, 11].map((at) => matrix[at]!))).toEqual(places);
  });

  it('shine by it as well, and follow when the outer one gets more copies', () => {
    const shot = lines({ 'copy.opacity': '1 - outer / 4', 'copy.location.z': 'outer * 1m' });
    const evaluator = new Evaluator(compile(shot));
    evaluator.evaluate(1);
    const before = evaluator.copiesOf('prt_flag')!;
    expect([0, 4, 8].map((k) => before.looks[k * 5])).toEqual([1, 0.75, 0.5]);
    const more = apply(shot, setValues(shot, [['prt_lines/copies', 5]]));
    expect(placesOf(more).map(([, , z]) => z)).toEqual(
      Array.from({ length: 20 }, (_, k) => Math.floor(k / 4)),
    );
  });

  it('are the first of it where there is no outer one', () => {
    const alone: Shot = { ...lines({ 'copy.location.y': '1m + outer * 1m' }) };
    const parts = { ...alone.parts, prt_row: { ...alone.parts.prt_row!, parent: null } };
    expect(placesOf({ ...alone, parts }).map(([, y]) => y)).toEqual([1, 1, 1, 1]);
  });

  it('stay where they are when the outer one is unpacked: what it told them becomes a number', () => {
    const shot = lines({ 'copy.location.y': '0.5m * outer + 0.1m * index', 'copy.opacity': '1 - outer / 4' });
    const before = placesOf(shot);
    const alone: Shot = {
      ...shot,
      parts: { ...shot.parts, prt_lines: { ...shot.parts.prt_lines!, parent: null } },
    };
    const after = apply(alone, unpackCopies(alone, 'prt_lines', 1, 2).change);
    const evaluator = new Evaluator(compile(after));
    evaluator.evaluate(1);
    const flags = Object.keys(after.parts).filter((id) => after.parts[id]!.name.startsWith('Flag'));
    expect(flags).toHaveLength(3);
    const heights = flags.flatMap((id) => {
      const { count, matrices } = evaluator.copiesOf(id)!;
      return Array.from({ length: count }, (_, k) => Math.round(matrices[k * 12 + 7]! * 1e6) / 1e6);
    });
    expect(heights.sort()).toEqual(before.map(([, y]) => Math.round(y! * 1e6) / 1e6).sort());
  });
});
