import { describe, expect, it } from 'vitest';
import { emptyShot } from '../../../../core/testing/random-shot';
import { formOf, inFormat, presetOf, refusalOf, requestOf, withPreset } from './film-form';

const setup = { ...emptyShot().setup, camera: 'prt_eye' };
const form = formOf(setup, ' Full ride ');

describe('the form of a film', () => {
  it('begins with the whole shot at its own size', () => {
    expect(requestOf(form)).toEqual({
      first: 1,
      last: 48,
      width: 640,
      height: 360,
      format: 'mp4',
      alpha: false,
      quality: 'high',
      samples: null,
      effects: true,
      fileName: 'Full ride',
    });
    expect(refusalOf(form, setup)).toBeNull();
  });
  it('keeps a wish for transparency, and asks for it where the format has it', () => {
    const clear = { ...form, alpha: true };
    expect(requestOf(clear).alpha).toBe(false);
    expect(requestOf({ ...clear, format: 'webm' }).alpha).toBe(true);
    expect(refusalOf(clear, setup)).toBeNull();
  });
  it.each([
    [{ first: '' }, 'whole numbers'],
    [{ last: '4.5' }, 'whole numbers'],
    [{ last: '0' }, 'before the first'],
    [{ width: 'wide' }, 'whole numbers'],
    [{ height: '361' }, 'would do'],
    [{ name: '  ' }, 'file name'],
  ])('%o is refused with "%s"', (more, words) => {
    expect(refusalOf({ ...form, ...more }, setup)).toContain(words);
  });
  it('wants a camera', () => {
    expect(refusalOf(form, { ...setup, camera: null })).toContain('no camera');
  });
  it('takes the frame at hand for a picture, all of the shot again for a film, and sides that the format can have', () => {
    const setup = { ...emptyShot().setup, first: 5, last: 40, width: 1279, height: 719 };
    const form = formOf(setup, 'Ride');
    const still = { ...form, ...inFormat(form, 'jpeg', setup, 12.4) };
    expect(still).toMatchObject({ format: 'jpeg', first: '12', last: '12', width: '1279', height: '719' });
    expect(inFormat(form, 'still', setup, 99)).toMatchObject({ first: '40', last: '40' });
    const film = { ...still, ...inFormat(still, 'av1', setup, 12) };
    expect(film).toMatchObject({ format: 'av1', first: '5', last: '40', width: '1280', height: '720' });
    const part = { ...film, first: '7', width: 'wide' };
    expect({ ...part, ...inFormat(part, 'gif', setup, 1) }).toMatchObject({
      first: '7',
      width: 'wide',
      height: '720',
    });
  });
  it('is kept as a preset without its frames and its name, and filled in by one for a shot of any size', () => {
    const mine = { ...form, format: 'webm', alpha: true, samples: 8, effects: false, width: '320' } as const;
    const preset = presetOf({ ...mine, height: '180' }, setup);
    expect(preset).toEqual({
      format: 'webm',
      alpha: true,
      quality: 'high',
      scale: 0.5,
      samples: 8,
      effects: false,
    });
    const other = { ...setup, width: 1001, height: 563, first: 7, last: 9 };
    const filled = { ...formOf(other, 'Other'), ...withPreset(formOf(other, 'Other'), preset, other) };
    expect(requestOf(filled)).toMatchObject({
      first: 7,
      last: 9,
      width: 500,
      height: 282,
      samples: 8,
      fileName: 'Other',
    });
    expect(refusalOf(filled, other)).toBeNull();
  });
});
