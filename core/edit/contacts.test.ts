import { describe, expect, it } from 'vitest';
import { checkStructure, parseShot } from '../document';
import { emptyShot, hub } from '../testing/random-shot';
import { addContact, addContacts, changeContact, contactBetween, removeContact, removeParts } from './index';
import { apply } from './change';

const shot = {
  ...emptyShot(),
  parts: { prt_a: hub('Cam'), prt_b: hub('Tappet'), prt_c: hub('Rod', { parent: 'prt_b' }) },
};

describe('parts that are meant to touch', () => {
  it('are said so once, whichever is named first, and looked at again when that is taken back', () => {
    const { change, id } = addContact(shot, ['prt_a', 'prt_b'], 'the tappet rests on the cam');
    const said = apply(shot, change);
    expect(change.label).toBe('Let Cam and Tappet touch');
    expect(parseShot(said)).toMatchObject({ ok: true });
    expect(contactBetween(said, 'prt_b', 'prt_a')).toMatchObject({ id, why: 'the tappet rests on the cam' });
    expect(contactBetween(said, 'prt_a', 'prt_c')).toBeNull();
    expect(() => addContact(said, ['prt_b', 'prt_a'])).toThrow('already said to be meant to touch');
    expect(apply(said, changeContact(said, id, ' rests ')).contacts[id]!.why).toBe('rests');
    expect(() => changeContact(said, id, '')).toThrow('must not be empty');
    expect(apply(said, removeContact(said, id))).toEqual(shot);
  });

  it('are said so of many pairs in one step, but for those of which it is said', () => {
    const said = apply(shot, addContact(shot, ['prt_a', 'prt_b']).change);
    const both = apply(
      said,
      addContacts(said, [
        ['prt_b', 'prt_a'],
        ['prt_a', 'prt_c'],
      ]),
    );
    expect(Object.values(both.contacts)).toHaveLength(2);
    expect(() => addContacts(both, [['prt_c', 'prt_a']])).toThrow('no pair of which this is not said');
  });

  it('are forgotten with their parts, and refused with words that are no name or parts that are gone', () => {
    const said = apply(shot, addContact(shot, ['prt_a', 'prt_c']).change);
    const gone = apply(said, removeParts(said, ['prt_b']));
    expect(gone.contacts).toEqual({});
    expect(checkStructure(gone)).toEqual([]);
    expect(checkStructure({ ...gone, contacts: said.contacts })[0]!.message).toContain(
      'prt_c is not in this shot',
    );
    expect(() => addContact(shot, ['prt_a', 'prt_b'], ' ')).toThrow('must not be empty');
    expect(() => addContact(shot, ['prt_a', 'prt_x'])).toThrow('no longer in the shot');
  });
});
