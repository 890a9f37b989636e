import { describe, expect, it } from 'vitest';
import { blankShot, type Shot } from '../document';
import { addPart, apply, setLink, setValues } from '../edit';
import { askedMoments, compile, Evaluator, MOMENTS_A_FRAME } from '../evaluate';
import { linkFromText, NameTable } from '../formula';
import { budgetTrouble, checkShot, TRIANGLES_A_FRAME } from './index';

/** Hubs in a row, the location of each asking for that of the one before at `asks` other moments. */
function row(length: number, asks: number): Shot {
  let shot: Shot = blankShot();
  const ids: string[] = [];
  for (let i = 0; i <= length; i++) {
    const { change, id } = addPart(shot, { kind: 'hub', name: `Hub ${i}` });
    shot = apply(shot, change);
    ids.push(id);
  }
  for (let i = 1; i <= length; i++) {
    const formula = Array.from({ length: asks }, (_, k) => `at(Hub_${i - 1}.location.x, frame - ${k + 1})`);
    const text = formula.join(' + ').replaceAll(/Hub_(\d+)/g, '"Hub $1"');
    const link = linkFromText(new NameTable(shot), text);
    const path = ['parts', ids[i]!, 'links', 'location.x'];
    shot = apply(shot, { label: '', patches: [{ path, after: link }] });
  }
  return shot;
}

describe('values asked for at other moments', () => {
  it('are counted as they are worked out', () => {
    // Counted by hand: the second hub asks twice for an unlinked value; the third twice for the second, each time the
    // second's link and its two looks; the fourth likewise.
    expect(askedMoments(compile(row(1, 2)))?.moments).toBe(2);
    expect(askedMoments(compile(row(2, 2)))?.moments).toBe(2 + 2 * (1 + 2));
    expect(askedMoments(compile(row(3, 2)))?.moments).toBe(2 + 6 + 2 * (1 + 6));
    expect(askedMoments(compile(row(0, 0)))).toBeNull();
  });

  it('are few in a long chain that asks once each, and are worked out', () => {
    const shot = row(40, 1);
    expect(budgetTrouble(compile(shot))).toBeNull();
    new Evaluator(compile(shot)).evaluate(10);
  });

  it.each([
    [6, 40],
    [12, 4],
  ])('are refused where they grow beyond all bounds: %d in a row of %d each', (length, asks) => {
    const shot = row(length, asks);
    const plan = compile(shot);
    expect(budgetTrouble(plan)).toMatch(
      /Formulas ask for [\d,]+ values at other moments in every frame: at most 500,000/,
    );
    // The check tells it without walking through the frames, which would be what it warns of.
    expect(checkShot(shot, plan)[0]).toMatchObject({ code: 'budget.moments', severity: 'error' });
    // Whoever evaluates it all the same gets the channels' own values, at once.
    const last = Object.keys(shot.parts).at(-1)!;
    const moved = apply(shot, setValues(shot, [[`${last}/location.x`, 7]]));
    const evaluator = new Evaluator(compile(moved));
    for (let frame = 1; frame <= 100; frame++) evaluator.evaluate(frame);
    expect(evaluator.number(`${last}/location.x`)).toBe(7);
  });

  it('are refused when the formula is made', () => {
    const shot = row(5, 10);
    expect(askedMoments(compile(shot))!.moments).toBeLessThan(MOMENTS_A_FRAME);
    const { change, id } = addPart(shot, { kind: 'hub', name: 'Last' });
    const longer = apply(shot, change);
    const asks = Array.from({ length: 12 }, (_, k) => `delay("Hub 5".location.x, ${k + 1})`).join(' + ');
    expect(() => setLink(longer, `${id}/location.x`, asks)).toThrow(
      /would ask for [\d,]+ values at other moments/,
    );
    expect(setLink(longer, `${id}/location.x`, 'delay("Hub 5".location.x, 3)').patches).toHaveLength(1);
  });
});

describe('triangles', () => {
  it('of copies beyond what can be drawn are told with the part that has most', () => {
    let shot: Shot = blankShot();
    const repeat = addPart(shot, { kind: 'repeat', name: 'Pennants' });
    shot = apply(shot, repeat.change);
    const solid = addPart(shot, {
      kind: 'solid',
      name: 'Pennant',
      shape: { kind: 'ball', values: { radius: 0.1 } },
      look: { values: {} },
    });
    shot = apply(shot, solid.change);
    shot = apply(shot, { label: '', patches: [{ path: ['parts', solid.id, 'parent'], after: repeat.id }] });
    shot = apply(shot, setValues(shot, [[`${repeat.id}/copies`, 100]]));
    expect(budgetTrouble(compile(shot))).toBeNull();
    shot = apply(shot, setValues(shot, [[`${repeat.id}/copies`, 1000]]));
    const outer = addPart(shot, { kind: 'repeat', name: 'Rows' });
    shot = apply(shot, outer.change);
    shot = apply(shot, { label: '', patches: [{ path: ['parts', repeat.id, 'parent'], after: outer.id }] });
    shot = apply(shot, setValues(shot, [[`${outer.id}/copies`, 100]]));
    expect(budgetTrouble(compile(shot))).toMatch(
      new RegExp(`at most ${TRIANGLES_A_FRAME.toLocaleString('en')} can be drawn. Pennant has most`),
    );
  });
});
