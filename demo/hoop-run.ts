import type { Shot } from '../core/document';
import { lookingAt, ShotBuilder } from './shot-builder';

const RATE = 24;
const RADIUS = 0.5;
const TUBE = 0.045;
/** Height of the fall in metres, share of its speed that a bounce keeps, and gravity (CGPM 1901). */
const FALL = 2;
const KEPT = 0.75;
const GRAVITY = 9.80665;
const BOUNCES = 5;

/** Where an animator puts the impacts and the tops between them: the moments of the fall, on whole frames. */
export function bounceFrames(): readonly { impact: number; top: number; height: number }[] {
  const fall = Math.sqrt((2 * FALL) / GRAVITY);
  let impact = fall;
  return Array.from({ length: BOUNCES }, (_, n) => {
    const flight = 2 * fall * KEPT ** (n + 1);
    const out = {
      impact: 1 + Math.round(impact * RATE),
      top: 1 + Math.round((impact + flight / 2) * RATE),
      height: FALL * KEPT ** (2 * (n + 1)),
    };
    impact += flight;
    return out;
  });
}

/**
 * A wooden hoop drops on the quay, bounces with squash and stretch, rolls off without slipping and comes to rest. Three
 * things one above the other: the way, the squash at the foot, the hoop that turns about its middle.
 */
export function hoopRun(): Shot {
  const b = new ShotBuilder(3301, { background: '#31465c', last: 144, exposure: 1 });
  const stone = b.look('Quay stone', '#7d7466', { roughness: 0.95 });
  const wood = b.look('Hoop wood', '#a8692c', { roughness: 0.45 });
  const ribbon = b.look('Ribbon', '#b23422', { roughness: 0.6 });
  const iron = b.look('Iron', '#474c52', { metallic: 0.7, roughness: 0.5 });

  b.solid('Quay floor', b.shape('box', { width: 40, height: 0.4, depth: 14 }), stone, { at: [0, -0.2, -2] });
  const bollard = b.shape(
    'lathe',
    { radius: 0.24, height: 0.7 },
    {
      profile: [
        [0, 0],
        [1, 0],
        [1, 0.08],
        [0.7, 0.16],
        [0.64, 0.7],
        [0.95, 0.8],
        [0.9, 0.94],
        [0.5, 1],
        [0, 1],
      ],
    },
  );
  for (let i = 0; i < 6; i++)
    b.solid(`Bollard ${i + 1}`, bollard, iron, { at: [-5.4 + i * 2.3, 0.35, -3.2] });

  const way = b.hub('Hoop way');
  const squash = b.hub('Hoop squash', { parent: way });
  const hoop = b.solid('Hoop', b.shape('torus', { radius: RADIUS - TUBE, tube: TUBE }), wood, {
    parent: squash,
    at: [0, RADIUS, 0],
    rest: [90, 0, 0],
  });
  const band = b.shape('torus', { radius: TUBE, tube: 0.02 });
  for (let i = 0; i < 5; i++) {
    const angle = (i * 2 * Math.PI) / 5;
    b.solid(`Ribbon ${i + 1}`, band, ribbon, {
      parent: hoop,
      at: [(RADIUS - TUBE) * Math.cos(angle), 0, (RADIUS - TUBE) * Math.sin(angle)],
      turn: [90, 0, (i * 360) / 5],
      order: 'ZYX',
    });
  }

  const bounces = bounceFrames();
  const last = bounces.at(-1)!;
  b.keys(`${way}/location.y`, [
    { frame: 1, value: FALL, manner: 'quad-in' },
    ...bounces.slice(0, -1).flatMap(({ impact, top, height }) => [
      { frame: impact, value: 0, manner: 'quad-out' as const },
      { frame: top, value: height, manner: 'quad-in' as const },
    ]),
    { frame: last.impact, value: 0 },
  ]);
  b.keys(`${way}/location.x`, [
    { frame: 1, value: -4.2, manner: 'linear' },
    { frame: last.impact, value: -0.4 },
    { frame: 136, value: 1 },
  ]);
  // It rolls on as fast as it came, without a jolt at the last bounce, and slows down on the stones.
  b.matchSlope(`${way}/location.x`, last.impact);
  b.link(`${hoop}/rotation.y`, `roll("Hoop way".location.x, ${RADIUS}m)`);
  const squashes: { frame: number; y: number }[] = [
    { frame: 1, y: 1 },
    { frame: bounces[0]!.impact - 3, y: 1.14 },
  ];
  bounces.forEach(({ impact, top, height }, n) => {
    const share = Math.sqrt(height / FALL);
    squashes.push({ frame: impact, y: 1 - 0.3 * share });
    if (n === bounces.length - 1) squashes.push({ frame: impact + 5, y: 1 });
    else
      squashes.push(
        { frame: impact + 3, y: 1 + 0.12 * share },
        { frame: top, y: 1 },
        { frame: Math.max(top + 1, bounces[n + 1]!.impact - 2), y: 1 + 0.1 * share },
      );
  });
  b.keys(
    `${squash}/scale.y`,
    squashes.map(({ frame, y }) => ({ frame, value: y })),
  );
  b.keys(
    `${squash}/scale.x`,
    squashes.map(({ frame, y }) => ({ frame, value: Number((1 / y).toFixed(4)) })),
  );
  bounces.forEach(({ impact }, n) => b.marker(`Bounce ${n + 1}`, impact));

  const from = [-2.4, 1.5, 7.4] as const;
  const to = [0.4, 1.4, 6.6] as const;
  const camera = b.camera('Camera', {
    at: from,
    turn: lookingAt(from, [-2.1, 1.3, 0]),
    values: { lens: 34 },
  });
  b.keys(`${camera}/location.x`, [
    { frame: 12, value: from[0] },
    { frame: 132, value: to[0] },
  ]);
  b.part('sun', 'Sun', { turn: [-46, 40, 0], at: [5, 8, 6], order: 'YXZ', values: { strength: 2.8 } });
  b.part('sky', 'Sky light', { at: [0, 6, 0], values: { strength: 1.2 } });
  return b.build();
}
