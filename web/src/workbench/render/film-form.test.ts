import { describe, expect, it } from 'vitest';
import { emptyShot } from '../../../../core/testing/random-shot';
import { formOf, refusalOf, requestOf } from './film-form';

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
});
