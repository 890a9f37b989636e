import { camExtremes, intermittentSizes, pawlOutline, ratchetOutline, type CamDisc } from '../../mechanism';
import { CAM_LAWS, FOLLOWERS, type CamLaw, type FollowerKind, type Outline } from '../../document';
import { cosDeg, sinDeg } from '../../math';
import { camBase } from '../linkages';
import {
  BRASS,
  type Builder,
  channel,
  IRON,
  numbers,
  PAINT,
  type Plan,
  type Planner,
  plate,
  shapeChannel,
  WOOD,
} from './planner';

const CIRCLE_POINTS = 120;

/**
 * Outline of a wheel with radial slots, metres: the circle, and at each slot a notch as wide as the pin.
 * @param slotAt direction of the first slot, degrees
 */
export function slottedOutline(
  radius: number,
  depth: number,
  pin: number,
  slots: number,
  slotAt: number,
): Outline {
  const outer: number[] = [];
  const half = (Math.asin(Math.min(1, pin / radius)) * 180) / Math.PI;
  const put = (x: number, y: number, turn: number): void => {
    outer.push(x * cosDeg(turn) - y * sinDeg(turn), x * sinDeg(turn) + y * cosDeg(turn));
  };
  for (let k = 0; k < slots; k++) {
    const turn = slotAt + (360 * k) / slots;
    const mouth = Math.sqrt(radius * radius - pin * pin);
    put(mouth, -pin, turn);
    put(radius - depth, -pin, turn);
    put(radius - depth, pin, turn);
    put(mouth, pin, turn);
    const arc = 360 / slots - 2 * half;
    const steps = Math.max(2, Math.round((CIRCLE_POINTS * arc) / 360));
    for (let i = 1; i < steps; i++) put(radius, 0, turn + half + (arc * i) / steps);
  }
  return [{ letter: 0, outer, holes: [] }];
}

/**
 * Outline of a ring with radial slots that open inwards, metres; in the middle of the rest a rib lies to the left.
 * @param radius of the opening, from whose edge the slots go out
 * @param end how far out the slots go
 */
export function innerSlottedOutline(radius: number, end: number, pin: number, slots: number): Outline {
  const wall = end + pin * 2;
  const circle = Array.from({ length: CIRCLE_POINTS }, (_, i) => {
    const angle = (360 * i) / CIRCLE_POINTS;
    return [wall * cosDeg(angle), wall * sinDeg(angle)];
  }).flat();
  const hole: number[] = [];
  const half = (Math.asin(Math.min(1, pin / radius)) * 180) / Math.PI;
  const mouth = Math.sqrt(radius * radius - pin * pin);
  for (let k = 0; k < slots; k++) {
    const turn = 180 - 180 / slots + (360 * k) / slots;
    const put = (x: number, y: number, by = turn): void => {
      hole.push(x * cosDeg(by) - y * sinDeg(by), x * sinDeg(by) + y * cosDeg(by));
    };
    put(mouth, -pin);
    put(end, -pin);
    put(end, pin);
    put(mouth, pin);
    const arc = 360 / slots - 2 * half;
    const steps = Math.max(2, Math.round((CIRCLE_POINTS * arc) / 360));
    for (let i = 1; i < steps; i++) put(radius, 0, turn + half + (arc * i) / steps);
  }
  // Holes run the way of the clock.
  const back: number[] = [];
  for (let i = hole.length - 2; i >= 0; i -= 2) back.push(hole[i]!, hole[i + 1]!);
  return [{ letter: 0, outer: circle, holes: [back] }];
}

const cam: Builder = (plan, settings) => {
  const [lift, rise, dwell, fall, phase, roller] = numbers(
    settings,
    'lift',
    'rise',
    'dwell',
    'fall',
    'phase',
    'roller',
  ) as [number, number, number, number, number, number];
  const base = camBase(settings.base as number, lift);
  const disc: CamDisc = {
    law: settings.law as CamLaw,
    lift,
    rise,
    dwell,
    fall,
    follower: settings.foot as FollowerKind,
    base,
    roller,
  };
  plan.stand('Cam and follower', base + Math.abs(lift));
  const wheel = plan.solid(
    'Cam',
    {
      kind: 'cam',
      values: {
        law: CAM_LAWS.indexOf(disc.law),
        foot: FOLLOWERS.indexOf(disc.follower),
        lift,
        rise,
        dwell,
        fall,
        phase,
        base,
        roller,
        thickness: base * 0.3,
        bore: base * 0.2,
      },
    },
    IRON,
  );
  const length = base * 1.6;
  const width = base * 0.16;
  const rolls = disc.follower === 'roller';
  const foot = base + (rolls ? roller : 0);
  const follower = plan.box(
    'Follower',
    [width, length, width],
    BRASS,
    // Its pivot is the foot, which runs on the cam, or the middle of its roller.
    { 'location.y': foot + length / 2, 'pivot.y': -length / 2 },
  );
  if (rolls) plan.round('Roller', roller, base * 0.3, IRON, { 'location.y': -length / 2 }, follower);
  if (disc.follower === 'flat foot') {
    const reach = Math.max(width, 2.2 * camExtremes(disc).foot);
    plan.box(
      'Foot',
      [reach, width / 2, base * 0.3],
      BRASS,
      { 'location.y': -length / 2 + width / 4 },
      follower,
    );
  }
  return { driver: channel(wheel, 'rotation.z'), follower: channel(follower, 'location.y') };
};

const intermittent: Builder = (plan, settings) => {
  const [slots, distance, phase] = numbers(settings, 'slots', 'distance', 'phase') as [
    number,
    number,
    number,
  ];
  const { crank: reach, wheel: radius } = intermittentSizes(distance, slots);
  const pin = Math.min(reach, radius) * 0.12;
  plan.stand(
    'Intermittent wheel',
    settings.inner === true ? distance + reach + pin * 4 : Math.max(reach, radius) + pin * 2,
  );
  const crank = plan.hub('Driver crank');
  const arm = plan.hub('Crank phase', { 'rotation.z': phase }, crank);
  plan.box(
    'Crank arm',
    [reach, pin * 1.6, pin],
    IRON,
    { 'location.x': reach / 2, 'location.z': -pin * 1.6 },
    arm,
  );
  plan.round('Crank pin', pin * 0.95, pin * 4, BRASS, { 'location.x': reach }, arm, 32);
  const inner = settings.inner === true;
  const depth = radius - (distance - reach) + pin;
  // Within its wheel the crank's rest looks at the middle of it, otherwise away.
  const wheel = plan.solid(
    'Slotted wheel',
    plate(
      inner
        ? innerSlottedOutline(radius, distance + reach + pin, pin, slots)
        : slottedOutline(radius, depth, pin, slots, 180 / slots),
      pin * 2,
    ),
    BRASS,
    { 'location.x': inner ? distance : -distance },
  );
  return { driver: channel(crank, 'rotation.z'), wheel: channel(wheel, 'rotation.z') };
};

const screw: Builder = (plan, settings) => {
  const [pitch, starts, radius] = numbers(settings, 'pitch', 'starts', 'radius') as [number, number, number];
  const length = Math.max(radius * 8, pitch * starts * 6);
  plan.stand('Screw and nut', radius * 2.4);
  // Turned on, a nut that does not turn goes along z on a left-handed thread.
  const left = settings.reverse === true ? 0 : 1;
  const spindle = plan.solid(
    'Screw',
    { kind: 'worm', values: { starts, module: pitch / Math.PI, pressure: 30, radius, length, left } },
    IRON,
    { 'location.z': 0 },
  );
  const nut = plan.solid(
    'Nut',
    {
      kind: 'tube',
      values: { radius: radius * 2, wall: radius * 0.95, height: Math.max(radius, pitch * 3), sides: 6 },
    },
    BRASS,
    { 'rest.x': 90, 'location.z': -length / 4 },
  );
  return { driver: channel(spindle, 'rotation.z'), nut: channel(nut, 'location.z') };
};

const spring: Builder = (plan, settings) => {
  const [radius, wire, turns, length] = numbers(settings, 'radius', 'wire', 'turns', 'length') as [
    number,
    number,
    number,
    number,
  ];
  const thick = wire * 1.5;
  plan.stand('Spring and plate', thick);
  plan.box('Spring foot', [radius * 3, thick, radius * 3], IRON, { 'location.y': -thick / 2 });
  const coil = plan.solid('Spring', { kind: 'spring', values: { radius, wire, turns, length } }, IRON);
  const top = plan.hub('Spring plate', { 'location.y': length });
  plan.box('Plate', [radius * 3, thick, radius * 3], BRASS, { 'location.y': thick / 2 }, top);
  return { moving: channel(top, 'location.y'), spring: shapeChannel(coil, 'length') };
};

const rope: Builder = (plan, settings) => {
  const [radius, hang] = numbers(settings, 'radius', 'hang') as [number, number];
  const thin = radius * 0.08;
  plan.stand('Rope over a pulley', hang + radius * 1.4);
  const wheel = plan.hub('Rope pulley');
  plan.round('Pulley disc', radius, radius * 0.3, WOOD, {}, wheel, 64);
  plan.box('Pulley mark', [radius * 1.6, radius * 0.14, radius * 0.36], BRASS, {}, wheel);
  plan.solid('Rope round it', { kind: 'torus', values: { radius: radius + thin, tube: thin } }, WOOD, {
    'rest.x': 90,
  });
  const side = (name: string, x: number): [load: string, line: string] => {
    const load = plan.hub(`${name} load`, { 'location.x': x, 'location.y': -hang });
    plan.solid(
      `${name} weight`,
      { kind: 'cylinder', values: { radius: radius * 0.35, height: radius * 0.8, sides: 48 } },
      IRON,
      { 'location.y': -radius * 0.4 },
      load,
    );
    const line = plan.solid(
      `${name} rope`,
      { kind: 'cylinder', values: { radius: thin, height: hang, sides: 16 } },
      WOOD,
      { 'location.x': x, 'location.y': -hang / 2 },
    );
    return [load, line];
  };
  const [up, upLine] = side('Right', radius + thin);
  const [down, downLine] = side('Left', -radius - thin);
  return {
    driver: channel(wheel, 'rotation.z'),
    up: channel(up, 'location.y'),
    down: channel(down, 'location.y'),
    upRope: shapeChannel(upLine, 'height'),
    upMiddle: channel(upLine, 'location.y'),
    downRope: shapeChannel(downLine, 'height'),
    downMiddle: channel(downLine, 'location.y'),
  };
};

const hinge: Builder = (plan, settings) => {
  const [width] = numbers(settings, 'width') as [number];
  const [height, thick] = [width * 1.6, width * 0.08];
  plan.stand('Hinged door', height / 2);
  plan.box('Door post', [thick * 1.6, height, thick * 1.6], IRON, { 'location.x': -thick * 1.4 });
  const lever = plan.hub('Door pull', { 'location.x': -thick * 1.4, 'location.y': height * 0.5 });
  plan.box('Pull arm', [thick, thick * 0.8, width * 0.5], BRASS, { 'location.z': width * 0.25 }, lever);
  const leaf = plan.hub('Door leaf');
  plan.box('Leaf', [width, height * 0.96, thick], WOOD, { 'location.x': width / 2 + thick * 0.6 }, leaf);
  for (const side of [1, -1] as const)
    plan.solid(
      `Hinge ${side > 0 ? 'top' : 'bottom'}`,
      { kind: 'cylinder', values: { radius: thick * 0.7, height: height * 0.16, sides: 32 } },
      BRASS,
      { 'location.y': side * height * 0.32 },
      leaf,
    );
  return { driver: channel(lever, 'rotation.y'), driven: channel(leaf, 'rotation.y') };
};

function pawl(plan: Planner, name: string, settings: Parameters<Builder>[1], parent?: string): string {
  const [radius, depth, length] = numbers(settings, 'radius', 'depth', 'pawl') as [number, number, number];
  return plan.solid(
    name,
    plate(pawlOutline(length), radius * 0.18),
    IRON,
    { 'location.x': length, 'location.y': radius - depth },
    ...(parent === undefined ? [] : [parent]),
  );
}

const ratchet: Builder = (plan, settings) => {
  const [teeth, radius, depth, length] = numbers(settings, 'teeth', 'radius', 'depth', 'pawl') as [
    number,
    number,
    number,
    number,
  ];
  plan.stand('Ratchet', radius * 1.3 + length * 0.3);
  const wheel = plan.solid('Ratchet wheel', plate(ratchetOutline(teeth, radius, depth), radius * 0.2), BRASS);
  const holds = pawl(plan, 'Holding pawl', settings);
  const held: Plan['roles'] = { driver: channel(wheel, 'rotation.z'), pawl: channel(holds, 'rotation.z') };
  if (settings.by !== 'lever') return held;
  const lever = plan.hub('Ratchet lever');
  plan.box(
    'Lever arm',
    [radius * 1.9, radius * 0.16, radius * 0.12],
    PAINT,
    { 'location.x': radius * 0.85, 'location.z': radius * 0.24 },
    lever,
  );
  // Its pawl stands beside the arm, a quarter of a turn on from the one that holds.
  const beside = plan.hub('Lever pawl place', { 'rotation.z': -90 }, lever);
  const pushes = pawl(plan, 'Driving pawl', settings, beside);
  return {
    driver: channel(lever, 'rotation.z'),
    wheel: channel(wheel, 'rotation.z'),
    pawl: channel(holds, 'rotation.z'),
    leverPawl: channel(pushes, 'rotation.z'),
  };
};

/** What cams, slotted wheels, screws, springs, ropes, hinges and ratchets are built by. */
export const MOTION_BUILDERS: Readonly<Record<string, Builder>> = {
  cam,
  intermittent,
  screw,
  spring,
  rope,
  hinge,
  ratchet,
};
