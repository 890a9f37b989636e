import { describe, expect, it, vi } from 'vitest';
import { channelAt, type Shot } from '../../../../core/document';
import { compile, Evaluator } from '../../../../core/evaluate';
import { NameTable } from '../../../../core/formula';
import { emptyShot, hub } from '../../../../core/testing/random-shot';
import { workbench } from '../actions/testing';
import { hoverAt, keepTyped, marksOf, readBar, type BarReading } from './bar-reading';

vi.mock('sonner', () => ({ toast: Object.assign(() => undefined, { error: () => undefined }) }));

const WHEEL = 'prt_w/rotation.z';
const linked = { formula: 'Pinion.rotation.z * -0.5', refs: { Pinion: 'prt_p' } };
const shot: Shot = {
  ...emptyShot(),
  parts: {
    prt_p: hub('Pinion', { values: { 'rotation.z': 30 } }),
    prt_w: hub('Wheel', { order: 1, links: { 'rotation.z': linked } }),
  },
};

function bar(address: string, typed: string | null, of = shot): BarReading & { evaluator: Evaluator } {
  const plan = compile(of);
  const evaluator = new Evaluator(plan);
  evaluator.evaluate(1);
  const colour = channelAt(of, address)?.spec.kind === 'colour';
  const value = colour ? evaluator.colour(address) : evaluator.number(address);
  const reading = readBar({ shot: of, plan, evaluator, names: new NameTable(of), address, value, typed });
  return { ...reading!, evaluator };
}

describe('what the bar shows', () => {
  it('a link as it stands, with its value; a value as it is typed', () => {
    expect(bar(WHEEL, null)).toMatchObject({ text: '= Pinion.rotation.z * -0.5', problem: null, lead: 2 });
    expect(bar(WHEEL, null).result).toBe('−15°');
    expect(bar('prt_p/rotation.z', null)).toMatchObject({ linked: false, isFormula: false });
  });
  it('what is typed: its value, or where it is at fault in the text', () => {
    expect(bar(WHEEL, '=  90deg + 1deg').result).toContain('91');
    const wrong = bar(WHEEL, '=  Pinion.rotation.q');
    expect(wrong.problem).not.toBeNull();
    const fault = marksOf(wrong).find(({ kind }) => kind === 'fault')!;
    expect(wrong.text.slice(fault.from, fault.to)).toContain('rotation.q');
    expect(bar('prt_p/rotation.z', 'twelve').problem).not.toBeNull();
    expect(bar('prt_p/rotation.z', '').problem).toBeNull();
  });
  it('a fault where it stands in the text, also where a part has been renamed since', () => {
    const link = { formula: '1 + Pinion.location.x', refs: { Pinion: 'prt_p' } };
    const parts = {
      prt_p: hub('Small gear'),
      prt_w: hub('Wheel', { order: 1, links: { 'rotation.z': link } }),
    };
    const reading = bar(WHEEL, null, { ...shot, parts });
    expect(reading.text).toBe('= 1 + "Small gear".location.x');
    const fault = marksOf(reading).find(({ kind }) => kind === 'fault')!;
    expect(reading.text.slice(fault.from, fault.to)).toBe('1 + "Small gear".location.x');
    expect(reading.problem!.fixes[0]!.insert).toContain('"Small gear"');
  });
  it('a colour, with what a formula makes of it and of its pieces', () => {
    const parts = { ...shot.parts, prt_s: hub('Sky', { kind: 'backdrop', values: { upper: [0, 0, 1] } }) };
    const of = { ...shot, parts };
    const reading = bar('prt_s/colour', '= mix(Sky.upper, #ff0000, 1)', of);
    expect(reading).toMatchObject({ problem: null, result: '#ff0000' });
    const at = (piece: string) =>
      hoverAt(reading, reading.evaluator, 'prt_s/colour', reading.text.indexOf(piece) + 1)?.text;
    expect(at('Sky.upper')).toBe('Sky.upper = #0000ff, a colour');
    expect(at('#ff')).toBe('#ff0000 = #ff0000, a colour');
    expect(at(' 1)')).toBe('1 = 1, a plain number');
    expect(bar('prt_s/colour', 'reddish', of).problem?.message).toContain('six hexadecimal digits');
    expect(bar('prt_s/colour', '#c9973f', of).problem).toBeNull();
    expect(bar('prt_s/colour', '= 1', of).problem).toMatchObject({ code: 'colour' });
  });
  it('what a piece of a formula gives, where the pointer is', () => {
    const reading = bar(WHEEL, null);
    const at = reading.text.indexOf('rotation');
    expect(hoverAt(reading, reading.evaluator, WHEEL, at)?.text).toBe('Pinion.rotation.z = 30, an angle');
    expect(hoverAt(reading, reading.evaluator, WHEEL, 0)).toBeNull();
  });
});

describe('what is kept', () => {
  const keep = async (address: string, typed: string) => {
    const session = await workbench(shot);
    const reading = bar(address, typed);
    const kept = keepTyped(session, address, reading, reading.evaluator.number(address));
    return { session, kept, part: session.shot.parts[address.split('/')[0]!]! };
  };
  it('a formula, a number in place of a formula, nothing in place of one', async () => {
    expect((await keep(WHEEL, '= frame * 2deg')).part.links['rotation.z']?.formula).toBe('frame * 2deg');
    const number = await keep(WHEEL, '45');
    expect(number.part.links).toEqual({});
    expect(number.part.values['rotation.z']).toBe(45);
    expect((await keep(WHEEL, '')).part.links).toEqual({});
    expect((await keep('prt_p/rotation.z', '2turn')).part.values['rotation.z']).toBe(720);
  });
  it('nothing of a number that cannot be read', async () => {
    const { session, kept } = await keep('prt_p/rotation.z', 'twelve');
    expect(kept).toBe(false);
    expect(session.shot).toEqual(shot);
  });
});
