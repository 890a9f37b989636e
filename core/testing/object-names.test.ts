import { describe, expect, it } from 'vitest';
import { blankShot, channelAt, linkOf, parseShot, trackOf, type Shot } from '../document';
import { apply, setLink, setValues } from '../edit';
import { compile, Evaluator } from '../evaluate';
import { checkTyped, completeFormula, NameTable, textOfLink, typedValue } from '../formula';
import { buildParts } from '../recipe';
import { emptyShot, hub } from './random-shot';

/** Names that every object answers to: none of them may be found in a table where nobody has put it. */
const NAMES = Object.getOwnPropertyNames(Object.prototype);
/** Places of a formula where a name can stand. */
const PLACES: readonly ((name: string) => string)[] = [
  (name) => name,
  (name) => `5${name}`,
  (name) => `${name}.location.x`,
  (name) => `A.${name}`,
  (name) => `A.location.${name}`,
  (name) => `dial.${name}`,
  (name) => `dial.${name}.value`,
  (name) => `${name}(1)`,
  (name) => `worldx(${name})`,
  (name) => `worldx("${name}")`,
  (name) => `distance(A, ${name})`,
  (name) => `level(${name}, 10Hz, 20Hz)`,
  (name) => `at(${name}.location.x, 3)`,
  (name) => `at(${name}, 3)`,
  (name) => `ease(${name}, 0.5)`,
  (name) => `cam(${name}, 10deg, 1m, 90deg, 0, 90deg)`,
];

const shot = (): Shot => ({ ...emptyShot(), parts: { prt_a: hub('A'), prt_b: hub('B') } });

describe.each(NAMES)('%s', (name) => {
  it('is unknown wherever a formula can name something, and stays so when it is kept and opened', () => {
    for (const place of PLACES) {
      const text = place(name);
      const typed = checkTyped(new NameTable(shot()), 'prt_b/location.x', text);
      expect(typed.ok, text).toBe(false);
      const kept = apply(shot(), setLink(shot(), 'prt_b/location.x', text));
      const opened = parseShot(JSON.parse(JSON.stringify(kept)));
      expect(opened.ok, text).toBe(true);
      const plan = compile((opened as { shot: Shot }).shot);
      expect(plan.links[0]!.error, text).not.toBeNull();
      new Evaluator(plan).evaluate(3);
      expect(textOfLink(plan.names, linkOf(kept, 'prt_b/location.x')!)).toBe(text);
      completeFormula(plan.names, 'prt_b/location.x', text, text.length);
    }
  });
  it('is no number in a field, no channel, no track and no link', () => {
    expect(typedValue(shot(), 'prt_a/location.x', `5${name}`, 0).ok).toBe(false);
    for (const address of [`prt_a/${name}`, `${name}/location.x`, `prt_${name}/location.x`]) {
      expect(channelAt(shot(), address)).toBeNull();
      expect(trackOf(shot(), address)).toBeNull();
      expect(linkOf(shot(), address)).toBeNull();
      expect(() => setValues(shot(), [[address, 1]])).toThrow();
    }
  });
  it('names a part, a dial and a sound like any other name, but for the one that records cannot hold', () => {
    const named: Shot = {
      ...emptyShot(),
      parts: { prt_a: hub(name), prt_b: hub('B') },
      dials: {
        dia_a: { name, quantity: 'none', min: 0, max: 9, values: { value: 4 }, tracks: {}, links: {} },
      },
      sounds: { snd_a: { name, start: 1, values: {}, tracks: {}, links: {} } },
    };
    const linked = apply(named, setLink(named, 'prt_b/location.x', `${name}.location.x + dial.${name} * 1m`));
    const opened = parseShot(JSON.parse(JSON.stringify(linked)));
    if (name === '__proto__') {
      expect(opened).toMatchObject({ ok: false });
      expect((opened as { problems: { message: string }[] }).problems[0]!.message).toContain('another name');
      return;
    }
    const evaluator = new Evaluator(compile((opened as { shot: Shot }).shot));
    evaluator.evaluate(1);
    expect(evaluator.number('prt_b/location.x')).toBe(4);
  });
  it('is no kind, no manner and no version of a document, and no kind of recipe', () => {
    const parts = { prt_a: { ...hub('A'), kind: name } };
    expect(parseShot({ ...blankShot(), parts })).toMatchObject({ ok: false });
    expect(parseShot({ ...blankShot(), version: name })).toMatchObject({ ok: false });
    expect(parseShot({ ...blankShot(), format: name })).toMatchObject({ ok: false });
    const values = JSON.parse(
      `{"prt_a": ${JSON.stringify({ ...hub('A'), values: { [name]: 1 } })}}`,
    ) as Shot['parts'];
    if (name !== '__proto__')
      expect(parseShot({ ...blankShot(), parts: values })).toMatchObject({ ok: false });
    expect(() => buildParts(shot(), name, {})).toThrow('builds none');
  });
});
