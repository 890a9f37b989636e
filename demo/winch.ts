import { outlineSchema } from '../core/document/drawing-schema';
import type { Shot } from '../core/document';
import { apply, takeApart, type TakingApart } from '../core/edit';
import { pawlOutline, ratchetOutline } from '../core/mechanism';
import WORDS from './callout-words.json' with { type: 'json' };
import { lookingAt, ShotBuilder } from './shot-builder';

type Triple = readonly [number, number, number];

const LAST = 265;
const AXLE = 1;
const MODULE = 0.03;
const [PINION_TEETH, WHEEL_TEETH] = [12, 48];
const PINION_SIDE = 60;
/** From the drum's axle to the crank's, metres. */
const APART = (MODULE * (PINION_TEETH + WHEEL_TEETH)) / 2;
const CRANK_AT = [
  APART * Math.cos((PINION_SIDE * Math.PI) / 180),
  AXLE + APART * Math.sin((PINION_SIDE * Math.PI) / 180),
] as const;
const CHEEK = 0.55;
/** The wheels stand outside the cheeks. */
const OUTSIDE = 0.68;
const [RATCHET_TEETH, RATCHET_RADIUS, TOOTH] = [16, 0.4, 0.06] as const;
const PAWL = 0.35;
const ROPE = 0.027;
const DRUM = 0.34;
/** Frames: at work, apart, how long a part is on its way, how much later the next one leaves. */
const [WOUND, LEAVES, ON_ITS_WAY, LATER] = [60, 66, 24, 8] as const;

/** Turn by which a cylinder lies along the axle. */
const ALONG: Triple = [90, 0, 0];

/** What the winch is painted with. */
function paints(b: ShotBuilder) {
  const iron = b.look('Iron', '#3d474f', { metallic: 0.6, roughness: 0.45 });
  const wheelIron = b.look('Wheel iron', '#56626b', { metallic: 0.6, roughness: 0.4 });
  const brass = b.look('Brass', '#c8993c', { metallic: 0.8, roughness: 0.35 });
  const teal = b.look('Cheek paint', '#1f6f74', { roughness: 0.5 });
  const wood = b.look('Drum oak', '#8a5a30', { roughness: 0.7 });
  const hemp = b.look('Hemp', '#c9b182', { roughness: 0.95 });
  const stone = b.look('Quay', '#a79f90', { roughness: 0.95 });
  return { iron, wheelIron, brass, teal, wood, hemp, stone };
}

type Looks = ReturnType<typeof paints>;

/** A cylinder that lies along the axle. */
function round(
  b: ShotBuilder,
  name: string,
  parent: string,
  look: string,
  [radius, height, sides = 64]: readonly [radius: number, height: number, sides?: number],
  at: Triple,
): void {
  b.solid(name, b.shape('cylinder', { radius, height, sides }), look, { parent, at, rest: ALONG });
}

/** The two cheeks on the quay, with their feet. */
function stand(b: ShotBuilder, { iron, teal, stone }: Looks): { near: string; far: string } {
  b.solid('Quay', b.shape('box', { width: 120, height: 0.2, depth: 120 }), stone, { at: [0, -0.1, 0] });

  const cheek = b.shape('box', { width: 1.3, height: 2.05, depth: 0.06 });
  const foot = b.shape('box', { width: 1.6, height: 0.14, depth: 0.2 });
  const cheeks = (['Near', 'Far'] as const).map((name, i) => {
    const id = b.hub(`${name} cheek`, { at: [0.15, 0, i === 0 ? CHEEK : -CHEEK] });
    b.solid(`${name} plate`, cheek, teal, { parent: id, at: [0, 1.09, 0] });
    b.solid(`${name} foot`, foot, iron, { parent: id, at: [0, 0.07, 0] });
    return id;
  });
  return { near: cheeks[0]!, far: cheeks[1]! };
}

/** The drum on its axle, with the rope that is on it and the end that hangs down. */
function ropeDrum(b: ShotBuilder, { iron, wood, hemp }: Looks): string {
  const drum = b.hub('Drum', { at: [0, AXLE, 0] });
  round(b, 'Barrel', drum, wood, [DRUM, 0.9], [0, 0, 0]);
  round(b, 'Near flange', drum, iron, [0.5, 0.05], [0, 0, 0.46]);
  round(b, 'Far flange', drum, iron, [0.5, 0.05], [0, 0, -0.46]);
  round(b, 'Axle', drum, iron, [0.07, 1.62, 32], [0, 0, 0]);
  const turns = b.part('repeat', 'Rope', {
    parent: drum,
    at: [0, 0, -0.39],
    values: { copies: 14 },
  });
  const lay = b.hub('Lay', { parent: turns, at: [0, 0, ROPE * 2.2] });
  b.change((shot) => ({
    ...shot,
    parts: { ...shot.parts, [turns]: { ...shot.parts[turns]!, repeat: { pattern: 'row', step: lay } } },
  }));
  b.solid('Turn of rope', b.shape('torus', { radius: DRUM + ROPE, tube: ROPE }), hemp, {
    parent: turns,
    rest: ALONG,
  });
  const hanging = AXLE - 0.12;
  b.solid('Rope end', b.shape('cylinder', { radius: ROPE, height: hanging, sides: 16 }), hemp, {
    at: [-DRUM - ROPE, AXLE - hanging / 2, 0.38],
  });
  b.solid('Knot', b.shape('ball', { radius: 0.06 }), hemp, { at: [-DRUM - ROPE, 0.12, 0.38] });
  return drum;
}

/** Crank, pinion and wheel outside the near cheek, ratchet and pawl outside the far one. */
function works(b: ShotBuilder, { iron, wheelIron, brass, wood }: Looks) {
  const flat = { width: 1, height: 1, bevel: 0 };
  const shape = { module: MODULE, thickness: 0.12, bore: 0.07 };
  const wheel = b.solid('Wheel', b.shape('gear', { ...shape, teeth: WHEEL_TEETH }), wheelIron, {
    at: [0, AXLE, OUTSIDE],
  });
  const pinion = b.solid('Pinion', b.shape('gear', { ...shape, teeth: PINION_TEETH, bore: 0.05 }), brass, {
    at: [...CRANK_AT, OUTSIDE],
  });
  const crank = b.hub('Crank', { at: [...CRANK_AT, 0.86] });
  round(b, 'Spindle', crank, iron, [0.05, 0.44, 32], [0, 0, -0.18]);
  b.solid('Arm', b.shape('box', { width: 0.09, height: 0.6, depth: 0.05 }), iron, {
    parent: crank,
    at: [0, -0.24, 0.05],
  });
  round(b, 'Grip', crank, wood, [0.045, 0.34, 32], [0, -0.48, 0.24]);

  const ratchet = b.solid(
    'Ratchet',
    b.shape(
      'outline',
      { ...flat, depth: 0.08 },
      { outline: ratchetOutline(RATCHET_TEETH, RATCHET_RADIUS, TOOTH) },
    ),
    brass,
    { at: [0, AXLE, -OUTSIDE] },
  );
  const pawl = b.solid(
    'Pawl',
    b.shape('outline', { ...flat, depth: 0.07 }, { outline: pawlOutline(PAWL) }),
    iron,
    { at: [PAWL, AXLE + RATCHET_RADIUS - TOOTH, -OUTSIDE] },
  );
  return { crank, pinion, wheel, ratchet, pawl };
}

type Works = ReturnType<typeof works>;

/** The crank is keyed; all the rest follows it. */
function wound(b: ShotBuilder, { crank, pinion, wheel, ratchet, pawl }: Works, drum: string): void {
  b.keys(`${crank}/rotation.z`, [
    { frame: 1, value: 0 },
    { frame: WOUND, value: -540 },
    { frame: 226, value: -540 },
    { frame: LAST, value: -780 },
  ]);
  b.link(`${pinion}/rotation.z`, 'Crank.rotation.z');
  b.recipe(
    'gear-outer',
    { driver: `${pinion}/rotation.z`, driven: `${wheel}/rotation.z` },
    { teeth1: PINION_TEETH, teeth2: WHEEL_TEETH, module: MODULE, direction: PINION_SIDE + 180 },
  );
  b.link(`${drum}/rotation.z`, 'Wheel.rotation.z');
  b.link(`${ratchet}/rotation.z`, 'Wheel.rotation.z');
  b.link(
    `${pawl}/rotation.z`,
    `-asin(${TOOTH} * saw(Wheel.rotation.z / ${360 / RATCHET_TEETH}deg) / ${PAWL})`,
  );
}

/** Parts leave along the axle, one after another, and come back. */
function takenApart(
  b: ShotBuilder,
  { crank, pinion, wheel, ratchet, pawl }: Works,
  near: string,
  far: string,
): void {
  const apart = (parts: readonly string[], options: Partial<TakingApart>): void =>
    b.change((shot, random) =>
      apply(
        shot,
        takeApart(
          shot,
          {
            parts,
            way: 'z',
            distance: 2.5,
            more: -0.6,
            first: LEAVES,
            length: ON_ITS_WAY,
            stagger: LATER,
            manner: 'cubic-in-out',
            back: 60,
            ...options,
          },
          random,
        ),
      ),
    );
  apart([crank, pinion, wheel, near], {});
  apart([pawl, ratchet, far], { way: '-z', distance: 1.9, first: LEAVES + 12, back: 56 });
}

/** What covers the drum fades while it is away, and the wheel shows what it drives by its colour. */
function shown(b: ShotBuilder, wheelIron: string): void {
  for (const id of ['Near plate', 'Far plate'].map((name) => b.idOf(name)))
    b.keys(`${id}/opacity`, [
      { frame: 96, value: 1 },
      { frame: 118, value: 0.3 },
      { frame: 166, value: 0.3 },
      { frame: 190, value: 1 },
    ]);
  b.keys(`${wheelIron}/colour`, [
    { frame: 92, value: '#56626b' },
    { frame: 110, value: '#c2452d' },
    { frame: 170, value: '#c2452d' },
    { frame: 196, value: '#56626b' },
  ]);
}

/** Each part is named while it is apart. */
function callouts(
  b: ShotBuilder,
  { crank, pinion, wheel, ratchet, pawl }: Works,
  drum: string,
  near: string,
): void {
  const named: readonly (readonly [
    words: keyof typeof WORDS,
    part: string,
    at: Triple,
    by: readonly [number, number],
  ])[] = [
    ['1  Crank', crank, [0, -0.48, 0.35], [-0.02, -0.14]],
    ['2  Pinion', pinion, [0, 0.18, 0], [-0.02, 0.13]],
    ['3  Wheel', wheel, [-0.5, -0.5, 0], [-0.1, -0.13]],
    ['4  Ratchet', ratchet, [0.2, -0.3, 0], [0.06, -0.16]],
    ['5  Pawl', pawl, [0, 0.05, 0], [0.1, 0.12]],
    ['6  Drum', drum, [0, 0.37, 0], [0.02, 0.2]],
    ['7  Cheeks', near, [-0.3, 2.05, 0], [-0.12, 0.1]],
  ];
  named.forEach(([words, part, at, by], i) => {
    const begins = 100 + i * 5;
    const id = b.part('callout', `Callout ${words.replace('  ', ' ')}`, {
      parent: part,
      at,
      values: { 'words.x': by[0], 'words.y': by[1] },
    });
    const outline = outlineSchema.parse(WORDS[words]);
    b.change((shot) => ({
      ...shot,
      parts: {
        ...shot.parts,
        [id]: { ...shot.parts[id]!, callout: { text: { text: words, font: 'oswald' }, outline } },
      },
    }));
    b.keys(`${id}/drawn`, [
      { frame: begins, value: 0 },
      { frame: begins + 14, value: 1 },
      { frame: 160 + i, value: 1 },
      { frame: 170 + i, value: 0 },
    ]);
  });
}

/** Light, and a camera that steps back while the parts are out. */
function filmed(b: ShotBuilder): void {
  b.part('sun', 'Sun', { turn: [-46, 52, 0], at: [5, 7, 5], order: 'YXZ', values: { strength: 2.5 } });
  b.part('sky', 'Sky light', { at: [0, 6, 0], values: { strength: 1.1 } });
  const close = [3.9, 2.3, 4.1] as const;
  const away = [7.4, 3, 4.6] as const;
  const camera = b.camera('Camera', {
    at: close,
    turn: lookingAt(close, [0.1, 1.12, 0.1]),
    values: { lens: 38 },
  });
  const turnClose = lookingAt(close, [0.1, 1.12, 0.1]);
  const turnAway = lookingAt(away, [0, 1, 0.62]);
  (['x', 'y', 'z'] as const).forEach((axis, i) => {
    for (const [path, from, to] of [
      [`location.${axis}`, close[i]!, away[i]!],
      [`rotation.${axis}`, turnClose[i]!, turnAway[i]!],
    ] as const)
      if (from !== to)
        b.keys(`${camera}/${path}`, [
          { frame: WOUND, value: from },
          { frame: 112, value: to },
          { frame: 176, value: to },
          { frame: 224, value: from },
        ]);
  });
}

/**
 * The winch of the quay: crank, pinion and wheel wind a rope onto the drum, a pawl clicks over the ratchet. Then it is taken
 * apart along its axle, each part named, and put together again.
 */
export function winch(): Shot {
  const b = new ShotBuilder(5407, { background: '#d9d2c0', last: LAST, exposure: 1 });
  const looks = paints(b);
  const { near, far } = stand(b, looks);
  const drum = ropeDrum(b, looks);
  const parts = works(b, looks);
  wound(b, parts, drum);
  takenApart(b, parts, near, far);
  shown(b, looks.wheelIron);
  callouts(b, parts, drum, near);
  b.marker('Wound', WOUND);
  b.marker('Apart', 118);
  b.marker('Together', 222);
  filmed(b);
  return b.build();
}
