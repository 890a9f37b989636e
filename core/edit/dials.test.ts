import { describe, expect, it } from 'vitest';
import { linkOf, type Shot } from '../document';
import { compile, Evaluator } from '../evaluate';
import { NameTable, textOfLink } from '../formula';
import { emptyShot, hub } from '../testing/random-shot';
import {
  addDial,
  apply,
  changeDial,
  copyLink,
  dialReaders,
  invert,
  keyChannels,
  removeDial,
  setLink,
} from '.';

const bare: Shot = { ...emptyShot(), parts: { prt_a: hub('Crank') } };
const SPEED = { name: 'speed', quantity: 'none', min: 0, max: 4 } as const;

describe('dials', () => {
  const { change, id } = addDial(bare, SPEED, 1);
  const shot = apply(bare, change);
  const linked = apply(shot, setLink(shot, 'prt_a/rotation.z', 'dial.speed * 10deg'));

  it('are read by formulas under their name now, and undone whole', () => {
    const renamed = apply(linked, changeDial(linked, id, { name: 'pace', max: 9 }));
    const link = linkOf(renamed, 'prt_a/rotation.z')!;
    expect(textOfLink(new NameTable(renamed), link)).toBe('dial.pace * 10deg');
    const evaluator = new Evaluator(compile(renamed));
    evaluator.evaluate(1);
    expect(evaluator.number('prt_a/rotation.z')).toBe(10);
    expect(apply(shot, invert(change))).toEqual(bare);
  });
  it('of the same name as one that has gone, or was not there yet, are offered by name', () => {
    const early = apply(bare, setLink(bare, 'prt_a/rotation.z', 'dial.speed * 10deg'));
    const gone = apply(linked, removeDial(linked, id));
    for (const before of [early, gone]) {
      const again = apply(before, addDial(before, SPEED, 2).change);
      const error = compile(again).links[0]!.error!;
      expect(error.message).toContain('not written for the "dial.speed" that is here now');
      expect(error.message).not.toContain('Did you mean');
      const { from, to, insert } = error.fixes[0]!;
      const text = 'dial.speed * 10deg';
      const mended = compile(
        apply(again, setLink(again, 'prt_a/rotation.z', text.slice(0, from) + insert + text.slice(to))),
      );
      expect(mended.links[0]!.error).toBeNull();
    }
  });
  it('say who reads them, and links stay when they go', () => {
    expect(dialReaders(linked, id)).toEqual(['Crank rotation Z']);
    const gone = apply(linked, removeDial(linked, id));
    expect(compile(gone).links[0]?.error?.message).toMatch(/speed/);
    // Under the name by which it was known last.
    const renamed = apply(linked, changeDial(linked, id, { name: 'pace' }));
    const removal = removeDial(renamed, id);
    expect(compile(apply(renamed, removal)).links[0]?.error?.message).toMatch(/dial\.pace/);
    expect(apply(apply(renamed, removal), invert(removal))).toEqual(renamed);
  });
  it('bring their value within new limits, but refuse limits that leave out a key', () => {
    const narrow = apply(shot, changeDial(shot, id, { max: 0.5 }));
    expect(narrow.dials[id]?.values.value).toBe(0.5);
    const keyed = apply(shot, keyChannels(shot, 5, [[`${id}/value`, 3]]));
    expect(() => changeDial(keyed, id, { max: 2 })).toThrow('a key of 3 at frame 5');
  });
  it.each([
    [{ ...SPEED, name: 'top speed' }, 'one word'],
    [{ ...SPEED, name: 'speed' }, 'already'],
    [{ ...SPEED, name: 'a', min: 4 }, 'not below'],
    [{ ...SPEED, name: 'a', max: Infinity }, 'numbers'],
  ])('refuse %o', (options, words) => {
    expect(() => addDial(shot, options)).toThrow(words);
  });
});

describe('a copied link', () => {
  const parts: Shot['parts'] = {
    prt_d: hub('Deck'),
    prt_1: hub('Boat 1'),
    prt_2: hub('Boat 2'),
    prt_r1: hub('Rod 1'),
    prt_r2: hub('Rod 2'),
    prt_s1: hub('Sail', { parent: 'prt_1' }),
    prt_s2: hub('Cloth', { parent: 'prt_2' }),
  };
  const base: Shot = { ...emptyShot(), parts };
  const formula = '"Rod 1".rotation.z + Sail.rotation.z + Deck.rotation.z + "Boat 1".rotation.x';
  const shot = apply(base, setLink(base, 'prt_1/rotation.z', formula));
  const text = (manner: 'follow' | 'stay'): string => {
    const after = apply(shot, copyLink(shot, 'prt_1/rotation.z', ['prt_2/rotation.z'], manner));
    return textOfLink(new NameTable(after), linkOf(after, 'prt_2/rotation.z')!);
  };
  it('follows what belongs to the part: by number, by place below it, itself; the rest stays', () => {
    expect(text('follow')).toBe(
      '"Rod 2".rotation.z + Cloth.rotation.z + Deck.rotation.z + "Boat 2".rotation.x',
    );
  });
  it('stays when that is chosen', () => {
    expect(text('stay')).toBe(formula);
  });
  it('needs a link to copy', () => {
    expect(() => copyLink(shot, 'prt_2/rotation.z', ['prt_1/rotation.z'], 'stay')).toThrow('no link to copy');
  });
});
