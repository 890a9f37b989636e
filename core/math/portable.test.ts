import { converter } from 'culori';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import * as m from './index';
import { encodedFromLinear, hexOfColour, colourFromHex, linearFromEncoded } from './colour';

const oklab = converter('oklab');

const ulps = (a: number, b: number): number =>
  Math.abs(a - b) / Math.max(Number.MIN_VALUE, Math.abs(b) * Number.EPSILON);

describe('portable elementary functions against the engine', () => {
  const angle = fc.double({ min: -1e5, max: 1e5, noNaN: true });
  it('sin and cos differ by no more than 2e-15', () => {
    fc.assert(
      fc.property(
        angle,
        (x) => Math.abs(m.sin(x) - Math.sin(x)) < 2e-15 && Math.abs(m.cos(x) - Math.cos(x)) < 2e-15,
      ),
      { numRuns: 5000 },
    );
  });
  it('atan2, asin, acos', () => {
    const unit = fc.double({ min: -1, max: 1, noNaN: true });
    fc.assert(
      fc.property(unit, unit, (x, y) => {
        expect(m.asin(x)).toBeCloseTo(Math.asin(x), 14);
        expect(m.acos(x)).toBeCloseTo(Math.acos(x), 14);
        if (!Object.is(y, -0) && y !== 0) expect(m.atan2(y, x)).toBeCloseTo(Math.atan2(y, x), 14);
      }),
      { numRuns: 3000 },
    );
  });
  it('exp and log stay within 2 units in the last place', () => {
    fc.assert(
      fc.property(fc.double({ min: -700, max: 700, noNaN: true }), (x) => ulps(m.exp(x), Math.exp(x)) <= 2),
      { numRuns: 3000 },
    );
    fc.assert(
      fc.property(
        fc.double({ min: 1e-300, max: 1e300, noNaN: true }),
        (x) => ulps(m.log(x), Math.log(x)) <= 2 || Math.abs(m.log(x) - Math.log(x)) < 1e-16,
      ),
      { numRuns: 3000 },
    );
  });
  it('pow agrees with the engine to 1e-12 relative and with multiplication for whole exponents', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 1e-3, max: 1e3, noNaN: true }),
        fc.double({ min: -20, max: 20, noNaN: true }),
        (x, y) => Math.abs(m.pow(x, y) / Math.pow(x, y) - 1) < 1e-12,
      ),
      { numRuns: 3000 },
    );
    expect(m.pow(-2, 3)).toBe(-8);
    expect(m.pow(-8, 1 / 3)).toBeNaN();
    expect(m.pow(0, 0)).toBe(1);
    expect(m.pow(2, -2)).toBe(0.25);
  });
  it('keeps NaN and is exact at quarter turns', () => {
    for (const f of [m.sin, m.cos, m.tan, m.atan, m.asin, m.acos, m.exp, m.log]) expect(f(NaN)).toBeNaN();
    expect([m.sinDeg(90), m.sinDeg(180), m.sinDeg(-90), m.sinDeg(720)]).toEqual([1, 0, -1, 0]);
    expect([m.cosDeg(90), m.cosDeg(180), m.cosDeg(-270), m.cosDeg(360)]).toEqual([0, -1, 0, 1]);
  });
});

describe('sRGB, IEC 61966-2-1', () => {
  it.each([
    [0.02, 0.001547987616],
    [0.1, 0.01002282557],
    [0.25, 0.05087608817],
    [0.5, 0.2140411405],
    [0.75, 0.522521554],
  ])('decodes %d', (encoded, linear) => {
    expect(linearFromEncoded(encoded)).toBeCloseTo(linear, 9);
    expect(encodedFromLinear(linear)).toBeCloseTo(encoded, 8);
  });
  it('blends red and yellow in linear light to #ffbc00', () => {
    const [a, b] = [colourFromHex('#ff0000')!, colourFromHex('#ffff00')!];
    expect(hexOfColour([(a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2])).toBe('#ffbc00');
  });
  it('reads back every hex code it writes', () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 0xffffff }), (n) => {
        const hex = `#${n.toString(16).padStart(6, '0')}`;
        return hexOfColour(colourFromHex(hex)!) === hex;
      }),
    );
    expect(colourFromHex('red')).toBeNull();
  });
});

it('sine and cosine together are the same bits as apart', () => {
  const out = new Float64Array(2);
  const angles = [NaN, Infinity, -0, 0, 90, -90, 180, 270, 360, 450, 1e-300, 1e9, -1e9];
  for (let i = 0; i < 20_000; i++) angles.push((Math.random() - 0.5) * 10 ** (i % 8));
  for (const angle of angles) {
    m.sinCosDeg(out, 0, Float64Array.of(angle), 0);
    const same = Object.is(out[0], m.sinDeg(angle)) && Object.is(out[1], m.cosDeg(angle));
    expect(same, String(angle)).toBe(true);
  }
});

describe('OKLab (Ottosson 2020), against culori', () => {
  it('agrees both ways', () => {
    const unit = fc.double({ min: 0, max: 1, noNaN: true });
    fc.assert(
      fc.property(unit, unit, unit, (r, g, b) => {
        const lab = m.oklabFromLinear([r, g, b]);
        const want = oklab({ mode: 'lrgb', r, g, b });
        expect(lab[0]).toBeCloseTo(want.l, 6);
        expect(lab[1]).toBeCloseTo(want.a, 6);
        expect(lab[2]).toBeCloseTo(want.b, 6);
        const back = Float64Array.from(lab);
        m.linearFromOklabAt(back, 0);
        [r, g, b].forEach((value, i) => expect(back[i]).toBeCloseTo(value, 6));
      }),
      { numRuns: 2000 },
    );
  });
});
