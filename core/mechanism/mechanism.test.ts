import { describe, expect, it } from 'vitest';
import { centreDistance, meshedAngle, meshPhase, rodAngle, sliderPosition } from './index';

describe('slider-crank, throw 2 rod 6 (Uicker, Pennock and Shigley)', () => {
  it.each([
    [0, 8, 0],
    [30, 7.64813059, 9.59406823],
    [60, 6.74456265, 16.7786549],
    [90, 5.65685425, 19.4712206],
    [120, 4.74456265, 16.7786549],
    [150, 4.18402898, 9.59406823],
    [180, 4, 0],
    [270, 5.65685425, -19.4712206],
  ])('in line at %d degrees', (angle, x, swing) => {
    expect(sliderPosition(angle, 2, 6)).toBeCloseTo(x, 7);
    expect(rodAngle(angle, 2, 6)).toBeCloseTo(swing, 6);
  });
  it.each([
    [0, 7.91607978, -9.59406823],
    [60, 6.95517436, 7.00803118],
    [135, 4.57147162, 3.9585968],
    [270, 5.19615242, -30],
  ])('offset 1 at %d degrees', (angle, x, swing) => {
    expect(sliderPosition(angle, 2, 6, 1)).toBeCloseTo(x, 7);
    expect(rodAngle(angle, 2, 6, 1)).toBeCloseTo(swing, 6);
  });
  it('dead centres, and the crank angle of greatest speed 73.17529664', () => {
    expect(sliderPosition(0, 2, 6) - sliderPosition(180, 2, 6)).toBe(4);
    const speed = (angle: number): number =>
      Math.abs(sliderPosition(angle + 1e-4, 2, 6) - sliderPosition(angle - 1e-4, 2, 6));
    let best = 0;
    for (let angle = 70; angle < 77; angle += 0.01) if (speed(angle) > speed(best)) best = angle;
    expect(best).toBeCloseTo(73.175, 1);
  });
  it('a rod too short to reach gives no number', () => expect(sliderPosition(90, 6, 2)).toBeNaN());
});

describe('gears (ISO 54, ISO 21771)', () => {
  it('ratio and direction', () => {
    expect(meshedAngle(360, 20, 40)).toBe(-180);
    expect(meshedAngle(360, 20, -60)).toBe(120);
  });
  it.each([
    [20, 40, 0, 0, 4.5],
    [20, 15, 0, 0, 0],
    [20, 40, 30, 10, 8.5],
    [12, 30, 90, 5, 10],
  ])('mesh phase of %d and %d', (z1, z2, direction, angle, phase) => {
    expect(meshPhase(z1, z2, direction, angle)).toBeCloseTo(phase, 9);
  });
  it('centre distance', () => expect(centreDistance(2, 20, 40)).toBe(60));
});
