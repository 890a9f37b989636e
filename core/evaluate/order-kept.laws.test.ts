import fc from 'fast-check';
import { expect, it } from 'vitest';
import type { Link, Shot } from '../document';
import { emptyShot, hub } from '../testing/random-shot';
import { compile, Evaluator, Reference } from './index';

const PARTS = 7;
const PATHS = ['location.x', 'location.y'] as const;

/** A link that reads channels of other parts, which are linked themselves, or places of parts. */
const link: fc.Arbitrary<Link> = fc
  .tuple(
    fc.array(fc.tuple(fc.nat(PARTS - 1), fc.constantFrom(...PATHS, null)), { maxLength: 2 }),
    fc.integer({ min: 1, max: 9 }),
  )
  .map(([reads, add]) => ({
    formula: [
      `${add}m + frame * 1mm`,
      ...reads.map(([part, path]) => `${path ? `P${part}.${path}` : `worldx(P${part})`} / ${add}`),
    ].join(' + '),
    refs: Object.fromEntries(reads.map(([part]) => [`P${part}`, `prt_${part}`])),
  }));

const withLink = (shot: Shot, part: number, path: string, made: Link): Shot => {
  const id = `prt_${part}`;
  const old = shot.parts[id]!;
  return { ...shot, parts: { ...shot.parts, [id]: { ...old, links: { ...old.links, [path]: made } } } };
};

const start = fc.array(fc.tuple(link, link), { minLength: PARTS, maxLength: PARTS }).map((links): Shot => ({
  ...emptyShot(),
  parts: Object.fromEntries(
    links.map(([x, y], i) => [
      `prt_${i}`,
      hub(`Hub ${i}`, {
        order: i,
        parent: i % 3 === 2 ? `prt_${i - 1}` : null,
        links: { 'location.x': x, 'location.y': y },
      }),
    ]),
  ),
}));

it('formulas edited one after another run in an order in which each has what it reads', () => {
  const seen = { kept: 0, other: 0, loops: 0 };
  fc.assert(
    fc.property(
      start,
      fc.array(fc.tuple(fc.nat(PARTS - 1), fc.constantFrom(...PATHS), link), { minLength: 1, maxLength: 12 }),
      (first, edits) => {
        let shot = first;
        let plan = compile(shot);
        for (const [part, path, made] of edits) {
          shot = withLink(shot, part, path, made);
          const before = plan;
          plan = compile(shot, {}, before);
          if (!plan.memory.work) seen.loops++;
          else if (plan.memory.work === before.memory.work) seen.kept++;
          else seen.other++;
          const copy = structuredClone(shot);
          const fast = new Evaluator(plan);
          const anew = new Evaluator(compile(copy));
          for (const frame of [3, 20]) {
            fast.evaluate(frame);
            anew.evaluate(frame);
            const slow = new Reference(copy, frame);
            for (const id of Object.keys(shot.parts))
              for (const channel of PATHS) {
                const address = `${id}/${channel}`;
                const value = fast.number(address);
                if (!Object.is(value, anew.number(address)) || !Object.is(value, slow.value(address)[0]))
                  throw new Error(`${address} at ${frame}: ${value}, ${anew.number(address)} anew`);
              }
          }
        }
      },
    ),
    { numRuns: 150 },
  );
  for (const [what, count] of Object.entries(seen)) expect(count, what).toBeGreaterThan(10);
});
