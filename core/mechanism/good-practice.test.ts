import { describe, expect, it } from 'vitest';
import {
  contactRatio,
  gearWarnings,
  innerContactRatio,
  leastTeeth,
  rackContactRatio,
  transmissionAngle,
  transmissionRange,
  transmissionWarnings,
} from './index';

describe('contact ratio (ISO 21771; checked by where the line of action meets the tip circles)', () => {
  it.each([
    [15, 45, 20, 1.608640274],
    [18, 72, 20, 1.670683396],
    [25, 25, 20, 1.611651239],
    [25, 25, 25, 1.446606592],
    [40, 40, 14.5, 2.052337251],
    [12, 12, 25, 1.315106013],
    [14, 14, 20, 1.462732871],
  ])('%d and %d at %d degrees', (z1, z2, alpha, wanted) => {
    expect(contactRatio(z1, z2, alpha)).toBeCloseTo(wanted, 8);
    expect(contactRatio(z2, z1, alpha)).toBeCloseTo(wanted, 8);
  });
  it('of gears in rings and on racks', () => {
    expect(innerContactRatio(30, 50)).toBeCloseTo(2.059831077, 8);
    expect(innerContactRatio(24, 90)).toBeCloseTo(1.895182648, 8);
    expect(rackContactRatio(20)).toBeCloseTo(1.7688237, 7);
    expect(rackContactRatio(40, 14.5)).toBeCloseTo(2.339302165, 8);
    // A rack is a gear with teeth without end.
    expect(contactRatio(30, 4e6)).toBeCloseTo(rackContactRatio(30), 4);
  });
});

it('teeth that are undercut (z = 2 / sin^2 of the pressure angle)', () => {
  expect(leastTeeth()).toBeCloseTo(17.09726434, 8);
  expect(leastTeeth(14.5)).toBeCloseTo(31.90294032, 8);
  expect(leastTeeth(25)).toBeCloseTo(11.19781986, 8);
  expect(gearWarnings(1.6, [['The driver', 18]])).toEqual([]);
  expect(gearWarnings(1.6, [['The driver', 17]])[0]).toContain('The driver has 17 teeth: below 18');
  expect(gearWarnings(1.1, [['The driver', 40]])[0]).toContain('contact ratio is 1.1');
});

describe('transmission angle of a four-bar (Norton, Design of Machinery)', () => {
  it.each([
    [0, 26.3843297],
    [40, 37.0269973],
    [180, 86.4166783],
  ])('40, 120, 80, 100 at %d degrees', (angle, wanted) => {
    expect(transmissionAngle(angle, 40, 120, 80, 100)).toBeCloseTo(wanted, 7);
  });
  it('is told where it leaves what is good', () => {
    expect(transmissionAngle(150, 60, 80, 70, 120)).toBeNaN();
    const range = transmissionRange(40, 120, 80, 100);
    expect(transmissionWarnings(range)[0]).toContain('from 26.38 to 86.42 degrees');
    expect(transmissionWarnings([45, 120])).toEqual([]);
  });
});
