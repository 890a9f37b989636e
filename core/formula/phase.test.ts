import { describe, expect, it } from 'vitest';
import { FUNCTIONS } from './functions';
import { CYCLIC_FUNCTIONS, phaseIn, withPhase } from './phase';

const turned = (text: string, degrees: number, angle = true): string =>
  withPhase(text, phaseIn(text, angle)!, degrees);

describe('phase of a formula', () => {
  it('knows only functions that there are', () => {
    for (const name of CYCLIC_FUNCTIONS) expect(FUNCTIONS.has(name), name).toBe(true);
  });
  it.each([
    ['Crank.rotation.z', 0],
    ['Crank.rotation.z + 45deg', 45],
    ['Crank.rotation.z - 0.25turn', -90],
    ['45deg + Crank.rotation.z', 45],
    ['mesh(Pinion.rotation.z, 16, 56) - 3.2deg', -3.2],
    ['Crank.rotation.z + 30deg + own', 30],
    ['-rodangle(Crank.rotation.z + 90deg, 0.2m, 0.6m)', 90],
  ])('%s has %d degrees', (text, degrees) => {
    expect(phaseIn(text, true)!.degrees).toBeCloseTo(degrees, 9);
  });
  it('stands in what goes round, where the formula gives something else than an angle', () => {
    const text = 'own + slider(Crank.rotation.z, 200mm, 600mm) + 5cm';
    expect(turned(text, 120, false)).toBe('own + slider(Crank.rotation.z + 120deg, 200mm, 600mm) + 5cm');
    expect(phaseIn('Crank.rotation.z * 1mm / 1deg', false)).toBeNull();
  });
  it('is written in the place of the one before, and left out when it is 0', () => {
    expect(turned('A.rotation.z + 45deg', -30)).toBe('A.rotation.z - 30deg');
    expect(turned('A.rotation.z + 45deg', 0)).toBe('A.rotation.z');
    expect(turned('45deg + A.rotation.z', -30)).toBe('-30deg + A.rotation.z');
    expect(turned('(A.rotation.z + 1deg) * 2', 7)).toBe('(A.rotation.z + 1deg) * 2 + 7deg');
    expect(turned('(A.rotation.z + B.rotation.z)', 7)).toBe('(A.rotation.z + B.rotation.z) + 7deg');
  });
  it('a text that is no formula has none', () => {
    expect(phaseIn('mesh(', true)).toBeNull();
    expect(phaseIn('', true)).toBeNull();
  });
});
