import type { Shot } from '../core/document';
import { centreDistance, meshPhase } from '../core/mechanism';
import { lookingAt, ShotBuilder } from './shot-builder';

const BOATS = 8;
const CANOPY_STRIPES = 16;
const POLE_STRIPES = 12;
const LAMPS = 24;
const PINION_TEETH = 16;
const WHEEL_TEETH = 56;
const MODULE = 0.1;
/** Direction in which the pinion stands beside the crown wheel, degrees in the wheel's plane. */
const PINION_SIDE = -28;
const BOAT_RING = 1.95;

const around = (radius: number, degrees: number, y: number): [number, number, number] => [
  radius * Math.cos((degrees * Math.PI) / 180),
  y,
  -radius * Math.sin((degrees * Math.PI) / 180),
];

/**
 * The roundabout of boats: a hand crank turns a pinion, the pinion the crown wheel, the wheel the deck with eight
 * boats that rise and fall on cranks, each an eighth out of phase; the camera comes in.
 */
export function fullRide(): Shot {
  const b = new ShotBuilder(1811, { background: '#22344d', last: 96, exposure: 1 });
  const looks = {
    quay: b.look('Quay stone', '#8d8272', { roughness: 0.95 }),
    plank: b.look('Plank', '#5a3d28', { roughness: 0.8 }),
    deck: b.look('Deck wood', '#9a6233', { roughness: 0.55 }),
    brass: b.look('Brass', '#c9973f', { metallic: 0.9, roughness: 0.3 }),
    iron: b.look('Iron', '#474c52', { metallic: 0.75, roughness: 0.5 }),
    red: b.look('Fair red', '#b23422', { roughness: 0.6 }),
    cream: b.look('Cream', '#eadfc6', { roughness: 0.7 }),
    teal: b.look('Harbour teal', '#0f6b6e', { roughness: 0.5 }),
    sail: b.look('Sailcloth', '#f3ead6', { roughness: 0.9 }),
    knob: b.look('Knob', '#7c2418', { roughness: 0.35 }),
    lampEven: b.look('Lamp, even', '#ffd58a', { glow: 2.5, roughness: 0.4 }),
    lampOdd: b.look('Lamp, odd', '#ffd58a', { glow: 0.6, roughness: 0.4 }),
  };

  const engine = b.hub('Engine');
  const ride = b.hub('Ride');
  const quay = b.hub('Quay');
  b.solid(
    'Quay floor',
    b.shape('cylinder', { radius: 12, topRadius: 12, height: 0.2, sides: 64 }),
    looks.quay,
    { parent: quay, at: [0, -0.1, 0] },
  );
  const bollard = b.shape('cylinder', { radius: 0.16, topRadius: 0.12, height: 0.5, sides: 24 });
  for (let i = 0; i < 6; i++)
    b.solid(`Bollard ${i + 1}`, bollard, looks.iron, { parent: quay, at: around(7.2, 25 + i * 26, 0.25) });

  const side = around(centreDistance(MODULE, PINION_TEETH, WHEEL_TEETH), PINION_SIDE, 0.28);
  const pinion = b.solid(
    'Pinion',
    b.shape('gear', { teeth: PINION_TEETH, module: MODULE, thickness: 0.22, bore: 0.08 }),
    looks.brass,
    {
      parent: engine,
      at: side,
      rest: [-90, 0, 0],
    },
  );
  const wheel = b.solid(
    'Crown wheel',
    b.shape('gear', { teeth: WHEEL_TEETH, module: MODULE, thickness: 0.16, bore: 2.1 }),
    looks.iron,
    {
      parent: engine,
      at: [0, 0.28, 0],
      rest: [-90, 0, meshPhase(PINION_TEETH, WHEEL_TEETH, PINION_SIDE + 180, 0)],
    },
  );
  b.solid(
    'Crank shaft',
    b.shape('cylinder', { radius: 0.07, topRadius: 0.07, height: 1.3, sides: 24 }),
    looks.iron,
    { parent: pinion, at: [0, 0, 0.65], turn: [90, 0, 0] },
  );
  b.solid('Crank arm', b.shape('box', { width: 0.62, height: 0.1, depth: 0.07 }), looks.iron, {
    parent: pinion,
    at: [0.26, 0, 1.27],
  });
  b.solid(
    'Crank knob',
    b.shape('cylinder', { radius: 0.075, topRadius: 0.06, height: 0.34, sides: 24 }),
    looks.knob,
    { parent: pinion, at: [0.52, 0, 1.45], turn: [90, 0, 0] },
  );
  b.solid(
    'Plinth',
    b.shape('cylinder', { radius: 2.5, topRadius: 2.4, height: 0.2, sides: 48 }),
    looks.plank,
    { parent: engine, at: [0, 0.1, 0] },
  );

  const deck = b.solid(
    'Deck',
    b.shape('cylinder', { radius: 2.62, topRadius: 2.62, height: 0.16, sides: 64 }),
    looks.deck,
    { parent: ride, at: [0, 0.48, 0] },
  );
  b.solid('Deck rim', b.shape('torus', { radius: 2.62, tube: 0.07 }), looks.brass, {
    parent: deck,
    at: [0, 0.05, 0],
  });
  const stave = b.shape('cylinder', {
    radius: 0.46,
    topRadius: 0.36,
    height: 2.9,
    sides: 48,
    sweep: 360 / POLE_STRIPES,
  });
  const pole = b.hub('Centre pole', { parent: deck, at: [0, 1.5, 0] });
  for (let i = 0; i < POLE_STRIPES; i++)
    b.solid(`Stave ${i + 1}`, stave, i % 2 ? looks.cream : looks.teal, {
      parent: pole,
      turn: [0, (i * 360) / POLE_STRIPES, 0],
    });
  b.solid('Pole foot', b.shape('torus', { radius: 0.48, tube: 0.09 }), looks.brass, {
    parent: pole,
    at: [0, -1.37, 0],
  });

  const boats = b.hub('Boats', { parent: deck });
  const poles = b.hub('Boat poles', { parent: deck });
  const shapes = {
    hull: b.shape('ball', { radius: 0.5, span: 100 }),
    gunwale: b.shape('torus', { radius: 0.485, tube: 0.035 }),
    mast: b.shape('cylinder', { radius: 0.025, topRadius: 0.02, height: 0.95, sides: 14 }),
    sail: b.shape('cylinder', { radius: 0.5, topRadius: 0, height: 0.82, sides: 4 }),
    pole: b.shape('cylinder', { radius: 0.035, topRadius: 0.035, height: 2.55, sides: 16 }),
  };
  const hulls = ['#0f6f77', '#b8402f', '#d6a545', '#35507d'].map((hex, i) =>
    b.look(`Hull ${i + 1}`, hex, { roughness: 0.4 }),
  );
  for (let i = 0; i < BOATS; i++) {
    const angle = (i * 360) / BOATS;
    b.solid(`Boat pole ${i + 1}`, shapes.pole, looks.brass, {
      parent: poles,
      at: around(BOAT_RING, angle, 1.33),
    });
    const boat = b.hub(`Boat ${i + 1}`, {
      parent: boats,
      at: around(BOAT_RING, angle, 0.98),
      turn: [0, angle + 90, 0],
    });
    b.solid(`Hull ${i + 1}`, shapes.hull, hulls[i % hulls.length]!, {
      parent: boat,
      scale: [1.2, 0.82, 0.56],
    });
    b.solid(`Gunwale ${i + 1}`, shapes.gunwale, looks.cream, {
      parent: boat,
      at: [0, 0.07, 0],
      scale: [1.2, 1, 0.56],
    });
    b.solid(`Mast ${i + 1}`, shapes.mast, looks.plank, { parent: boat, at: [0.12, 0.5, 0] });
    b.solid(`Sail ${i + 1}`, shapes.sail, looks.sail, {
      parent: boat,
      at: [-0.16, 0.58, 0],
      scale: [0.55, 1, 0.05],
    });
  }

  const canopy = b.hub('Canopy', { parent: ride, at: [0, 3.2, 0] });
  const stripe = b.shape('cylinder', {
    radius: 3.05,
    topRadius: 0.05,
    height: 1.15,
    sides: 48,
    sweep: 360 / CANOPY_STRIPES,
  });
  for (let i = 0; i < CANOPY_STRIPES; i++)
    b.solid(`Stripe ${i + 1}`, stripe, i % 2 ? looks.cream : looks.red, {
      parent: canopy,
      at: [0, 0.575, 0],
      turn: [0, (i * 360) / CANOPY_STRIPES, 0],
    });
  b.solid('Valance', b.shape('torus', { radius: 3.02, tube: 0.1 }), looks.teal, {
    parent: canopy,
    at: [0, -0.02, 0],
  });
  b.solid('Finial', b.shape('ball', { radius: 0.2 }), looks.brass, { parent: canopy, at: [0, 1.3, 0] });
  const lamp = b.shape('ball', { radius: 0.075 });
  const lamps = b.hub('Lamps', { parent: canopy });
  for (let i = 0; i < LAMPS; i++)
    b.solid(`Lamp ${i + 1}`, lamp, i % 2 ? looks.lampOdd : looks.lampEven, {
      parent: lamps,
      at: around(3.12, (i * 360) / LAMPS, -0.1),
    });

  const from = [6.4, 4.6, 10.4] as const;
  const to = [4.4, 3.4, 9.2] as const;
  const target = [0.55, 1.75, 0] as const;
  const camera = b.camera('Camera', { at: from, turn: lookingAt(from, target), values: { lens: 34 } });
  b.part('sun', 'Sun', { turn: [-48, 38, 0], at: [5, 8, 6], order: 'YXZ', values: { strength: 2.6 } });
  b.part('sky', 'Sky light', { at: [0, 6, 0], values: { strength: 1.1 } });

  b.keys(`${pinion}/rotation.z`, [
    { frame: 1, value: 0 },
    { frame: 25, value: -80 },
    { frame: 73, value: -500 },
    { frame: 96, value: -600 },
  ]);
  b.link(`${wheel}/rotation.z`, `mesh(Pinion.rotation.z, ${PINION_TEETH}, ${WHEEL_TEETH})`);
  b.link(`${deck}/rotation.y`, '"Crown wheel".rotation.z');
  b.link(`${canopy}/rotation.y`, 'Deck.rotation.y');
  for (let i = 0; i < BOATS; i++) {
    const boat = b.idOf(`Boat ${i + 1}`);
    b.link(
      `${boat}/location.y`,
      `own + slider(Deck.rotation.y * 6 + ${(i * 360) / BOATS}deg, 0.22m, 0.9m) - 0.9m`,
    );
  }
  b.link(`${looks.lampEven}/glow`, 'if(square(turns(time * 2Hz)) > 0, 3, 0.5)');
  b.link(`${looks.lampOdd}/glow`, 'if(square(turns(time * 2Hz)) > 0, 0.5, 3)');
  const away = lookingAt(from, target);
  // Closer in, the finial would leave the picture: the camera looks up a little.
  const near = lookingAt(to, [target[0], target[1] + 0.2, target[2]]);
  (['x', 'y', 'z'] as const).forEach((axis, i) => {
    b.keys(`${camera}/location.${axis}`, [
      { frame: 1, value: from[i]! },
      { frame: 96, value: to[i]! },
    ]);
    if (axis !== 'z')
      b.keys(`${camera}/rotation.${axis}`, [
        { frame: 1, value: away[i]! },
        { frame: 96, value: near[i]! },
      ]);
  });
  return b.build();
}
