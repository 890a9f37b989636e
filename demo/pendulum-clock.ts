import type { Shot } from '../core/document';
import { lookingAt, ShotBuilder } from './shot-builder';

/** Frames of half a swing: a second at 24 frames, the seconds pendulum of tower clocks. */
const BEAT = 24;
const LAST = 192;
/** Teeth of the wheel: each swing to and fro lets one pass. */
const TEETH = 30;
const SWING = 9;
/** Arm and tilt of a sine between two turning points as a cubic curve, so that the swing is even to a thousandth. */
const SINE: readonly [number, number, number, number] = [0.3642, 0, 0.6358, 1];

/** What the clock is painted with. */
function paints(b: ShotBuilder) {
  const oak = b.look('Oak', '#7a4d27', { roughness: 0.6 });
  const dark = b.look('Dark oak', '#4a2d17', { roughness: 0.7 });
  const plaster = b.look('Plaster', '#a89c86', { roughness: 0.95 });
  const brass = b.look('Brass', '#c8993c', { metallic: 0.8, roughness: 0.35 });
  const enamel = b.look('Enamel', '#efe9da', { roughness: 0.4 });
  const black = b.look('Blued steel', '#1d2430', { metallic: 0.5, roughness: 0.4 });
  const red = b.look('Red paint', '#b0392b', { roughness: 0.5 });
  const blue = b.look('Blue paint', '#2f6f8f', { roughness: 0.5 });
  return { oak, dark, plaster, brass, enamel, black, red, blue };
}

type Looks = ReturnType<typeof paints>;

/** The room, and the case on its wall. @returns the clock, which all of it hangs on */
function clockCase(b: ShotBuilder, { oak, dark, plaster }: Looks): string {
  b.solid('Wall', b.shape('box', { width: 9, height: 6, depth: 0.1 }), plaster, { at: [0, 2.2, -0.5] });
  b.solid('Floor', b.shape('box', { width: 9, height: 0.1, depth: 5 }), dark, { at: [0, -0.6, 1.8] });

  const clock = b.hub('Clock', { at: [0, 2.4, 0] });
  b.solid('Back', b.shape('box', { width: 1.7, height: 1.9, depth: 0.08 }), oak, {
    parent: clock,
    at: [0, 0.2, -0.3],
  });
  const side = b.shape('box', { width: 0.1, height: 1.9, depth: 0.55 });
  for (const x of [-1, 1])
    b.solid(x < 0 ? 'Left side' : 'Right side', side, oak, { parent: clock, at: [x * 0.85, 0.2, -0.05] });
  b.solid('Shelf', b.shape('box', { width: 1.9, height: 0.1, depth: 0.65 }), dark, {
    parent: clock,
    at: [0, -0.78, -0.02],
  });
  const roof = b.shape('box', { width: 1.45, height: 0.1, depth: 0.75 });
  for (const x of [-1, 1])
    b.solid(x < 0 ? 'Left roof' : 'Right roof', roof, dark, {
      parent: clock,
      at: [x * 0.5, 1.42, 0],
      turn: [0, 0, -x * 38],
    });
  return clock;
}

function dialOf(b: ShotBuilder, clock: string, { brass, enamel, black }: Looks): void {
  const dial = b.solid('Dial', b.shape('cylinder', { radius: 0.52, height: 0.04 }), enamel, {
    parent: clock,
    at: [0, 0.02, 0.24],
    rest: [90, 0, 0],
  });
  b.solid('Dial rim', b.shape('torus', { radius: 0.53, tube: 0.035 }), brass, { parent: dial });
  const mark = b.shape('box', { width: 0.03, height: 0.09, depth: 0.015 });
  for (let i = 0; i < 12; i++) {
    const angle = (i * Math.PI) / 6;
    b.solid(`Hour ${i === 0 ? 12 : i}`, mark, black, {
      parent: clock,
      at: [0.42 * Math.sin(angle), 0.02 + 0.42 * Math.cos(angle), 0.265],
      turn: [0, 0, -i * 30],
    });
  }
}

/** The pendulum hangs before the wheel, below the case. */
function swinging(b: ShotBuilder, clock: string, { brass }: Looks): void {
  const pendulum = b.hub('Pendulum', { parent: clock, at: [0, -0.55, 0.1] });
  b.solid('Rod', b.shape('cylinder', { radius: 0.025, height: 1.5 }), brass, {
    parent: pendulum,
    at: [0, -0.75, 0],
  });
  b.solid('Bob', b.shape('cylinder', { radius: 0.24, height: 0.07 }), brass, {
    parent: pendulum,
    at: [0, -1.45, 0],
    rest: [90, 0, 0],
  });
  const swing = `${pendulum}/rotation.z`;
  b.keys(swing, [
    { frame: 1, value: SWING },
    { frame: 1 + BEAT, value: -SWING },
  ]);
  b.shapeStretches(swing, SINE);
  b.outside(swing, 'mirror', 'mirror');
}

function escapement(b: ShotBuilder, clock: string, { dark, brass }: Looks): void {
  const wheel = b.solid(
    'Escapement wheel',
    b.shape('gear', { teeth: TEETH, module: 0.024, thickness: 0.05, bore: 0.05 }),
    brass,
    {
      parent: clock,
      at: [-1.28, -0.4, 0.1],
    },
  );
  b.solid('Wheel post', b.shape('box', { width: 0.5, height: 0.1, depth: 0.1 }), dark, {
    parent: clock,
    at: [-1.05, -0.4, -0.02],
  });
  // It waits, and goes on by half a tooth with a small rebound whenever the pendulum passes.
  const step = 360 / TEETH / 2;
  b.keys(`${wheel}/rotation.z`, [
    { frame: 1, value: 0, manner: 'hold' },
    { frame: 1 + BEAT / 2 - 1, value: 0, manner: 'back-out' },
    { frame: 1 + BEAT / 2 + 4, value: -step, manner: 'hold' },
    { frame: 1 + BEAT, value: -step },
  ]);
  b.outside(`${wheel}/rotation.z`, 'repeat-adding', 'repeat-adding');
}

/** Hands a hundred times too fast for a clock, so that the shot shows the minutes go. */
function handsOf(b: ShotBuilder, clock: string, { brass, black }: Looks): void {
  const hand = (name: string, length: number, width: number, z: number): string => {
    const hub = b.hub(name, { parent: clock, at: [0, 0.02, z] });
    b.solid(`${name} blade`, b.shape('box', { width, height: length, depth: 0.015 }), black, {
      parent: hub,
      at: [0, length / 2 - 0.05, 0],
    });
    return hub;
  };
  const minutes = hand('Minute hand', 0.44, 0.03, 0.3);
  const hours = hand('Hour hand', 0.3, 0.045, 0.285);
  b.link(`${minutes}/rotation.z`, '"Escapement wheel".rotation.z / 2 + 24');
  b.link(`${hours}/rotation.z`, '"Minute hand".rotation.z / 12');
  b.solid('Hand pin', b.shape('cylinder', { radius: 0.035, height: 0.08 }), brass, {
    parent: clock,
    at: [0, 0.02, 0.3],
    rest: [90, 0, 0],
  });
}

/** The cuckoo behind its door. */
function cuckoo(b: ShotBuilder, clock: string, { brass, black, red, blue }: Looks): void {
  const nest = b.hub('Nest', { parent: clock, at: [0, 0.93, 0.1] });
  b.solid('Opening', b.shape('box', { width: 0.5, height: 0.44, depth: 0.05 }), black, {
    parent: nest,
    at: [0, 0, -0.1],
  });
  const door = b.solid('Door', b.shape('box', { width: 0.46, height: 0.42, depth: 0.04 }), red, {
    parent: nest,
    at: [0, 0, 0.16],
    // Hinged on its left edge.
    values: { 'pivot.x': -0.23 },
  });
  b.keys(`${door}/rotation.y`, [
    { frame: 1, value: 0, manner: 'hold' },
    { frame: 58, value: 0, manner: 'cubic-out' },
    { frame: 68, value: -118, manner: 'hold' },
    { frame: 150, value: -118, manner: 'bounce-out' },
    { frame: 166, value: 0 },
  ]);
  const bird = b.hub('Cuckoo', { parent: nest, at: [0, -0.02, -0.3] });
  b.keys(`${bird}/location.z`, [
    { frame: 1, value: -0.3, manner: 'hold' },
    { frame: 62, value: -0.3, manner: 'elastic-out' },
    { frame: 98, value: 0.42, manner: 'hold' },
    { frame: 140, value: 0.42, manner: 'cubic-in' },
    { frame: 150, value: -0.3 },
  ]);
  b.solid('Cuckoo body', b.shape('ball', { radius: 0.11 }), blue, { parent: bird, scale: [0.9, 0.95, 1.35] });
  b.solid('Cuckoo head', b.shape('ball', { radius: 0.075 }), blue, { parent: bird, at: [0, 0.11, 0.12] });
  b.solid('Beak', b.shape('cone', { radius: 0.03, height: 0.09 }), brass, {
    parent: bird,
    at: [0, 0.1, 0.22],
    rest: [90, 0, 0],
  });
  wings(b, bird, red);
}

/** Wings that beat on twos. */
function wings(b: ShotBuilder, bird: string, red: string): void {
  for (const [name, x] of [
    ['Left wing', -1],
    ['Right wing', 1],
  ] as const) {
    const wing = b.hub(name, { parent: bird, at: [x * 0.08, 0.04, 0] });
    b.solid(`${name} feather`, b.shape('ball', { radius: 0.1 }), red, {
      parent: wing,
      at: [x * 0.09, 0, -0.02],
      scale: [1, 0.18, 0.8],
    });
    const beat = `${wing}/rotation.z`;
    b.keys(
      beat,
      [78, 84, 90, 96, 102, 108, 114, 120, 126, 132, 138].map((frame, i) => ({
        frame,
        value: x * (i === 0 || i === 10 ? -20 : i % 2 === 0 ? -25 : 48),
      })),
    );
    b.onTwos(beat, 78, 138);
  }
}

/**
 * The clock in the harbour master's hut. A pendulum swings by its own curve, the wheel behind it goes on tooth by tooth
 * (hold and snap), the hands follow the wheel, and at the hour a cuckoo comes out on a spring and beats its wings on twos.
 */
export function pendulumClock(): Shot {
  const b = new ShotBuilder(5107, { background: '#40372e', last: LAST, exposure: 1 });
  const looks = paints(b);
  const clock = clockCase(b, looks);
  dialOf(b, clock, looks);
  swinging(b, clock, looks);
  escapement(b, clock, looks);
  handsOf(b, clock, looks);
  cuckoo(b, clock, looks);
  b.marker('Cuckoo', 62);

  const from = [1.5, 2.7, 7.6] as const;
  b.camera('Camera', { at: from, turn: lookingAt(from, [-0.1, 2.12, 0]), values: { lens: 33 } });
  b.part('sun', 'Window light', {
    turn: [-38, 34, 0],
    at: [4, 6, 6],
    order: 'YXZ',
    values: { strength: 2.6 },
  });
  b.part('sky', 'Room light', { at: [0, 6, 0], values: { strength: 1 } });
  return b.build();
}
