import type { Shot } from '../core/document';
import { colourFromHex } from '../core/math';
import { centreDistance } from '../core/mechanism';
import { addOrgan } from './organ';
import { lookingAt, ShotBuilder } from './shot-builder';
import { organTune } from './tune';

const BOATS = 8;
const CANOPY_STRIPES = 16;
const POLE_STRIPES = 12;
const LAMPS = 24;
const PINION_TEETH = 16;
const WHEEL_TEETH = 64;
const MODULE = 0.0875;
/** Direction in which the pinion stands beside the crown wheel, degrees in the wheel's plane. */
const PINION_SIDE = -28;
const BOAT_RING = 1.95;
/** Height of the boats' cranks over the deck, how far their pins stand out, and how long the rods are, metres. */
const CRANK_HEIGHT = 2.54;
const THROW = 0.22;
const ROD = 0.62;
/** Top of a boat's pole over the middle of the boat. */
const POLE_TOP = 0.98;
const RING_TEETH = 48;
const CRANK_TEETH = 8;
const CRANK_MODULE = 0.02;
/** First frame of the next round: the range ends one frame before. */
const LAST = 193;
const WOOD = { pattern: { kind: 'wood', lies: 'body' } } as const;
const grain = (hex: string, size: number) => ({
  'pattern.colour': colourFromHex(hex)!,
  'pattern.size': size,
});
/** Frame at which the camera has come in. */
const CLOSE_UP = 97;

const around = (radius: number, degrees: number, y: number): [number, number, number] => [
  radius * Math.cos((degrees * Math.PI) / 180),
  y,
  -radius * Math.sin((degrees * Math.PI) / 180),
];

const FAR = [6.4, 4.6, 10.4] as const;
const NEAR = [4.7, 3.5, 9.6] as const;
const TARGET = [0.55, 1.75, 0] as const;

type Looks = ReturnType<typeof looksOf>;

function looksOf(b: ShotBuilder) {
  return {
    quay: b.look('Quay stone', '#8d8272', { roughness: 0.95 }),
    plank: b.look('Plank', '#4a301e', { roughness: 0.8, ...grain('#6f4a2c', 0.16) }, WOOD),
    deck: b.look('Deck wood', '#824c22', { roughness: 0.5, ...grain('#a96d38', 0.22) }, WOOD),
    brass: b.look('Brass', '#c9973f', { metallic: 0.9, roughness: 0.3 }),
    iron: b.look('Iron', '#474c52', { metallic: 0.75, roughness: 0.5 }),
    red: b.look('Fair red', '#b23422', { roughness: 0.6 }),
    cream: b.look('Cream', '#eadfc6', { roughness: 0.7 }),
    teal: b.look('Harbour teal', '#0f6b6e', { roughness: 0.5 }),
    sail: b.look('Sailcloth', '#f3ead6', { roughness: 0.9 }),
    knob: b.look('Knob', '#7c2418', { roughness: 0.35 }),
    lamp: b.look('Lamp', '#ffd58a', { roughness: 0.4 }),
    lantern: b.look('Lantern', '#ffb765', { roughness: 0.4 }),
  };
}

function addQuay(b: ShotBuilder, looks: Looks, quay: string): void {
  b.solid('Quay floor', b.shape('cylinder', { radius: 12, height: 0.2, sides: 64 }), looks.quay, {
    parent: quay,
    at: [0, -0.1, 0],
  });
  const bollard = b.shape('cylinder', { radius: 0.16, top: 0.12 / 0.16, height: 0.5, sides: 24 });
  for (let i = 0; i < 6; i++)
    b.solid(`Bollard ${i + 1}`, bollard, looks.iron, { parent: quay, at: around(7.2, 25 + i * 26, 0.25) });
}

/** The hand crank with its pinion, and the crown wheel. */
function addEngine(b: ShotBuilder, looks: Looks, engine: string): { pinion: string; wheel: string } {
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
      rest: [-90, 0, 0],
    },
  );
  b.solid('Crank shaft', b.shape('cylinder', { radius: 0.07, height: 1.3, sides: 24 }), looks.iron, {
    parent: pinion,
    at: [0, 0, 0.65],
    turn: [90, 0, 0],
  });
  b.solid('Crank arm', b.shape('box', { width: 0.62, height: 0.1, depth: 0.07 }), looks.iron, {
    parent: pinion,
    at: [0.26, 0, 1.27],
  });
  b.solid(
    'Crank knob',
    b.shape('cylinder', { radius: 0.075, top: 0.06 / 0.075, height: 0.34, sides: 24 }),
    looks.knob,
    { parent: pinion, at: [0.52, 0, 1.45], turn: [90, 0, 0] },
  );
  b.solid(
    'Plinth',
    b.shape('cylinder', { radius: 2.5, top: 2.4 / 2.5, height: 0.2, sides: 48 }),
    looks.plank,
    { parent: engine, at: [0, 0.1, 0] },
  );
  return { pinion, wheel };
}

function addDeck(b: ShotBuilder, looks: Looks, ride: string): string {
  const deck = b.solid('Deck', b.shape('cylinder', { radius: 2.62, height: 0.16, sides: 64 }), looks.deck, {
    parent: ride,
    at: [0, 0.48, 0],
  });
  b.solid('Deck rim', b.shape('torus', { radius: 2.62, tube: 0.07 }), looks.brass, {
    parent: deck,
    at: [0, 0.05, 0],
  });
  const stave = b.shape('cylinder', {
    radius: 0.46,
    top: 0.36 / 0.46,
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
  return deck;
}

/** The boats, each with the crank from which it hangs, and the ring on which the cranks' wheels run. */
function addBoats(b: ShotBuilder, looks: Looks, ride: string, deck: string): void {
  const cranks = b.hub('Cranks', { parent: deck });
  const boats = b.hub('Boats', { parent: deck });
  const shapes = {
    shaft: b.shape('cylinder', { radius: 0.03, height: 1.44, sides: 12 }),
    wheel: b.shape('gear', { teeth: CRANK_TEETH, module: CRANK_MODULE, thickness: 0.07, bore: 0.02 }),
    web: b.shape('box', { width: 0.07, height: THROW + 0.07, depth: 0.035 }),
    pin: b.shape('cylinder', { radius: 0.028, height: 0.14, sides: 16 }),
    rod: b.shape('box', { width: 0.05, height: ROD, depth: 0.035 }),
    hull: b.shape('ball', { radius: 0.5, span: 100 }),
    gunwale: b.shape('torus', { radius: 0.485, tube: 0.035 }),
    sail: b.shape('cylinder', { radius: 0.5, top: 0, height: 0.82, sides: 4 }),
    pole: b.shape('cylinder', { radius: 0.035, top: 0.03 / 0.035, height: POLE_TOP + 1.2, sides: 16 }),
  };
  const hulls = ['#0f6f77', '#b8402f', '#d6a545', '#35507d'].map((hex, i) =>
    b.look(`Hull ${i + 1}`, hex, { roughness: 0.4 }),
  );
  b.solid(
    'Crank ring',
    b.shape('gear', { teeth: RING_TEETH, module: CRANK_MODULE, thickness: 0.06, bore: 0.4 }),
    looks.iron,
    {
      parent: ride,
      at: [0, 0.48 + CRANK_HEIGHT - (CRANK_TEETH * CRANK_MODULE) / 2 - 0.03, 0],
      rest: [-90, 0, 0],
    },
  );
  for (let i = 0; i < BOATS; i++) {
    const angle = (i * 360) / BOATS;
    const crank = b.hub(`Crank ${i + 1}`, {
      parent: cranks,
      at: around(BOAT_RING, angle, CRANK_HEIGHT),
      rest: [0, (angle + 90) % 360, 0],
    });
    b.solid(`Crank shaft ${i + 1}`, shapes.shaft, looks.iron, {
      parent: crank,
      at: [0, 0, -0.76],
      turn: [90, 0, 0],
    });
    b.solid(`Crank wheel ${i + 1}`, shapes.wheel, looks.brass, { parent: crank, at: [0, 0, -1.47] });
    b.solid(`Crank web ${i + 1}`, shapes.web, looks.iron, { parent: crank, at: [0, -THROW / 2, -0.06] });
    b.solid(`Crank pin ${i + 1}`, shapes.pin, looks.brass, {
      parent: crank,
      at: [0, -THROW, 0],
      turn: [90, 0, 0],
    });
    const boat = b.hub(`Boat ${i + 1}`, {
      parent: boats,
      // As high as if the top of its pole were at the crank; the link lets it down by what the rod reaches.
      at: around(BOAT_RING, angle, CRANK_HEIGHT - POLE_TOP),
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
    b.solid(`Boat pole ${i + 1}`, shapes.pole, looks.brass, {
      parent: boat,
      at: [0, (POLE_TOP - 1.2) / 2, 0],
    });
    b.solid(`Sail ${i + 1}`, shapes.sail, looks.sail, {
      parent: boat,
      at: [-0.28, 0.5, 0],
      scale: [0.5, 0.85, 0.05],
    });
    b.solid(`Rod ${i + 1}`, shapes.rod, looks.iron, {
      parent: boat,
      at: [0, POLE_TOP + ROD / 2, 0],
      values: { 'pivot.y': -ROD / 2 },
    });
  }
}

function addCanopy(b: ShotBuilder, looks: Looks, ride: string): { canopy: string; lamps: string } {
  const canopy = b.hub('Canopy', { parent: ride, at: [0, 3.2, 0] });
  const stripe = b.shape('cylinder', {
    radius: 3.05,
    top: 0.05 / 3.05,
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
  const lamps = b.part('repeat', 'Lamps', {
    parent: canopy,
    at: [0, -0.1, 0],
    values: { copies: LAMPS, gap: 3.12 },
    repeat: { pattern: 'ring', step: null },
  });
  b.solid('Lamp', b.shape('ball', { radius: 0.075 }), looks.lamp, { parent: lamps });
  return { canopy, lamps };
}

/** The camera, and the light of the evening. */
function addLight(b: ShotBuilder): { camera: string; glow: string } {
  const camera = b.camera('Camera', {
    at: FAR,
    turn: lookingAt(FAR, TARGET),
    values: { lens: 34, bloom: 0.55, bloomreach: 0.45, vignette: 0.25, exposure: 0.35 },
  });
  b.part('sun', 'Evening sun', {
    turn: [-19, 62, 0],
    at: [9, 4, 5],
    order: 'YXZ',
    values: { strength: 2.2, light: colourFromHex('#ffb277')! },
  });
  b.part('sky', 'Sky light', {
    at: [0, 6, 0],
    values: {
      strength: 0.75,
      light: colourFromHex('#8fa6dd')!,
      ground: colourFromHex('#7a5240')!,
    },
  });
  b.part('backdrop', 'Dusk', {
    at: [-8, 0, -8],
    values: { mirrored: 0.55, turn: 140, brightness: 0.85 },
    backdrop: { shows: 'surroundings', surroundings: 'quay' },
  });
  const glow = b.part('point', 'Canopy light', {
    at: [0, 2.6, 0],
    values: { light: colourFromHex('#ffc27a')!, reach: 9 },
  });
  return { camera, glow };
}

/** What turns what, and how the lamps burn. */
function linkAll(
  b: ShotBuilder,
  looks: Looks,
  of: Record<'pinion' | 'wheel' | 'deck' | 'canopy' | 'lamps' | 'glow', string>,
): void {
  const { pinion, wheel, deck, canopy, lamps, glow } = of;
  b.keys(`${pinion}/rotation.z`, [
    { frame: 1, value: 0 },
    { frame: 25, value: -103 },
    { frame: 73, value: -514 },
    { frame: 169, value: -1337 },
    { frame: LAST, value: -1440 },
  ]);
  b.recipe(
    'gear-outer',
    { driver: `${pinion}/rotation.z`, driven: `${wheel}/rotation.z` },
    { teeth1: PINION_TEETH, teeth2: WHEEL_TEETH, module: MODULE, direction: PINION_SIDE + 180 },
  );
  b.link(`${deck}/rotation.y`, '"Crown wheel".rotation.z');
  b.link(`${canopy}/rotation.y`, 'Deck.rotation.y');
  for (let i = 1; i <= BOATS; i++) {
    const phase = ((i - 1) * 360) / BOATS;
    b.link(
      `${b.idOf(`Crank ${i}`)}/rotation.z`,
      `mesh(Deck.rotation.y, ${RING_TEETH}, ${CRANK_TEETH})${phase === 0 ? '' : ` + ${phase}deg`}`,
    );
    b.link(
      `${b.idOf(`Boat ${i}`)}/location.y`,
      `own - slider("Crank ${i}".rotation.z, ${THROW * 1000}mm, ${ROD * 1000}mm)`,
    );
    b.link(
      `${b.idOf(`Rod ${i}`)}/rotation.z`,
      `-rodangle("Crank ${i}".rotation.z, ${THROW * 1000}mm, ${ROD * 1000}mm)`,
    );
  }
  b.dial({ name: 'brightness', quantity: 'none', min: 0, max: 3 }, 1);
  b.link(`${looks.lamp}/glow`, '0.3 * dial.brightness');
  b.link(`${glow}/strength`, '26 * dial.brightness');
  b.sound('Organ tune', organTune().hash, 1, { loop: true });
  // The lamps burn by what the organ plays, the lanterns by its bass.
  b.link(`${looks.lantern}/glow`, 'dial.brightness * (0.8 + 4 * level("Organ tune", 20Hz, 200Hz))');
  b.link(
    `${lamps}/copy.glow`,
    'dial.brightness * (1.5 + 6 * level("Organ tune", 200Hz, 4000Hz)) * pow(0.5 + 0.5 * wave(turns(index / 4) - "Organ shaft".rotation.z * 2), 3)',
  );
}

/** The camera comes in and goes back. */
function moveCamera(b: ShotBuilder, camera: string): void {
  const away = lookingAt(FAR, TARGET);
  // Closer in, the finial and the organ would leave the picture: the camera looks up and aside a little.
  const near = lookingAt(NEAR, [TARGET[0] - 0.45, TARGET[1] + 0.2, TARGET[2]]);
  (['x', 'y', 'z'] as const).forEach((axis, i) => {
    b.keys(`${camera}/location.${axis}`, [
      { frame: 1, value: FAR[i]! },
      { frame: CLOSE_UP, value: NEAR[i]! },
      { frame: LAST, value: FAR[i]! },
    ]);
    if (axis !== 'z')
      b.keys(`${camera}/rotation.${axis}`, [
        { frame: 1, value: away[i]! },
        { frame: CLOSE_UP, value: near[i]! },
        { frame: LAST, value: away[i]! },
      ]);
  });
}

/**
 * The roundabout of boats: a hand crank turns a pinion, the pinion the crown wheel, the wheel the deck with eight
 * boats. Each hangs by a rod from a crank of its own, an eighth out of phase, whose small wheel runs on a ring that
 * stands still under the canopy. Lamps chase round the canopy in time with the organ, whose cam lifts the hammer of a
 * bell. The ride makes one round, from rest to rest, and closes: it can be shown over and over.
 */
export function fullRide(): Shot {
  const b = new ShotBuilder(1811, { background: '#22344d', last: LAST - 1, exposure: 1, tones: 'aces' });
  const looks = looksOf(b);
  const engine = b.hub('Engine');
  const ride = b.hub('Ride');
  const quay = b.hub('Quay');
  addQuay(b, looks, quay);
  const { pinion, wheel } = addEngine(b, looks, engine);
  const deck = addDeck(b, looks, ride);
  addBoats(b, looks, ride, deck);
  const { canopy, lamps } = addCanopy(b, looks, ride);
  addOrgan(b, {
    case: looks.teal,
    trim: looks.cream,
    metal: looks.iron,
    brass: looks.brass,
    wood: looks.deck,
    lantern: looks.lantern,
  });
  const { camera, glow } = addLight(b);
  linkAll(b, looks, { pinion, wheel, deck, canopy, lamps, glow });
  moveCamera(b, camera);
  return b.build();
}
