import fc from 'fast-check';
import { expect, it } from 'vitest';
import type { Shot } from '../document';
import { compile, Evaluator } from '../evaluate';
import { checkTyped, completeFormula, formatFormula, FUNCTIONS, NameTable } from '../formula';
import { emptyShot, hub } from '../testing/random-shot';
import { apply, setLink } from './index';

const shot: Shot = {
  ...emptyShot(),
  parts: { prt_p: hub('Piston'), prt_w: hub('Wheel', { order: 1, values: { 'rotation.z': 12 } }) },
};
const ADDRESS = 'prt_w/rotation.z';
const names = new NameTable(shot);

const PIECES = [
  ...['own', 'Piston', 'Wheel', '.', 'location', 'rotation', 'x', 'z', '(', ')', ',', '+', '*', '/', '-'],
  ...['"', "'", '1e9', '1e999', '0', '.5', 'deg', 'm', 'f', 'Hz', '=', ' ', '<', 'dial', 'sound', 'é', '\\'],
  ...['\n', '#', 'frame', 'time', '^', '%', 'not ', ' and ', ' or ', 'if(', '[', ']', '😀', '\u0000'],
  ...FUNCTIONS.keys(),
];
const typed = fc
  .array(fc.oneof({ weight: 8, arbitrary: fc.constantFrom(...PIECES) }, fc.string({ maxLength: 3 })), {
    minLength: 1,
    maxLength: 20,
  })
  .map((pieces) => pieces.join(''));

it('whatever is typed is taken or refused with its place, and changes nothing else', () => {
  const count = { taken: 0, refused: 0 };
  fc.assert(
    fc.property(typed, fc.nat(), (text, at) => {
      const caret = at % (text.length + 1);
      const { from, to } = completeFormula(names, ADDRESS, text, caret);
      expect(from >= 0 && from <= to && to <= text.length).toBe(true);
      expect(typeof formatFormula(text)).toBe('string');
      const checked = checkTyped(names, ADDRESS, text);
      if (!checked.ok) {
        count.refused++;
        const { error } = checked;
        expect(error.message).not.toBe('');
        expect(error.from >= 0 && error.from <= error.to && error.to <= text.length).toBe(true);
        for (const fix of error.fixes) expect(fix.from >= 0 && fix.to <= text.length).toBe(true);
        return;
      }
      count.taken++;
      const next = apply(shot, setLink(shot, ADDRESS, text));
      const evaluator = new Evaluator(compile(next));
      evaluator.evaluate(7);
      expect(Number.isFinite(evaluator.number(ADDRESS))).toBe(true);
      expect(evaluator.number('prt_p/location.x')).toBe(0);
      expect({ ...next.parts.prt_w, links: {} }).toEqual(shot.parts.prt_w);
    }),
    { numRuns: 20_000 },
  );
  expect(count.taken).toBeGreaterThan(50);
  expect(count.refused).toBeGreaterThan(10_000);
});
