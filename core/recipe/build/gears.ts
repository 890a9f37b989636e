import { EditRefused } from '../../edit';
import {
  bevelCones,
  centreDistance,
  chainDrive,
  innerCentreDistance,
  sprocketRadius,
  wormClimb,
} from '../../mechanism';
import { cosDeg, sinDeg } from '../../math';
import {
  BRASS,
  type Builder,
  channel,
  IRON,
  itself,
  numbers,
  PAINT,
  type Planner,
  shapeChannel,
  WOOD,
} from './planner';

/** Planets that are tried, the best known number first. */
const PLANETS = [3, 4, 5, 2, 6] as const;
const BELT = { thickness: 0.04, width: 0.5 } as const;

const gear = (teeth: number, module: number): { kind: 'gear'; values: Record<string, number> } => ({
  kind: 'gear',
  values: { teeth, module, thickness: module * 4, bore: module * 2 },
});

const outer: Builder = (plan, settings) => {
  const [z1, z2, module, direction] = numbers(settings, 'teeth1', 'teeth2', 'module', 'direction') as [
    number,
    number,
    number,
    number,
  ];
  const away = centreDistance(module, z1, z2);
  const low = Math.min(-(z1 / 2 + 1), (away * sinDeg(direction)) / module - (z2 / 2 + 1));
  plan.stand('Gear pair', -low * module);
  const driver = plan.solid('Driver gear', gear(z1, module), BRASS, { 'location.x': 0, 'location.y': 0 });
  const driven = plan.solid('Driven gear', gear(z2, module), IRON, {
    'location.x': away * cosDeg(direction),
    'location.y': away * sinDeg(direction),
  });
  return { driver: channel(driver, 'rotation.z'), driven: channel(driven, 'rotation.z') };
};

const inner: Builder = (plan, settings) => {
  const [z1, z2, module, direction] = numbers(settings, 'teeth1', 'teeth2', 'module', 'direction') as [
    number,
    number,
    number,
    number,
  ];
  const away = innerCentreDistance(module, z1, z2);
  const rim = module * 3;
  plan.stand('Gear in a ring', (z2 / 2 + 1.25) * module + rim);
  const ring = plan.solid(
    'Ring gear',
    { kind: 'ring-gear', values: { teeth: z2, module, thickness: module * 4, rim } },
    IRON,
  );
  const inside = plan.solid('Inner gear', gear(z1, module), BRASS, {
    'location.x': away * cosDeg(direction),
    'location.y': away * sinDeg(direction),
  });
  return { driver: channel(inside, 'rotation.z'), driven: channel(ring, 'rotation.z') };
};

const bevel: Builder = (plan, settings) => {
  const [z1, z2, module] = numbers(settings, 'teeth1', 'teeth2', 'module') as [number, number, number];
  const [cone1, cone2] = bevelCones(z1, z2);
  // A third of the cone: common practice.
  const face = (module * z1) / 2 / sinDeg(cone1) / 3;
  const shape = (teeth: number, cone: number) => ({
    kind: 'bevel-gear' as const,
    values: { teeth, module, cone, face, bore: module * 2 },
  });
  plan.stand('Bevel gears', (Math.max(z1, z2) / 2 + 2) * module);
  const driver = plan.solid('Driver bevel', shape(z1, cone1), BRASS);
  // The driven one stands along x and has its angle 0 where they meet: x along the shaft of the first one.
  const square = plan.hub('Square shaft', { 'rotation.y': 90, 'rotation.z': 180 });
  if (settings.reverse !== true) {
    const driven = plan.solid('Driven bevel', shape(z2, cone2), IRON, {}, square);
    return { driver: channel(driver, 'rotation.z'), driven: channel(driven, 'rotation.z') };
  }
  // The same gear on a shaft that is counted from its other end.
  const back = plan.hub('Driven shaft', { 'rest.x': 180 }, square);
  plan.solid('Driven bevel', shape(z2, cone2), IRON, { 'rotation.x': 180 }, back);
  return { driver: channel(driver, 'rotation.z'), driven: channel(back, 'rotation.z') };
};

const train: Builder = (plan, settings) => {
  const list = settings.teeth as readonly number[];
  const [module] = numbers(settings, 'module') as [number];
  const pairs = settings.compound === true;
  if (list.length < 2 || (pairs && list.length % 2 !== 0))
    throw new EditRefused(
      `Gear train: ${pairs ? 'pairs of gears, driver and driven,' : 'at least two gears'} are needed to build it, ${list.length} numbers of teeth are given.`,
    );
  plan.stand('Gear train', (Math.max(...list) / 2 + 1) * module);
  const driver = plan.solid('Train driver', gear(list[0]!, module), BRASS);
  const shafts: string[] = [];
  let x = 0;
  // In a compound train each shaft carries, behind its driven gear, the driver of the next one.
  for (let i = 1; i < list.length; i += pairs ? 2 : 1) {
    const shaft = shafts.length + 1;
    x += centreDistance(module, list[i - 1]!, list[i]!);
    const z = pairs ? -(shaft - 1) * module * 5 : 0;
    const place = { 'location.x': x, 'location.z': z };
    shafts.push(plan.solid(`Train gear ${shaft}`, gear(list[i]!, module), BRASS, place));
    if (pairs && i + 1 < list.length)
      plan.solid(
        `Train pinion ${shaft}`,
        gear(list[i + 1]!, module),
        IRON,
        { 'location.z': -module * 5 },
        shafts.at(-1),
      );
  }
  return {
    driver: channel(driver, 'rotation.z'),
    driven: shafts.map((shaft) => channel(shaft, 'rotation.z')),
  };
};

const planetary: Builder = (plan, settings) => {
  const [zs, zp, module] = numbers(settings, 'sunTeeth', 'planetTeeth', 'module') as [number, number, number];
  const zr = zs + 2 * zp;
  const away = centreDistance(module, zs, zp);
  // Planets beside one another must not touch, and stand in the gaps of sun and ring.
  const count = PLANETS.find(
    (n) => (zs + zr) % n === 0 && 2 * away * sinDeg(180 / n) > (zp + 2) * module * 1.02,
  );
  const thickness = module * 4;
  const rim = module * 3;
  plan.stand('Planetary gears', (zr / 2 + 1.25) * module + rim);
  const sun = plan.solid('Sun gear', gear(zs, module), BRASS);
  const ring = plan.solid(
    'Planet ring',
    { kind: 'ring-gear', values: { teeth: zr, module, thickness, rim } },
    IRON,
  );
  const carrier = plan.hub('Planet carrier');
  const planets = Array.from({ length: count ?? 1 }, (_, i) => {
    const at = (360 * i) / (count ?? 1);
    plan.bar(
      `Carrier arm ${i + 1}`,
      away,
      module * 3,
      PAINT,
      { 'rotation.z': at, 'location.z': thickness },
      carrier,
    );
    const place = { 'location.x': away * cosDeg(at), 'location.y': away * sinDeg(at) };
    return plan.solid(`Planet ${i + 1}`, gear(zp, module), BRASS, place, carrier);
  });
  return {
    sun: channel(sun, 'rotation.z'),
    ring: channel(ring, 'rotation.z'),
    carrier: channel(carrier, 'rotation.z'),
    planets: planets.map((planet) => channel(planet, 'rotation.z')),
  };
};

/** A pulley with two rims between which the belt lies, and spokes by which its turn is seen. */
function pulley(
  plan: Planner,
  name: string,
  radius: number,
  width: number,
  values: Record<string, number>,
): string {
  const wheel = plan.hub(name, values);
  plan.round(`${name} drum`, radius, width, WOOD, {}, wheel, 64);
  for (const side of [1, -1] as const)
    plan.round(
      `${name} ${side > 0 ? 'front' : 'back'} rim`,
      radius * 1.12,
      width * 0.12,
      IRON,
      { 'location.z': (side * width) / 2 },
      wheel,
      64,
    );
  plan.box(
    `${name} spoke`,
    [radius * 1.6, radius * 0.16, width * 0.14],
    BRASS,
    { 'location.z': width * 0.58 },
    wheel,
  );
  return wheel;
}

const belt: Builder = (plan, settings) => {
  const [d1, d2, distance] = numbers(settings, 'diameter1', 'diameter2', 'distance') as [
    number,
    number,
    number,
  ];
  const small = Math.min(d1, d2);
  const width = small * BELT.width;
  const crossed = settings.crossed === true;
  plan.stand('Belt drive', Math.max(d1, d2) * 0.56 + small * 0.1);
  const one = pulley(plan, 'Driver pulley', d1 / 2, width, {});
  const two = pulley(plan, 'Driven pulley', d2 / 2, width, { 'location.x': distance });
  const band = plan.solid(
    'Belt',
    {
      kind: 'belt',
      pulleys: [
        [0, 0, d1 / 2],
        [distance, 0, crossed ? -d2 / 2 : d2 / 2],
      ],
      values: { width: width * 0.7, thickness: small * BELT.thickness, cleats: 24, run: 0 },
    },
    PAINT,
  );
  return {
    driver: channel(one, 'rotation.z'),
    driven: channel(two, 'rotation.z'),
    band: shapeChannel(band, 'run'),
  };
};

const chain: Builder = (plan, settings) => {
  const [z1, z2, pitch, distance] = numbers(settings, 'teeth1', 'teeth2', 'pitch', 'distance') as [
    number,
    number,
    number,
    number,
  ];
  const drive = chainDrive(z1, z2, pitch, distance);
  if (!drive) throw new EditRefused('Chain: the sprockets overlap.');
  // ISO 606, chain 08B: rollers of 8.51 mm and 7.75 mm between the plates at a pitch of 12.7 mm.
  const [roller, width] = [pitch * 0.335, pitch * 0.61];
  const [r1, r2] = [sprocketRadius(pitch, z1), sprocketRadius(pitch, z2)];
  const wheel = (name: string, teeth: number, radius: number, x: number): string =>
    plan.solid(
      name,
      {
        kind: 'sprocket',
        values: { teeth, pitch, roller, thickness: width * 0.9, bore: Math.min(radius * 0.4, pitch) },
      },
      name.startsWith('Driver') ? BRASS : IRON,
      { 'location.x': x },
    );
  plan.stand('Chain drive', Math.max(r1, r2) + pitch * 1.2);
  const one = wheel('Driver sprocket', z1, r1, 0);
  const two = wheel('Driven sprocket', z2, r2, drive.distance);
  const band = plan.solid(
    'Chain',
    {
      kind: 'chain',
      pulleys: [
        [0, 0, r1],
        [drive.distance, 0, r2],
      ],
      values: { pitch, roller, width, run: 0 },
    },
    PAINT,
  );
  return {
    driver: channel(one, 'rotation.z'),
    driven: channel(two, 'rotation.z'),
    band: shapeChannel(band, 'run'),
  };
};

const rack: Builder = (plan, settings) => {
  const [teeth, module] = numbers(settings, 'teeth', 'module') as [number, number];
  const radius = (teeth * module) / 2;
  const back = module * 2;
  plan.stand('Rack and pinion', radius + back + module * 1.5);
  const pinion = plan.solid('Pinion', gear(teeth, module), BRASS);
  // The tooth of the pinion next to straight down stands in the middle gap of the rack.
  const pitch = 360 / teeth;
  const aside = Math.round(-90 / pitch) * pitch + 90;
  const bar = plan.solid(
    'Rack',
    { kind: 'rack', values: { module, thickness: module * 4, teeth: teeth * 2, back } },
    IRON,
    { 'location.x': (radius * aside * Math.PI) / 180, 'location.y': -radius },
  );
  return { driver: channel(pinion, 'rotation.z'), driven: channel(bar, 'location.x') };
};

const worm: Builder = (plan, settings) => {
  const [starts, teeth, module, radius] = numbers(settings, 'starts', 'teeth', 'module', 'radius') as [
    number,
    number,
    number,
    number,
  ];
  const left = settings.reverse === true;
  const climb = wormClimb({ starts, module, radius });
  const wheelRadius = (module * teeth) / 2;
  plan.stand('Worm and wheel', Math.max(radius, wheelRadius) + module * 2);
  const screw = plan.solid(
    'Worm',
    {
      kind: 'worm',
      values: {
        starts,
        module,
        radius,
        length: Math.PI * module * Math.max(4, starts + 3),
        left: left ? 1 : 0,
      },
    },
    BRASS,
  );
  // The wheel's x looks at the worm and its z down, so that both turn on with the same sign; a gap meets the thread.
  const post = plan.hub('Wheel shaft', {
    'location.x': radius + wheelRadius,
    'rotation.x': 90,
    'rotation.z': 180 + 180 / teeth,
  });
  const wheel = plan.solid(
    'Worm wheel',
    {
      kind: 'gear',
      values: {
        teeth,
        module,
        thickness: Math.min(radius * 1.2, module * 6),
        bore: module * 2,
        helix: left ? -climb : climb,
      },
    },
    IRON,
    {},
    post,
  );
  return { driver: channel(screw, 'rotation.z'), driven: channel(wheel, 'rotation.z') };
};

const roll: Builder = (plan, settings) => {
  const [radius] = numbers(settings, 'radius') as [number];
  const cart = plan.hub('Rolling cart', { 'location.y': radius }, null);
  const wheel = plan.hub('Rolling wheel', {}, cart);
  plan.round('Wheel tyre', radius, radius * 0.3, WOOD, {}, wheel, 64);
  plan.box('Wheel spoke', [radius * 1.5, radius * 0.14, radius * 0.36], BRASS, {}, wheel);
  return { way: channel(cart, 'location.x'), wheel: channel(wheel, 'rotation.z') };
};

const reach: Builder = (plan, settings) => {
  const [first, second] = numbers(settings, 'upperLength', 'lowerLength') as [number, number];
  const width = (first + second) * 0.1;
  plan.stand('Reaching arm', first + second + width);
  const upper = plan.bar('Upper bone', first, width, IRON);
  const lower = plan.bar(
    'Lower bone',
    second,
    width * 0.8,
    BRASS,
    { 'location.x': first / 2, 'location.z': width * 0.5 },
    upper,
  );
  const end = plan.hub('Hand', { 'location.x': second / 2 }, lower);
  const target = plan.hub('Reach for this', {
    'location.x': (first + second) * 0.6,
    'location.y': -(first + second) * 0.3,
  });
  return {
    upper: channel(upper, 'rotation.z'),
    lower: channel(lower, 'rotation.z'),
    end: itself(end),
    target: itself(target),
  };
};

/** What gears, belts, chains, worms, wheels and arms are built by. */
export const DRIVE_BUILDERS: Readonly<Record<string, Builder>> = {
  'gear-outer': outer,
  'gear-inner': inner,
  'gear-bevel': bevel,
  train,
  planetary,
  belt,
  chain,
  rack,
  worm,
  roll,
  reach,
};
