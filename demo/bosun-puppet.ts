import type { Shot } from '../core/document';
import { apply, setJointLimit } from '../core/edit';
import { colourFromHex } from '../core/math';
import { lookingAt, ShotBuilder } from './shot-builder';

type Pose = Readonly<Record<string, number>>;

const LAST = 121;
/** Frames for which each pose is held. */
const HELD = 7;
const [UPPER_ARM, FOREARM, THIGH, SHIN] = [0.32, 0.3, 0.42, 0.4] as const;
const HIPS = 0.93;
const SIDES = [
  ['Left', 1],
  ['Right', -1],
] as const;

/** Turns of the joints about z, in degrees, and how far the hips have come down and to the side, in metres. */
const ATTENTION: Pose = {
  Chest: 0,
  Head: 0,
  'Left arm': 9,
  'Left forearm': 5,
  'Right arm': -9,
  'Right forearm': -5,
  'Left thigh': 3,
  'Left shin': 0,
  'Right thigh': -3,
  'Right shin': 0,
  down: 0,
  aside: 0,
};
const LOOK_OUT: Pose = {
  Chest: -7,
  Head: -9,
  'Left arm': 145,
  'Left forearm': 112,
  'Right arm': -38,
  'Right forearm': 30,
  'Left thigh': 24,
  'Left shin': -30,
  'Right thigh': -10,
  'Right shin': 2,
  down: 0.015,
  aside: 0.1,
};
const HORNPIPE: Pose = {
  Chest: 5,
  Head: 4,
  'Left arm': 58,
  'Left forearm': -98,
  'Right arm': -58,
  'Right forearm': 98,
  'Left thigh': 58,
  'Left shin': -44,
  'Right thigh': 6,
  'Right shin': -12,
  down: 0.01,
  aside: -0.08,
};

/** What is left goes to what is right, and all turns the other way. */
const mirrored = (pose: Pose): Pose =>
  Object.fromEntries(
    Object.entries(pose).map(([name, value]) => [
      name.startsWith('Left')
        ? name.replace('Left', 'Right')
        : name.startsWith('Right')
          ? name.replace('Right', 'Left')
          : name,
      name === 'down' ? value : -value + 0,
    ]),
  );

const POSES: readonly (readonly [frame: number, name: string, pose: Pose])[] = [
  [1, 'Attention', ATTENTION],
  [22, 'Look out', LOOK_OUT],
  [44, 'Look out there', mirrored(LOOK_OUT)],
  [68, 'Hornpipe', HORNPIPE],
  [104, 'At ease', ATTENTION],
];

/** What the bosun and his booth are painted with. */
function paints(b: ShotBuilder) {
  const skin = b.look('Limewood', '#e2b083', { roughness: 0.6 });
  const shirt = b.look(
    'Striped shirt',
    '#f1ead8',
    {
      roughness: 0.8,
      'pattern.colour': colourFromHex('#22385a')!,
      'pattern.size': 0.09,
      'pattern.share': 0.35,
      'pattern.turn': 90,
    },
    { pattern: { kind: 'stripes', lies: 'body' } },
  );
  const navy = b.look('Navy paint', '#22385a', { roughness: 0.55 });
  const red = b.look('Red paint', '#b3362a', { roughness: 0.5 });
  const white = b.look('White paint', '#f4eee0', { roughness: 0.5 });
  const black = b.look('Black paint', '#1b1d22', { roughness: 0.45 });
  const brass = b.look('Brass', '#c8993c', { metallic: 0.8, roughness: 0.3 });
  const beard = b.look('Beard', '#c9c2b4', { roughness: 0.9 });
  const plank = b.look('Booth planks', '#8c5f38', { roughness: 0.75 });
  const curtain = b.look('Curtain', '#7d2430', { roughness: 0.95 });
  return { skin, shirt, navy, red, white, black, brass, beard, plank, curtain };
}

type Looks = ReturnType<typeof paints>;

function stage(b: ShotBuilder, { navy, red, plank, curtain }: Looks): void {
  b.solid('Stage', b.shape('box', { width: 3.4, height: 0.16, depth: 1.5 }), plank, { at: [0, -0.08, 0] });
  b.solid('Back board', b.shape('box', { width: 3.4, height: 4, depth: 0.05 }), navy, {
    at: [0, 2, -0.7],
  });
  b.solid('Stage edge', b.shape('box', { width: 3.6, height: 0.26, depth: 0.06 }), red, {
    at: [0, -0.1, 0.78],
  });
  for (const side of [-1, 1]) {
    const folds = b.part('repeat', side < 0 ? 'Left curtain' : 'Right curtain', {
      at: [side * 1.62, 1.82, 0.3],
      values: { copies: 4, gap: side * -0.12 },
      repeat: { pattern: 'row', step: null },
    });
    b.solid(
      side < 0 ? 'Left fold' : 'Right fold',
      b.shape('capsule', { radius: 0.085, height: 3.6 }),
      curtain,
      {
        parent: folds,
      },
    );
  }
}

/** Hips, chest and belt. */
function trunk(b: ShotBuilder, { navy, shirt, black }: Looks): { bosun: string; chest: string } {
  const bosun = b.hub('Bosun', { at: [0, HIPS, 0] });
  b.solid('Hips', b.shape('ball', { radius: 0.2 }), navy, { parent: bosun, scale: [1, 0.62, 0.6] });
  const chest = b.hub('Chest', { parent: bosun, at: [0, 0.05, 0] });
  b.solid('Shirt', b.shape('cylinder', { radius: 0.2, top: 1.25, height: 0.5, sides: 48 }), shirt, {
    parent: chest,
    at: [0, 0.27, 0],
    scale: [1, 1, 0.55],
  });
  b.solid('Shoulders', b.shape('ball', { radius: 0.25 }), shirt, {
    parent: chest,
    at: [0, 0.5, 0],
    scale: [1, 0.36, 0.55],
  });
  b.solid('Belt', b.shape('torus', { radius: 0.2, tube: 0.03 }), black, {
    parent: chest,
    at: [0, 0.04, 0],
    scale: [1, 1, 0.6],
  });
  return { bosun, chest };
}

function headOf(b: ShotBuilder, chest: string, { skin, beard, red, black, white, navy }: Looks): void {
  const head = b.hub('Head', { parent: chest, at: [0, 0.6, 0] });
  b.solid('Face', b.shape('ball', { radius: 0.17 }), skin, { parent: head, at: [0, 0.16, 0] });
  b.solid('Whiskers', b.shape('ball', { radius: 0.15 }), beard, {
    parent: head,
    at: [0, 0.07, 0.035],
    scale: [1, 0.75, 1],
  });
  b.solid('Nose', b.shape('ball', { radius: 0.038 }), red, { parent: head, at: [0, 0.17, 0.17] });
  for (const [name, side] of SIDES)
    b.solid(`${name} eye`, b.shape('ball', { radius: 0.022 }), black, {
      parent: head,
      at: [side * 0.065, 0.215, 0.148],
    });
  b.solid('Cap', b.shape('cylinder', { radius: 0.17, top: 1.15, height: 0.1, sides: 48 }), white, {
    parent: head,
    at: [0, 0.32, 0],
  });
  b.solid('Cap band', b.shape('cylinder', { radius: 0.176, height: 0.05, sides: 48 }), navy, {
    parent: head,
    at: [0, 0.275, 0],
  });
  b.solid('Peak', b.shape('ball', { radius: 0.15 }), black, {
    parent: head,
    at: [0, 0.26, 0.09],
    scale: [0.95, 0.12, 0.9],
  });
}

/** Makes arms and legs, which hang on buttons of brass. */
function limbsOf(b: ShotBuilder, brass: string) {
  const button = b.shape('cylinder', { radius: 0.035, height: 0.03, sides: 32 });
  const joint = (parent: string, name: string, depth: number): void => {
    b.solid(`${name} button`, button, brass, { parent, at: [0, 0, depth], rest: [90, 0, 0] });
  };
  const limb = (
    name: string,
    parent: string,
    at: readonly [number, number, number],
    long: number,
    radius: number,
    look: string,
  ): string => {
    const id = b.hub(name, { parent, at });
    b.solid(`${name} wood`, b.shape('capsule', { radius, height: long + radius }), look, {
      parent: id,
      at: [0, -long / 2, 0],
      scale: [1, 1, 0.6],
    });
    joint(id, name, radius * 0.6);
    return id;
  };
  return limb;
}

type Limb = ReturnType<typeof limbsOf>;

/** Arms and legs. @returns the right hand */
function armsAndLegs(b: ShotBuilder, limb: Limb, bosun: string, chest: string, looks: Looks): string {
  const { skin, shirt, navy, black } = looks;
  const hands: Record<string, string> = {};
  for (const [name, side] of SIDES) {
    const arm = limb(`${name} arm`, chest, [side * 0.27, 0.5, 0.13], UPPER_ARM, 0.062, shirt);
    const forearm = limb(`${name} forearm`, arm, [0, -UPPER_ARM, 0.02], FOREARM, 0.052, skin);
    hands[name] = b.hub(`${name} hand`, { parent: forearm, at: [0, -FOREARM, 0] });
    b.solid(`${name} palm`, b.shape('ball', { radius: 0.07 }), skin, {
      parent: hands[name],
      at: [0, -0.03, 0],
      scale: [0.9, 1.1, 0.6],
    });
    const thigh = limb(`${name} thigh`, bosun, [side * 0.11, -0.03, 0], THIGH, 0.085, navy);
    const shin = limb(`${name} shin`, thigh, [0, -THIGH, 0.02], SHIN, 0.068, navy);
    const foot = b.hub(`${name} foot`, { parent: shin, at: [0, -SHIN, 0] });
    b.solid(`${name} shoe`, b.shape('ball', { radius: 0.1 }), black, {
      parent: foot,
      at: [side * 0.04, -0.015, 0.06],
      scale: [0.85, 0.5, 1.25],
    });
  }
  return hands.Right!;
}

function pipeOf(b: ShotBuilder, chest: string, brass: string): string {
  const pipe = b.hub('Pipe', { parent: chest, at: [0.02, 0.3, 0.2] });
  b.solid('Pipe tube', b.shape('capsule', { radius: 0.016, height: 0.2 }), brass, {
    parent: pipe,
    at: [-0.02, 0, 0],
    rest: [70, 0, 20],
  });
  b.solid('Pipe bowl', b.shape('ball', { radius: 0.03 }), brass, { parent: pipe, at: [-0.03, -0.03, 0.1] });
  return pipe;
}

/** The poses, each held for a moment, within what the joints allow. */
function posed(b: ShotBuilder, bosun: string): void {
  const held = (of: (pose: Pose) => number): { frame: number; value: number }[] =>
    POSES.flatMap(([frame, , pose]) =>
      [frame, frame + HELD].map((at) => ({ frame: Math.min(at, LAST), value: of(pose) })),
    );
  for (const name of Object.keys(ATTENTION).filter((name) => name !== 'down' && name !== 'aside'))
    b.keys(
      `${b.idOf(name)}/rotation.z`,
      held((pose) => pose[name]!),
    );
  b.keys(
    `${bosun}/location.y`,
    held((pose) => HIPS - pose.down!),
  );
  b.keys(
    `${bosun}/location.x`,
    held((pose) => pose.aside!),
  );
  for (const [frame, name] of POSES) b.marker(name, frame);

  // Elbows and knees go as far as their pegs let them.
  for (const [name] of SIDES)
    for (const [joint, most] of [
      ['forearm', 150],
      ['shin', 75],
    ] as const)
      b.change((shot) =>
        apply(shot, setJointLimit(shot, b.idOf(`${name} ${joint}`), 'z', { least: -most, most, held: true })),
      );
}

/** The hand goes to the pipe, lifts it to the mouth, and lets it down again. */
function piping(b: ShotBuilder, pipe: string, hand: string): void {
  const share = b.dial({ name: 'piping', quantity: 'none', min: 0, max: 1 }, 0);
  b.keys(`${share}/value`, [
    { frame: 60, value: 0 },
    { frame: 70, value: 1 },
    { frame: 97, value: 1 },
    { frame: 107, value: 0 },
  ]);
  b.keys(`${pipe}/location.y`, [
    { frame: 70, value: 0.3 },
    { frame: 77, value: 0.62 },
    { frame: 89, value: 0.62 },
    { frame: 96, value: 0.3 },
  ]);
  const [arm, forearm] = [b.idOf('Right arm'), b.idOf('Right forearm')];
  b.recipe(
    'reach',
    {
      upper: `${arm}/rotation.z`,
      lower: `${forearm}/rotation.z`,
      end: hand,
      target: pipe,
      share: `${share}/value`,
    },
    { right: false },
  );
}

/**
 * The bosun of the puppet booth goes through four poses and back to the first. In the last of them one hand reaches for his
 * pipe and takes it to his mouth.
 */
export function bosunPuppet(): Shot {
  const b = new ShotBuilder(7307, { background: '#2c3a4d', last: LAST, exposure: 1 });
  const looks = paints(b);
  stage(b, looks);
  const limb = limbsOf(b, looks.brass);
  const { bosun, chest } = trunk(b, looks);
  headOf(b, chest, looks);
  const hand = armsAndLegs(b, limb, bosun, chest, looks);
  const pipe = pipeOf(b, chest, looks.brass);
  posed(b, bosun);
  piping(b, pipe, hand);

  b.part('sun', 'Lantern light', {
    turn: [-34, 28, 0],
    at: [2, 4, 4],
    order: 'YXZ',
    values: { strength: 2.4 },
  });
  b.part('sky', 'Sky light', { at: [0, 4, 0], values: { strength: 1 } });
  const from = [0, 1.15, 4.3] as const;
  b.camera('Camera', { at: from, turn: lookingAt(from, [0, 1.02, 0]), values: { lens: 35 } });
  return b.build();
}
