import { describe, expect, it } from 'vitest';
import { blankShot } from '../../../core/document';
import { apply } from '../../../core/edit';
import { changeBy, factsOf, formOf, keeping, rangeTyped } from './shot-form';

const shot = {
  ...blankShot(),
  setup: { ...blankShot().setup, first: 1, last: 96, rate: { num: 24, den: 1 } },
};
const { setup } = shot;
const form = formOf('Ride', setup);
const wrongWith = (some: Partial<typeof form>): string | null => factsOf({ ...form, ...some }, setup).wrong;

describe('the form of a shot', () => {
  it('has nothing wrong as it is opened, and changes nothing as it is set', () => {
    expect(factsOf(form, setup)).toMatchObject({ wrong: null, rateOpen: false, changesRate: false });
    expect(changeBy(shot, form).patches).toEqual([]);
  });
  it('says what is wrong: place, value, what is allowed', () => {
    expect(wrongWith({ name: '  ' })).toBe('The shot needs a name.');
    expect(wrongWith({ name: 'x'.repeat(81) })).toBe('A name may have 80 characters, this one has 81.');
    expect(wrongWith({ width: '8193' })).toBe('Width "8193" is not allowed: 16 to 8192 pixels.');
    expect(wrongWith({ height: '12.5' })).toBe('Height "12.5" is not allowed: 16 to 8192 pixels.');
    expect(wrongWith({ first: 'one' })).toBe('"one" is no frame: whole numbers are.');
    expect(wrongWith({ last: '0' })).toBe('The last frame, 0, is before the first, 1.');
    expect(wrongWith({ last: '9999999' })).toMatch(/^9999999 frames are too many: at most /);
    expect(wrongWith({ first: '−12', last: '−2' })).toBeNull();
  });
  it('asks what stays as the rate changes; the seconds keep their length, the frames their count', () => {
    const faster = { ...form, rate: '48' };
    expect(factsOf(faster, setup)).toMatchObject({ rateOpen: true, wrong: null });
    expect(keeping(faster, setup, 'frames').last).toBe('96');
    const seconds = keeping(faster, setup, 'seconds');
    expect([seconds.first, seconds.last]).toEqual(['1', '192']);
    // A range that is typed meanwhile counts as frames of the new rate.
    const typed = rangeTyped(seconds, setup, '1', '240');
    expect(typed.oldLength).toBe(120);
    expect(keeping(typed, setup, 'frames').last).toBe('120');
    const { setup: now } = apply(shot, changeBy(shot, seconds));
    expect(now).toMatchObject({ first: 1, last: 192, rate: { num: 48, den: 1 } });
    expect(changeBy(shot, seconds).label).toBe('Change the shot');
  });
  it('keeps a range apart while it is no range', () => {
    expect(rangeTyped(form, setup, '1', 'x')).toMatchObject({ last: 'x', oldLength: 96 });
    expect(keeping({ ...form, first: 'x' }, setup, 'seconds')).toMatchObject({ keep: 'seconds', last: '96' });
  });
});
