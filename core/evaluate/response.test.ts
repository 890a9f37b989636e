import { expect, it } from 'vitest';
import type { Shot } from '../document';
import { apply, keyChannels, setLink } from '../edit';
import { sliderPosition } from '../mechanism';
import { emptyShot, hub } from '../testing/random-shot';
import { compile, responseOverTime, responseToInput } from '.';

const [CRANK, PISTON] = ['prt_a/rotation.z', 'prt_b/location.x'];

function engine(crank: string): Shot {
  let shot: Shot = { ...emptyShot(), parts: { prt_a: hub('Crank'), prt_b: hub('Piston') } };
  shot = apply(shot, setLink(shot, CRANK, crank));
  return apply(shot, setLink(shot, PISTON, 'slider(Crank.rotation.z, 2m, 6m)'));
}

it('sweeps an input by hand, although it is linked or keyed: greatest speed of the slider-crank at 73.175 degrees', () => {
  const plan = compile(engine('frame * 3deg'));
  const { x, y, slope } = responseToInput(plan, PISTON, CRANK, 1, 0, 360, 3601);
  x.forEach((angle, i) => expect(y[i]).toBeCloseTo(sliderPosition(angle, 2, 6), 9));
  // Reference values, "Slider-crank": 2.109279093 per radian at 73.17529664 degrees.
  const fastest = slope.reduce((best, value, i) => (value < slope[best]! ? i : best), 0);
  expect(Math.abs(x[fastest]! - 73.17529664)).toBeLessThan(0.1);
  expect((-slope[fastest]! * 180) / Math.PI).toBeCloseTo(2.109279093, 5);
  expect([y[0], y[1800]]).toEqual([8, 4]);
});

it('gives slopes over time per frame', () => {
  const shot = apply(engine('0deg'), setLink(engine('0deg'), CRANK, null));
  const keyed = apply(shot, keyChannels(shot, 1, [[CRANK, 0]]));
  const both = apply(keyed, keyChannels(keyed, 41, [[CRANK, 80]]));
  const straight = apply(both, setLink(both, PISTON, 'frame * 0.5m'));
  const { x, slope } = responseOverTime(compile(straight), PISTON, 1, 41, 5);
  expect(x).toEqual([1, 11, 21, 31, 41]);
  for (const value of slope) expect(value).toBeCloseTo(0.5, 12);
});
