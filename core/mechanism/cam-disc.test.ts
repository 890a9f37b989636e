import { describe, expect, it } from 'vitest';
import { CAM_LAWS, camRise, camSlope, type CamLaw } from './cam';
import {
  camCurvature,
  camEdge,
  camExtremes,
  camMotion,
  camPressure,
  camWarnings,
  type CamDisc,
  type FollowerKind,
} from './cam-disc';

/** A lift of 25 in a quarter turn, then up for the rest of it but for a fall of a quarter. */
const cam = (law: CamLaw, more: Partial<CamDisc> = {}): CamDisc => ({
  law,
  lift: 25,
  rise: 90,
  dwell: 90,
  fall: 90,
  follower: 'roller',
  base: 40,
  roller: 10,
  ...more,
});

describe('slopes of the laws', () => {
  it.each(CAM_LAWS)('%s: are what neighbouring places say', (law) => {
    const h = 1e-5;
    for (let u = 0.013; u < 1; u += 0.0371) {
      const [slope, bend] = camSlope(law, u);
      expect(slope).toBeCloseTo((camRise(law, u + h) - camRise(law, u - h)) / (2 * h), 6);
      expect(bend).toBeCloseTo((camSlope(law, u + h)[0] - camSlope(law, u - h)[0]) / (2 * h), 5);
    }
  });
});

// Norton, Cam Design and Manufacturing Handbook, chapter 7: formulas; numbers worked out from them apart from this program.
describe('pressure angle of a roller follower', () => {
  it.each<[CamLaw, number, number, number]>([
    ['harmonic', 22.2076543, 31.48215411, 0.4359058],
    ['cycloidal', 27.3743291, 37.83554767, 0.459024],
    ['3-4-5', 25.92434054, 36.09760478, 0.4527043],
    ['4-5-6-7', 29.51728599, 40.33980217, 0.4631455],
    ['modified sine', 24.54943714, 34.4171119, 0.4460588],
    ['modified trapezoid', 27.23611718, 37.67140597, 0.4734677],
  ])('%s: greatest in the rise', (law, quarter, sixth, share) => {
    expect(camExtremes(cam(law)).pressure[0]).toBeCloseTo(quarter, 6);
    expect(camExtremes(cam(law, { rise: 60 })).pressure[0]).toBeCloseTo(sixth, 6);
    expect(camPressure(cam(law), share * 90)).toBeCloseTo(quarter, 6);
    // Without an offset a fall as long as the rise is its mirror.
    expect(camExtremes(cam(law)).pressure[1]).toBeCloseTo(quarter, 6);
    expect(camPressure(cam(law), 270 - share * 90)).toBeCloseTo(-quarter, 6);
  });

  it.each<[CamLaw, number]>([
    ['harmonic', 32.56939094],
    ['cycloidal', 43.77361325],
    ['4-5-6-7', 48.82901014],
    ['modified trapezoid', 43.37305233],
  ])('%s: 30 degrees at the least prime radius for it', (law, prime) => {
    const tight = cam(law, { base: prime - 10 });
    expect(camExtremes(tight).pressure[0]).toBeCloseTo(30, 6);
    const pressed = (base: number): boolean => {
      const disc = cam(law, { base, roller: 1 });
      return camWarnings(disc, camExtremes(disc)).some((line) => line.includes('pressure angle'));
    };
    expect([pressed(prime - 1.01), pressed(prime - 0.99)]).toEqual([true, false]);
  });
});

describe('curvature of the edge', () => {
  it.each<[CamLaw, number, number, number]>([
    ['harmonic', 35, 30, -25],
    ['cycloidal', 29.5135255, 26.5129594, -41.06578197],
    ['3-4-5', 31.22293711, 27.67147122, -35.28462564],
    ['4-5-6-7', 26.4968928, 23.9596857, -53.67057612],
    ['modified sine', 32.60010657, 28.0909981, -31.58107192],
    ['modified trapezoid', 31.39402559, 30.20951343, -31.32415115],
  ])('%s: least under a roller, and under a flat foot', (law, roller, steep, flat) => {
    expect(camExtremes(cam(law)).curvature).toBeCloseTo(roller, 6);
    expect(camExtremes(cam(law, { rise: 60, fall: 60 })).curvature).toBeCloseTo(steep - 10, 6);
    const foot = cam(law, { follower: 'flat foot', base: 60 });
    expect(camExtremes(foot).curvature).toBeCloseTo(60 + flat, 6);
  });

  it('is told where the edge is undercut', () => {
    const told = (disc: CamDisc): string[] => camWarnings(disc, camExtremes(disc));
    const flat = (law: CamLaw, base: number): CamDisc => cam(law, { follower: 'flat foot', base });
    expect(told(flat('cycloidal', 40))).toEqual([expect.stringContaining('undercut: a flat foot')]);
    expect(told(flat('cycloidal', 41.1))).toEqual([]);
    expect(told(flat('3-4-5', 40))).toEqual([]);
    // Prime radius 50: the pitch curve bends to 39.5 at most.
    expect(told(cam('cycloidal', { base: 10, roller: 40 }))).toEqual([
      expect.stringContaining('the roller is larger'),
    ]);
    expect(told(cam('cycloidal', { base: 11, roller: 39 }))).toEqual([]);
  });

  it.each<[CamLaw, number]>([
    ['harmonic', 25],
    ['cycloidal', 31.83098862],
    ['3-4-5', 29.84155183],
    ['4-5-6-7', 34.8151438],
    ['modified sine', 28.00495768],
  ])('%s: a flat foot is touched up to as far as the slope is steep', (law, reach) => {
    expect(camExtremes(cam(law, { follower: 'flat foot' })).foot).toBeCloseTo(reach, 6);
  });
});

describe('the edge is the envelope of the followers', () => {
  // Places in the measure of a cam that turns with the clock under a follower that moves up: across the y axis from here.
  it.each<[CamLaw, number, FollowerKind, number, number, number]>([
    ['cycloidal', 0, 'roller', 40, 0, 40],
    ['cycloidal', 15, 'roller', 40, -12.06776809, 39.04890241],
    ['cycloidal', 30, 'roller', 40, -26.31286816, 37.5981454],
    ['cycloidal', 45, 'roller', 40, -41.10226997, 34.68417222],
    ['cycloidal', 60, 'roller', 40, -54.13276922, 27.53166536],
    ['cycloidal', 90, 'roller', 40, -65, 0],
    ['3-4-5', 30, 'roller', 40, -26.4241718, 37.91740533],
    ['3-4-5', 75, 'roller', 40, -62.32099794, 15.42209246],
    ['cycloidal', 45, 'flat foot', 50, -66.70208173, 21.68626592],
    ['cycloidal', 75, 'flat foot', 50, -73.80775517, 11.53826231],
    ['3-4-5', 15, 'flat foot', 50, -22.06713447, 46.76958601],
    ['3-4-5', 60, 'flat foot', 50, -72.19719988, 14.45695449],
    ['cycloidal', 30, 'knife edge', 40, -22.44376387, 38.87373933],
    ['3-4-5', 75, 'knife edge', 40, -61.9280686, 16.59357597],
  ])('%s at %f degrees, %s', (law, angle, follower, base, x, y) => {
    const place = camEdge(cam(law, { follower, base }), angle);
    expect(place[0]).toBeCloseTo(-x, 7);
    expect(place[1]).toBeCloseTo(y, 7);
  });

  it('bends as three neighbouring places of it say', () => {
    for (const follower of ['roller', 'flat foot', 'knife edge'] as const) {
      const disc = cam('3-4-5', { follower, base: 50 });
      for (const angle of [20, 41, 63, 200, 230, 251]) {
        const [p, q, r] = [angle - 0.02, angle, angle + 0.02].map((at) => camEdge(disc, at));
        const length = (a: readonly number[], b: readonly number[]): number =>
          Math.hypot(a[0]! - b[0]!, a[1]! - b[1]!);
        const area = ((q![0] - p![0]) * (r![1] - p![1]) - (r![0] - p![0]) * (q![1] - p![1])) / 2;
        const circle = (length(p!, q!) * length(q!, r!) * length(p!, r!)) / (4 * -area);
        const told = camCurvature(disc, angle);
        expect(Math.abs(1 / circle - 1 / told)).toBeLessThan(2e-4 / Math.min(40, Math.abs(told)));
      }
    }
  });

  it('stands still where the follower does', () => {
    expect(camMotion(cam('3-4-5'), 120)).toEqual([25, 0, 0]);
    expect(camMotion(cam('3-4-5'), 300)).toEqual([0, 0, 0]);
  });
});
