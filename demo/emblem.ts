import type { Outline, Shot } from '../core/document';
import { lookingAt, ShotBuilder } from './shot-builder';

const LAST = 96;
const POINTS = 48;

/** A ring of points at a share of the size. */
const ring = (radius: (turn: number) => number, points = POINTS): number[] =>
  Array.from({ length: points }, (_, i) => {
    const turn = (2 * Math.PI * i) / points;
    return [radius(turn) * Math.cos(turn), radius(turn) * Math.sin(turn)];
  }).flat();

const outline = (outer: number[], holes: number[][] = []): Outline => [
  { letter: 0, outer, holes: holes.map((hole) => reversed(hole)) },
];

const reversed = (points: readonly number[]): number[] => {
  const out: number[] = [];
  for (let i = points.length - 2; i >= 0; i -= 2) out.push(points[i]!, points[i + 1]!);
  return out;
};

/** A flat anchor, its ring at the top, in shares of its size. */
const ANCHOR: Outline = outline(
  [
    -0.06, 0.28, -0.24, 0.28, -0.24, 0.17, -0.06, 0.17, -0.06, -0.33, -0.26, -0.2, -0.21, -0.13, -0.42, -0.06,
    -0.42, -0.29, -0.34, -0.25, 0, -0.47, 0.34, -0.25, 0.42, -0.29, 0.42, -0.06, 0.21, -0.13, 0.26, -0.2,
    0.06, -0.33, 0.06, 0.17, 0.24, 0.17, 0.24, 0.28, 0.06, 0.28, 0.06, 0.36, -0.06, 0.36,
  ].reduceRight<number[]>((all, _, i, list) => (i % 2 === 0 ? [...all, list[i]!, list[i + 1]!] : all), []),
);

/**
 * The emblem of the fair: an anchor that rocks before a sun whose rays turn by a formula. It is made to be shown in other
 * shots.
 */
export function emblem(): Shot {
  const b = new ShotBuilder(3391, { background: '#e8dfcb', last: LAST, exposure: 1 });
  const cream = b.look('Cream board', '#efe4cb', { roughness: 0.8 });
  const navy = b.look('Navy paint', '#23344d', { roughness: 0.5 });
  const red = b.look('Fair red', '#b23422', { roughness: 0.55 });
  const brass = b.look('Brass', '#d0a046', { metallic: 0.6, roughness: 0.35 });
  const flat = { bevel: 0 };
  b.solid('Board', b.shape('box', { width: 2, height: 2, depth: 0.04 }), cream, { at: [0, 0, 0.02] });
  b.solid(
    'Rim',
    b.shape(
      'outline',
      { width: 1, height: 1, depth: 0.05, ...flat },
      {
        outline: outline(
          ring(() => 0.94),
          [ring(() => 0.84)],
        ),
      },
    ),
    navy,
    { at: [0, 0, 0.065] },
  );
  const rays = b.solid(
    'Rays',
    b.shape(
      'outline',
      { width: 1, height: 1, depth: 0.03, ...flat },
      { outline: outline(ring((turn) => 0.62 + 0.16 * Math.sign(Math.cos(turn * 12)), 192)) },
    ),
    red,
    { at: [0, 0, 0.055] },
  );
  b.link(`${rays}/rotation.z`, 'turns(time / 16s)');
  b.solid('Disc', b.shape('cylinder', { radius: 0.55, height: 0.05, sides: 64 }), cream, {
    at: [0, 0, 0.075],
    turn: [90, 0, 0],
  });
  const anchor = b.hub('Anchor', { at: [0, 0.38, 0.12] });
  b.solid(
    'Shank and flukes',
    b.shape('outline', { width: 1, height: 1, depth: 0.06, bevel: 0.01 }, { outline: ANCHOR }),
    navy,
    { parent: anchor, at: [0, -0.36, 0] },
  );
  b.solid('Ring', b.shape('torus', { radius: 0.07, tube: 0.022 }), brass, {
    parent: anchor,
    at: [0, 0.06, 0],
    turn: [90, 0, 0],
  });
  b.keys(`${anchor}/rotation.z`, [
    { frame: 1, value: -9 },
    { frame: LAST / 2 + 1, value: 9 },
    { frame: LAST + 1, value: -9 },
  ]);
  const from = [0, 0, 4.6] as const;
  b.camera('Camera', { at: from, turn: lookingAt(from, [0, 0, 0]), values: { lens: 50 } });
  b.part('sun', 'Sun', { turn: [-35, 30, 0], at: [3, 4, 5], order: 'YXZ', values: { strength: 2.2 } });
  b.part('sky', 'Sky light', { at: [0, 3, 0], values: { strength: 1 } });
  return b.build();
}
