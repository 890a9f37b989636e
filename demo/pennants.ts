import type { Outline, Shot } from '../core/document';
import { lookingAt, ShotBuilder } from './shot-builder';

const LAST = 145;
const STRINGS = 12;
const ON_A_STRING = 11;
/** From one pennant to the next, metres. */
const APART = 0.36;
const TOP = 4.9;

/** A pennant with a notch in its end, hanging down, in shares of its size. */
const PENNANT: Outline = [
  { letter: 0, outer: [-0.5, 0.5, -0.28, -0.5, 0, -0.3, 0.28, -0.5, 0.5, 0.5], holes: [] },
];

/**
 * Strings of pennants round the mast on the quay: a row of pennants, again and again in a ring. Two hubs move all of them:
 * the stride from pennant to pennant, whose turn bends every string, and the spoke, which lifts them.
 */
export function pennants(): Shot {
  const b = new ShotBuilder(8221, { background: '#a9cbd6', last: LAST, exposure: 1 });
  const cloth = b.look('Pennant cloth', '#f4ead2', { roughness: 0.85 }, { twoSided: true });
  const rope = b.look('Rope', '#4a3a2a', { roughness: 0.9 });
  const paint = b.look('Mast paint', '#f0e6d0', { roughness: 0.5 });
  const band = b.look('Mast band', '#a8352a', { roughness: 0.5 });
  const brass = b.look('Brass', '#c8993c', { metallic: 0.8, roughness: 0.3 });
  const stone = b.look('Quay', '#8b8378', { roughness: 0.95 });

  b.solid('Quay', b.shape('cylinder', { radius: 60, height: 0.2, sides: 96 }), stone, { at: [0, -0.1, 0] });
  b.solid('Foot', b.shape('cylinder', { radius: 0.6, top: 0.7, height: 0.35, sides: 48 }), band, {
    at: [0, 0.175, 0],
  });
  b.solid('Mast', b.shape('cylinder', { radius: 0.13, top: 0.6, height: TOP, sides: 32 }), paint, {
    at: [0, TOP / 2, 0],
  });
  const bands = b.part('repeat', 'Bands', {
    at: [0, 0.9, 0],
    values: { copies: 5, gap: 0.75 },
    repeat: { pattern: 'stack', step: null },
  });
  b.solid('Band', b.shape('cylinder', { radius: 0.132, height: 0.3, sides: 32 }), band, { parent: bands });
  b.link(`${bands}/copy.scale.x`, '1 - 0.06 * index');
  b.link(`${bands}/copy.scale.z`, '1 - 0.06 * index');

  const crown = b.hub('Crown', { at: [0, TOP, 0] });
  b.solid('Crown ring', b.shape('torus', { radius: 0.24, tube: 0.035 }), brass, { parent: crown });
  b.solid('Ball', b.shape('ball', { radius: 0.16 }), brass, { parent: crown, at: [0, 0.18, 0] });
  b.keys(`${crown}/rotation.y`, [
    { frame: 1, value: 0 },
    { frame: 49, value: 60 },
    { frame: 97, value: 240 },
    { frame: LAST, value: 300 },
  ]);

  const strings = b.part('repeat', 'Strings', { parent: crown, values: { copies: STRINGS } });
  const spoke = b.hub('Spoke', { parent: strings, at: [0.24, 0, 0], turn: [0, 0, -62] });
  const row = b.part('repeat', 'Pennants', { parent: strings, values: { copies: ON_A_STRING } });
  const stride = b.hub('Stride', { parent: row, at: [APART, 0, 0], turn: [0, 0, -1] });
  b.change((shot) => ({
    ...shot,
    parts: {
      ...shot.parts,
      [strings]: { ...shot.parts[strings]!, repeat: { pattern: 'ring', step: spoke } },
      [row]: { ...shot.parts[row]!, repeat: { pattern: 'row', step: stride } },
    },
  }));
  b.solid('String', b.shape('cylinder', { radius: 0.011, height: APART, sides: 8 }), rope, {
    parent: row,
    at: [APART / 2, 0, 0],
    rest: [0, 0, 90],
  });
  b.solid(
    'Pennant',
    b.shape('outline', { width: 0.27, height: 0.4, depth: 0.006, bevel: 0 }, { outline: PENNANT }),
    cloth,
    { parent: row, at: [APART / 2, -0.2, 0] },
  );

  // Furled along the mast, flung out as the crown turns, then let down again.
  b.keys(`${spoke}/rotation.z`, [
    { frame: 1, value: -76 },
    { frame: 61, value: -14 },
    { frame: 97, value: -14 },
    { frame: LAST, value: -76 },
  ]);
  b.keys(`${stride}/rotation.z`, [
    { frame: 1, value: -1 },
    { frame: 61, value: -3.4 },
    { frame: 97, value: -3.4 },
    { frame: LAST, value: -1 },
  ]);
  b.keys(`${stride}/rotation.y`, [
    { frame: 1, value: 0 },
    { frame: 49, value: 5 },
    { frame: 97, value: 5 },
    { frame: LAST, value: 0 },
  ]);
  // The cloth flutters more the further out it hangs; four paints take turns.
  b.link(`${row}/copy.rotation.x`, '(3deg + index * 2.4deg) * wave(turns(time / 1.1s - index / 6))');
  const paints = [
    [0.62, 0.06, 0.04],
    [0.02, 0.26, 0.3],
    [0.85, 0.5, 0.08],
    [0.9, 0.82, 0.62],
  ] as const;
  (['red', 'green', 'blue'] as const).forEach((name, i) => {
    const [first, second, third, fourth] = paints.map((paint) => paint[i]!);
    b.link(
      `${row}/copy.${name}`,
      `let turn = mod(index, 4); if(turn < 1, ${first}, if(turn < 2, ${second}, if(turn < 3, ${third}, ${fourth})))`,
    );
  });

  b.part('sun', 'Sun', { turn: [-42, 40, 0], at: [5, 8, 5], order: 'YXZ', values: { strength: 2.6 } });
  b.part('sky', 'Sky light', { at: [0, 8, 0], values: { strength: 1.1 } });
  const from = [0, 2.1, 10.6] as const;
  b.camera('Camera', { at: from, turn: lookingAt(from, [0, 2.6, 0]), values: { lens: 34 } });
  return b.build();
}
