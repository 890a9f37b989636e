import type { Pixels } from './png';

export const CARD_SIDE = 500;

type Colour = readonly [number, number, number];
/** How far a point is inside (below 0) or outside of something drawn, in pixels. */
type Ink = (x: number, y: number) => number;

const hex = (text: string): Colour =>
  [1, 3, 5].map((i) => parseInt(text.slice(i, i + 2), 16)) as unknown as Colour;
const CREAM = hex('#efe4cb');
const INK = hex('#23344d');
const RED = hex('#b23422');
const TEAL = hex('#0f6b6e');
const BRASS = hex('#c9973f');

const circle =
  (cx: number, cy: number, r: number): Ink =>
  (x, y) =>
    Math.sqrt((x - cx) ** 2 + (y - cy) ** 2) - r;
const box =
  (cx: number, cy: number, w: number, h: number): Ink =>
  (x, y) =>
    Math.max(Math.abs(x - cx) - w, Math.abs(y - cy) - h);
const both =
  (a: Ink, b: Ink): Ink =>
  (x, y) =>
    Math.max(a(x, y), b(x, y));
const less =
  (a: Ink, b: Ink): Ink =>
  (x, y) =>
    Math.max(a(x, y), -b(x, y));
const any =
  (...inks: Ink[]): Ink =>
  (x, y) => {
    let least = Infinity;
    for (const ink of inks) least = Math.min(least, ink(x, y));
    return least;
  };
/** Convex, corners in the order of the clock. */
function polygon(...points: (readonly [number, number])[]): Ink {
  const sides = points.map(([ax, ay], i) => {
    const [bx, by] = points[(i + 1) % points.length]!;
    return { ax, ay, dx: bx - ax, dy: by - ay, length: Math.hypot(bx - ax, by - ay) };
  });
  return (x, y) => {
    let most = -Infinity;
    for (const { ax, ay, dx, dy, length } of sides)
      most = Math.max(most, ((x - ax) * dy - (y - ay) * dx) / length);
    return most;
  };
}

const frame = less(box(250, 250, 226, 226), box(250, 250, 214, 214));
const HOLE = 10;
/** The punched edge at the height 0. */
const holes = any(...Array.from({ length: 12 }, (_, i) => circle(45.5 + i * 37.2, 0, HOLE - 1)));

const MOTIFS: Record<string, readonly (readonly [Ink, Colour])[]> = {
  boat: [
    [polygon([110, 300], [390, 300], [330, 380], [170, 380]), RED],
    [box(250, 214, 6, 90), INK],
    [polygon([262, 130], [370, 280], [262, 280]), TEAL],
    [polygon([238, 150], [238, 280], [150, 280]), BRASS],
  ],
  anchor: [
    [
      any(less(circle(250, 140, 34), circle(250, 140, 18)), box(250, 260, 12, 110), box(250, 200, 66, 11)),
      INK,
    ],
    [both(less(circle(250, 270, 130), circle(250, 262, 104)), box(250, 360, 150, 62)), INK],
  ],
  lamp: [
    [circle(250, 240, 92), BRASS],
    [any(box(250, 132, 54, 16), box(250, 348, 54, 16)), INK],
    [less(circle(250, 240, 126), circle(250, 240, 112)), RED],
  ],
  wheel: [
    [less(circle(250, 250, 150), circle(250, 250, 122)), TEAL],
    [any(box(250, 250, 8, 124), box(250, 250, 124, 8), circle(250, 250, 34)), INK],
    [
      any(
        ...[0, 1, 2, 3].map((i) =>
          circle(250 + 136 * Math.cos((i * Math.PI) / 2), 250 + 136 * Math.sin((i * Math.PI) / 2), 20),
        ),
      ),
      RED,
    ],
  ],
  star: [
    [
      any(
        ...[0, 1, 2, 3].map((i): Ink => {
          const a = (i * Math.PI) / 4;
          return (x, y) => {
            const [dx, dy] = [x - 250, y - 250];
            const [u, v] = [dx * Math.cos(a) + dy * Math.sin(a), -dx * Math.sin(a) + dy * Math.cos(a)];
            return Math.abs(u) / (i % 2 ? 105 : 165) + Math.abs(v) / 34 - 1 > 0 ? 9 : -9;
          };
        }),
      ),
      RED,
    ],
    [circle(250, 250, 26), BRASS],
  ],
  stripes: [[both(box(250, 250, 200, 200), (x) => 18 - Math.abs(((((x - 250) % 80) + 80) % 80) - 40)), TEAL]],
};

export type CardMotif = 'boat' | 'anchor' | 'lamp' | 'wheel' | 'star' | 'stripes';

/** A card of the ticket box: cream board with a frame, punched edges above and below, and a motif in the middle. */
export function paintCard(motif: CardMotif): Pixels {
  const data = new Uint8Array(CARD_SIDE * CARD_SIDE * 4);
  const layers: (readonly [Ink, Colour])[] = [[frame, INK], ...MOTIFS[motif]!];
  for (let y = 0; y < CARD_SIDE; y++)
    for (let x = 0; x < CARD_SIDE; x++) {
      const colour = [...CREAM] as [number, number, number];
      const grain = ((x * 7 + y * 13) % 17) / 17 - 0.5;
      for (const [ink, paint] of layers) {
        const cover = Math.max(0, Math.min(1, 0.5 - ink(x, y)));
        if (cover === 0) continue;
        for (let i = 0; i < 3; i++) colour[i] = colour[i]! * (1 - cover) + paint[i]! * cover;
      }
      const fromEdge = Math.min(y, CARD_SIDE - y);
      const edge = fromEdge > HOLE ? 0 : Math.max(0, Math.min(1, 0.5 - holes(x, fromEdge)));
      const at = (y * CARD_SIDE + x) * 4;
      for (let i = 0; i < 3; i++)
        data[at + i] = Math.round(Math.max(0, Math.min(255, colour[i]! + grain * 5)));
      data[at + 3] = Math.round(255 * (1 - edge));
    }
  return { width: CARD_SIDE, height: CARD_SIDE, data };
}
