import { camLift } from '../core/mechanism';
import { discOutline } from '../core/recipe';
import type { ShotBuilder } from './shot-builder';

interface OrganLooks {
  readonly case: string;
  readonly trim: string;
  readonly metal: string;
  readonly brass: string;
  readonly wood: string;
  readonly lantern: string;
}

/** The cam of the bell hammer: radius at rest, lift, and how its turn is shared, metres and degrees. */
const CAM = { law: '3-4-5', base: 0.14, lift: 0.09, rise: 230, dwell: 20, fall: 50 } as const;
const TAPPET = 0.3;
/** From the hinge of the hammer to the tappet. */
const ARM = 0.22;
const HAMMER = 0.52;
const PIPES = 9;

/**
 * The organ beside the ride: a shaft turns as fast as the dial `speed` says, once for each stroke of the bell. Its
 * cam lifts a tappet, the tappet a hammer, which falls on the bell.
 */
export function addOrgan(b: ShotBuilder, looks: OrganLooks): void {
  b.dial({ name: 'speed', quantity: 'none', min: 0, max: 2 }, 0.5);
  const organ = b.hub('Organ', { at: [-2.55, 0, 3.45], turn: [0, 30, 0] });
  const box = (width: number, height: number, depth: number): string =>
    b.shape('box', { width, height, depth });
  b.solid('Organ foot', box(1.9, 0.16, 0.8), looks.wood, { parent: organ, at: [0, 0.08, -0.35] });
  b.solid('Organ case', box(1.7, 1.25, 0.6), looks.case, { parent: organ, at: [0, 0.78, -0.4] });
  b.solid('Organ cornice', box(1.86, 0.1, 0.74), looks.trim, { parent: organ, at: [0, 1.45, -0.4] });
  const pipes = b.part('repeat', 'Pipes', {
    parent: organ,
    at: [-0.68, 1.5, -0.4],
    values: { copies: PIPES, gap: 0.17 },
    repeat: { pattern: 'row', step: null },
  });
  b.solid('Pipe', b.shape('cylinder', { radius: 0.06, height: 0.6, sides: 20 }), looks.brass, {
    parent: pipes,
    values: { 'pivot.y': -0.3 },
    at: [0, 0.3, 0],
  });
  b.link(`${pipes}/copy.scale.y`, '1.3 - 0.2 * abs(index - (count - 1) / 2)');

  const works = b.hub('Bell works', { parent: organ, at: [-0.3, 0.66, 0] });
  b.solid('Front board', box(1.05, 0.95, 0.03), looks.trim, { parent: works, at: [0.22, 0.12, -0.085] });
  const shaft = b.hub('Organ shaft', { parent: works });
  b.solid('Shaft end', b.shape('cylinder', { radius: 0.035, height: 0.2, sides: 20 }), looks.brass, {
    parent: shaft,
    turn: [90, 0, 0],
  });
  // The tappet stands above the shaft: with the cam at 0, the edge straight up is what lifts it now.
  const edge = (angle: number): number =>
    CAM.base + camLift(CAM.law, 90 - angle, CAM.lift, CAM.rise, CAM.dwell, CAM.fall);
  b.solid(
    'Bell cam',
    b.shape('outline', { width: 1, height: 1, depth: 0.06, bevel: 0 }, { outline: discOutline(240, edge) }),
    looks.metal,
    { parent: shaft },
  );
  const tappet = b.solid('Tappet', box(0.045, TAPPET, 0.045), looks.brass, {
    parent: works,
    at: [0, CAM.base + TAPPET / 2, 0],
    values: { 'pivot.y': -TAPPET / 2 },
  });
  const hammer = b.hub('Hammer', { parent: works, at: [-ARM, CAM.base + TAPPET, 0] });
  b.solid('Hammer arm', box(HAMMER, 0.035, 0.035), looks.wood, {
    parent: hammer,
    at: [HAMMER / 2, 0.0175, 0],
  });
  b.solid('Hinge', b.shape('cylinder', { radius: 0.04, height: 0.12, sides: 20 }), looks.metal, {
    parent: hammer,
    turn: [90, 0, 0],
  });
  b.solid('Hammer head', b.shape('ball', { radius: 0.06 }), looks.metal, {
    parent: hammer,
    at: [HAMMER, -0.04, 0],
  });
  const top = CAM.base + TAPPET - 0.1;
  b.solid(
    'Bell',
    b.shape('cylinder', { radius: 0.17, top: 0.09 / 0.17, height: 0.22, sides: 40 }),
    looks.brass,
    {
      parent: works,
      at: [HAMMER - ARM + 0.06, top - 0.13, 0],
    },
  );
  b.solid('Bell post', b.shape('cylinder', { radius: 0.02, height: 0.5, sides: 16 }), looks.metal, {
    parent: works,
    at: [HAMMER - ARM + 0.06, top - 0.45, 0],
  });
  for (const side of [-1, 1])
    b.solid(`Lantern ${side < 0 ? 'left' : 'right'}`, b.shape('ball', { radius: 0.085 }), looks.lantern, {
      parent: organ,
      at: [side * 0.86, 1.58, -0.4],
    });

  b.link(`${shaft}/rotation.z`, 'turns(dial.speed * time / 1s)');
  b.recipe(
    'cam',
    { driver: `${shaft}/rotation.z`, follower: `${tappet}/location.y` },
    {
      law: CAM.law,
      lift: CAM.lift,
      rise: CAM.rise,
      dwell: CAM.dwell,
      fall: CAM.fall,
      phase: 0,
    },
  );
  b.link(
    `${hammer}/rotation.z`,
    `atan2(Tappet.location.y - ${(CAM.base + TAPPET / 2) * 1000}mm, ${ARM * 1000}mm)`,
  );
}
