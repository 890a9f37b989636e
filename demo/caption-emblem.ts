import type { Shot } from '../core/document';
import { letterOutline } from './letters';
import { lookingAt, ShotBuilder } from './shot-builder';

const LAST = 192;
const SIDE = 2;
const WORDS = 'HARBOUR FAIR';
/** Frames at which the caption stands, and from which it goes. */
const [IN, OUT] = [40, 153];

/**
 * For the foot of a picture: a box with the fair's emblem on each of its faces spins for ever, by a formula and without
 * keys; beside it a caption slides in and out. The emblem is a shot of its own: what is changed there shows here.
 * @param emblem id of the shot with the emblem
 */
export function captionEmblem(emblem: string): Shot {
  const b = new ShotBuilder(7717, {
    background: '#20304a',
    last: LAST,
    width: 1280,
    height: 720,
    exposure: 1,
  });
  const navy = b.look('Navy board', '#1b2a40', { roughness: 0.7 });
  const cream = b.look('Cream letters', '#f1e6cc', { roughness: 0.6, glow: 0.15 });
  const red = b.look('Fair red', '#b23422', { roughness: 0.5 });

  const spin = b.hub('Spin', { at: [-3.4, 0, 0], rest: [18, 0, 0] });
  const box = b.hub('Emblem box', { parent: spin });
  b.link(`${box}/rotation.y`, 'turns(time / 8s)');
  b.solid('Core', b.shape('box', { width: SIDE - 0.02, height: SIDE - 0.02, depth: SIDE - 0.02 }), navy, {
    parent: box,
  });
  const inset = { shot: emblem, name: 'Emblem', start: 1, speed: 1, plays: 'loop' as const, until: null };
  const faces = [
    ['Front', [0, 0, 0]],
    ['Right', [0, 90, 0]],
    ['Back', [0, 180, 0]],
    ['Left', [0, -90, 0]],
    ['Top', [-90, 0, 0]],
    ['Bottom', [90, 0, 0]],
  ] as const;
  for (const [face, turn] of faces) {
    const way = b.hub(`${face} face`, { parent: box, turn });
    b.part('shot', `${face} emblem`, { parent: way, at: [0, 0, SIDE / 2], inset });
  }

  const caption = b.hub('Caption', { at: [1.2, 0, 0] });
  b.solid('Bar', b.shape('box', { width: 6.6, height: 1.3, depth: 0.12 }), navy, { parent: caption });
  b.solid('Stripe', b.shape('box', { width: 6.6, height: 0.12, depth: 0.14 }), red, {
    parent: caption,
    at: [0, -0.62, 0],
  });
  [...WORDS].forEach((letter, i) => {
    if (letter === ' ') return;
    const shape = b.shape(
      'outline',
      { width: 0.38, height: 0.58, depth: 0.08, bevel: 0 },
      { outline: letterOutline(letter) },
    );
    b.solid(`Letter ${i + 1} ${letter}`, shape, cream, {
      parent: caption,
      at: [(i - (WORDS.length - 1) / 2) * 0.48, 0.06, 0.1],
    });
  });
  b.keys(`${caption}/location.x`, [
    { frame: 1, value: 12, manner: 'back-out' },
    { frame: IN, value: 1.2, manner: 'linear' },
    { frame: OUT, value: 1.2, manner: 'back-in' },
    { frame: LAST + 1, value: 12, manner: 'curve' },
  ]);
  b.marker('Caption stands', IN);
  b.marker('Caption goes', OUT);

  const from = [0, 0.4, 11] as const;
  b.camera('Camera', { at: from, turn: lookingAt(from, [0, 0, 0]), values: { lens: 40 } });
  b.part('sun', 'Sun', { turn: [-35, 25, 0], at: [3, 5, 6], order: 'YXZ', values: { strength: 2.4 } });
  b.part('sky', 'Sky light', { at: [0, 5, 0], values: { strength: 1 } });
  return b.build();
}
