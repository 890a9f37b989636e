import type { Shot } from '../core/document';
import { CARD_SIDE, paintCard, type CardMotif } from './cards';
import { fileOf, type DemoFile } from './files';
import { pngOf } from './png';
import { lookingAt, ShotBuilder } from './shot-builder';

/** Half a side in metres: 500 pixels, 100 to the metre. */
const HALF = CARD_SIDE / 200;

interface Card {
  readonly name: string;
  readonly motif: CardMotif;
  /** Way from its parent, and pivot on the edge that it swings about. */
  readonly at: readonly [number, number, number];
  readonly pivot: readonly [number, number, number];
  readonly axis: 'x' | 'y';
  readonly turn: number;
  readonly from: number;
  readonly to: number;
  readonly below?: string;
}

/** The net of a box: five cards hinged on the first, the lid on the right one. */
const CARDS: readonly Card[] = [
  {
    name: 'Floor card',
    motif: 'stripes',
    at: [0, 0, 0],
    pivot: [0, 0, 0],
    axis: 'x',
    turn: 0,
    from: 1,
    to: 1,
  },
  {
    name: 'Right card',
    motif: 'boat',
    at: [2 * HALF, 0, 0],
    pivot: [-HALF, 0, 0],
    axis: 'y',
    turn: 90,
    from: 8,
    to: 30,
  },
  {
    name: 'Left card',
    motif: 'anchor',
    at: [-2 * HALF, 0, 0],
    pivot: [HALF, 0, 0],
    axis: 'y',
    turn: -90,
    from: 13,
    to: 35,
  },
  {
    name: 'Far card',
    motif: 'wheel',
    at: [0, 2 * HALF, 0],
    pivot: [0, -HALF, 0],
    axis: 'x',
    turn: -90,
    from: 18,
    to: 40,
  },
  {
    name: 'Near card',
    motif: 'lamp',
    at: [0, -2 * HALF, 0],
    pivot: [0, HALF, 0],
    axis: 'x',
    turn: 90,
    from: 23,
    to: 45,
  },
  {
    name: 'Lid card',
    motif: 'star',
    at: [2 * HALF, 0, 0],
    pivot: [-HALF, 0, 0],
    axis: 'y',
    turn: 90,
    from: 40,
    to: 60,
    below: 'Right card',
  },
];

let painted: readonly DemoFile[] | null = null;

/** Pictures of the cards. */
export function ticketBoxFiles(): readonly DemoFile[] {
  painted ??= CARDS.map(({ motif }) => fileOf(`${motif}-card.png`, pngOf(paintCard(motif))));
  return painted;
}

/** Six flat cards lie as a net on the quay, swing up about their edges into a closed box, and the box turns as one. */
export function ticketBox(): Shot {
  const b = new ShotBuilder(2207, {
    background: '#2b3c50',
    rate: { num: 25, den: 1 },
    last: 125,
    unit: 'px',
    exposure: 1,
  });
  const files = ticketBoxFiles();
  const stone = b.look('Quay stone', '#6f6759', { roughness: 0.95 });
  b.solid('Quay floor', b.shape('disc', { radius: 26, sides: 96 }), stone, {
    rest: [-90, 0, 0],
    at: [0, -0.02, 0],
  });

  const whole = b.hub('Ticket box');
  const net = b.hub('Net', { parent: whole, rest: [90, 0, 0] });
  const sheet = b.shape('plane', { width: 2 * HALF, height: 2 * HALF });
  const ids = new Map<string, string>();
  CARDS.forEach((card, i) => {
    const look = b.look(
      card.name,
      '#ffffff',
      { roughness: 0.85 },
      {
        pictures: {
          all: {
            asset: files[i]!.hash,
            width: CARD_SIDE,
            height: CARD_SIDE,
            alpha: true,
            file: files[i]!.name,
          },
        },
      },
    );
    const id = b.solid(card.name, sheet, look, {
      parent: card.below ? ids.get(card.below)! : net,
      at: card.at,
      values: { 'pivot.x': card.pivot[0], 'pivot.y': card.pivot[1] },
    });
    ids.set(card.name, id);
    if (card.turn === 0) return;
    const past = card.turn * 1.06;
    b.keys(`${id}/rotation.${card.axis}`, [
      { frame: card.from, value: 0 },
      { frame: card.from + 4, value: -card.turn * 0.05 },
      { frame: card.to - 4, value: card.name === 'Lid card' ? card.turn : past },
      { frame: card.to, value: card.turn },
    ]);
  });

  // Closed, it crouches, hops and comes down a turn further.
  b.keys(`${whole}/rotation.y`, [
    { frame: 66, value: 0 },
    { frame: 72, value: -14 },
    { frame: 100, value: 375 },
    { frame: 108, value: 360 },
  ]);
  b.keys(`${whole}/location.y`, [
    { frame: 72, value: 0, manner: 'quad-out' },
    { frame: 84, value: 1.7, manner: 'quad-in' },
    { frame: 96, value: 0 },
  ]);
  b.keys(`${whole}/scale.y`, [
    { frame: 66, value: 1 },
    { frame: 72, value: 0.86 },
    { frame: 76, value: 1.05 },
    { frame: 94, value: 1.03 },
    { frame: 98, value: 0.88 },
    { frame: 104, value: 1.02 },
    { frame: 110, value: 1 },
  ]);
  for (const axis of ['x', 'z'])
    b.keys(`${whole}/scale.${axis}`, [
      { frame: 66, value: 1 },
      { frame: 72, value: 1.07 },
      { frame: 76, value: 0.98 },
      { frame: 94, value: 0.985 },
      { frame: 98, value: 1.06 },
      { frame: 104, value: 0.99 },
      { frame: 110, value: 1 },
    ]);
  for (const [frame, name] of [
    [8, 'Unfold'],
    [60, 'Closed'],
    [96, 'Down'],
  ] as const)
    b.marker(name, frame);

  const from = [11.5, 11, 20.5] as const;
  const target = [2.2, 3, 0] as const;
  const to = [9, 7.5, 16] as const;
  const camera = b.camera('Camera', { at: from, turn: lookingAt(from, target), values: { lens: 29 } });
  const near = lookingAt(to, [0, 2.9, 0]);
  const away = lookingAt(from, target);
  (['x', 'y', 'z'] as const).forEach((axis, i) => {
    b.keys(`${camera}/location.${axis}`, [
      { frame: 30, value: from[i]! },
      { frame: 90, value: to[i]! },
    ]);
    if (axis !== 'z')
      b.keys(`${camera}/rotation.${axis}`, [
        { frame: 30, value: away[i]! },
        { frame: 90, value: near[i]! },
      ]);
  });
  b.part('sun', 'Sun', { turn: [-52, 34, 0], at: [6, 9, 7], order: 'YXZ', values: { strength: 2.8 } });
  b.part('sky', 'Sky light', { at: [0, 8, 0], values: { strength: 1.2 } });
  return b.build();
}
