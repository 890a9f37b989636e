import { entryOf, type Outline, type Shot } from '../document';
import { addPart, apply, compose, EditRefused, type Change, type NewPart } from '../edit';
import {
  camEdge,
  camExtremes,
  centreDistance,
  intermittentSizes,
  type CamDisc,
  type CamLaw,
  type FollowerKind,
} from '../mechanism';
import { cosDeg, sinDeg } from '../math';
import { camBase } from './linkages';
import type { Roles, Settings } from './recipe';

/** Parts made for a recipe, and what they are in it. */
export interface Built {
  readonly change: Change;
  readonly ids: readonly string[];
  readonly roles: Roles;
}

const CAM_POINTS = 360;
const CIRCLE_POINTS = 120;
/** Module of the gears of a train, whose recipe names teeth only, metres. */
const TRAIN_MODULE = 0.05;
const BRASS: [number, number, number] = [0.57, 0.31, 0.05];
const IRON: [number, number, number] = [0.06, 0.075, 0.09];
const WOOD: [number, number, number] = [0.32, 0.12, 0.034];

type Builder = (make: Maker, settings: Settings) => Roles;

/** Adds parts one after the other and gathers what was done. */
class Maker {
  readonly ids: string[] = [];
  private done: Change | null = null;
  private root: string | null = null;

  constructor(
    private shot: Shot,
    private readonly random?: () => number,
  ) {}

  /** A hub from which everything hangs, so high that nothing reaches below the floor. */
  stand(name: string, height: number): void {
    this.root = this.part({ kind: 'hub', name, values: { 'location.y': height } });
  }

  part(spec: NewPart): string {
    const { change, id } = addPart(this.shot, { parent: this.root, ...spec }, this.random);
    this.shot = apply(this.shot, change);
    this.done = this.done ? compose(this.done, change) : change;
    this.ids.push(id);
    return id;
  }

  solid(
    name: string,
    shape: NonNullable<NewPart['shape']>,
    colour: [number, number, number],
    values: Record<string, number> = {},
    parent: string | null = this.root,
  ): string {
    return this.part({
      kind: 'solid',
      name,
      parent,
      values,
      shape,
      look: { values: { colour, metallic: colour === WOOD ? 0 : 0.8, roughness: 0.4 } },
    });
  }

  change(label: string): Change {
    return { label, patches: this.done?.patches ?? [] };
  }
}

const numbers = (settings: Settings, ...names: string[]): number[] =>
  names.map((name) => settings[name] as number);

/** A flat disc in metres, given by the distance of its edge from the axis in each direction (degrees). */
export function discOutline(points: number, edge: (degrees: number) => number): Outline {
  const outer = Array.from({ length: points }, (_, i) => {
    const angle = (360 * i) / points;
    return [edge(angle) * cosDeg(angle), edge(angle) * sinDeg(angle)];
  }).flat();
  return [{ letter: 0, outer, holes: [] }];
}

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

/** A drawing in metres as a shape: one metre wide and high, so that its shares are metres. */
const plate = (outline: Outline, depth: number): NonNullable<NewPart['shape']> => ({
  kind: 'outline',
  outline,
  values: { width: 1, height: 1, depth, bevel: 0 },
});

const BUILDERS: Readonly<Record<string, Builder>> = {
  'gear-outer': (make, settings) => {
    const [z1, z2, module, direction] = numbers(settings, 'teeth1', 'teeth2', 'module', 'direction');
    const away = centreDistance(module!, z1!, z2!);
    const low = Math.min(-(z1! / 2 + 1), (away * sinDeg(direction!)) / module! - (z2! / 2 + 1));
    make.stand('Gear pair', -low * module!);
    const gear = (
      name: string,
      teeth: number,
      colour: [number, number, number],
      at: [number, number],
    ): string =>
      make.solid(
        name,
        { kind: 'gear', values: { teeth, module: module!, thickness: module! * 4, bore: module! * 2 } },
        colour,
        { 'location.x': at[0], 'location.y': at[1] },
      );
    const driver = gear('Driver gear', z1!, BRASS, [0, 0]);
    const driven = gear('Driven gear', z2!, IRON, [away * cosDeg(direction!), away * sinDeg(direction!)]);
    return { driver: `${driver}/rotation.z`, driven: `${driven}/rotation.z` };
  },

  train: (make, settings) => {
    const list = settings.teeth as readonly number[];
    const pairs = settings.compound === true;
    if (list.length < 2 || (pairs && list.length % 2 !== 0))
      throw new EditRefused(
        `Gear train: ${pairs ? 'pairs of gears, driver and driven,' : 'at least two gears'} are needed to build it, ${list.length} numbers of teeth are given.`,
      );
    const module = TRAIN_MODULE;
    make.stand('Gear train', (Math.max(...list) / 2 + 1) * module);
    const gear = (name: string, teeth: number, values: Record<string, number>, parent?: string): string =>
      make.solid(
        name,
        { kind: 'gear', values: { teeth, module, thickness: module * 4, bore: module * 2 } },
        parent === undefined ? BRASS : IRON,
        values,
        parent,
      );
    const driver = gear('Train driver', list[0]!, {});
    const shafts: string[] = [];
    let x = 0;
    // In a compound train each shaft carries, behind its driven gear, the driver of the next one.
    for (let i = 1; i < list.length; i += pairs ? 2 : 1) {
      const shaft = shafts.length + 1;
      x += centreDistance(module, list[i - 1]!, list[i]!);
      const z = pairs ? -(shaft - 1) * module * 5 : 0;
      shafts.push(gear(`Train gear ${shaft}`, list[i]!, { 'location.x': x, 'location.z': z }));
      if (pairs && i + 1 < list.length)
        gear(`Train pinion ${shaft}`, list[i + 1]!, { 'location.z': -module * 5 }, shafts.at(-1));
    }
    return {
      driver: `${driver}/rotation.z`,
      driven: shafts.map((shaft) => `${shaft}/rotation.z`),
    };
  },

  rack: (make, settings) => {
    const [teeth, module] = numbers(settings, 'teeth', 'module');
    const radius = (teeth! * module!) / 2;
    const back = module! * 2;
    make.stand('Rack and pinion', radius + back + module! * 1.5);
    const shape = { module: module!, thickness: module! * 4 };
    const pinion = make.solid(
      'Pinion',
      { kind: 'gear', values: { ...shape, teeth: teeth!, bore: module! * 2 } },
      BRASS,
    );
    // The tooth of the pinion next to straight down stands in the middle gap of the rack.
    const pitch = 360 / teeth!;
    const aside = Math.round(-90 / pitch) * pitch + 90;
    const rack = make.solid('Rack', { kind: 'rack', values: { ...shape, teeth: teeth! * 2, back } }, IRON, {
      'location.x': (radius * aside * Math.PI) / 180,
      'location.y': -radius,
    });
    return { driver: `${pinion}/rotation.z`, driven: `${rack}/location.x` };
  },

  'crank-slider': (make, settings) => {
    const [r, l, e] = numbers(settings, 'throw', 'rodLength', 'offset');
    const thick = r! * 0.16;
    make.stand('Crank and slider', r! + thick * 2 + Math.max(0, -e!));
    const crank = make.part({ kind: 'hub', name: 'Crank' });
    const box = (width: number, height: number): NonNullable<NewPart['shape']> => ({
      kind: 'box',
      values: { width, height, depth: thick },
    });
    make.solid('Crank web', box(r! + thick * 2, thick * 2), IRON, { 'location.x': r! / 2 }, crank);
    const slider = make.solid('Piston', box(r! * 0.9, r! * 0.7), BRASS, {
      'location.x': r! + l!,
      'location.y': e!,
    });
    // The rod lies along x, from the piston's pin back to the crank's; it swings about the piston's.
    const rod = make.solid(
      'Rod',
      box(l!, thick * 1.5),
      WOOD,
      { 'location.x': -l! / 2, 'pivot.x': l! / 2, 'location.z': thick * 1.2 },
      slider,
    );
    return { driver: `${crank}/rotation.z`, slider: `${slider}/location.x`, rod: `${rod}/rotation.z` };
  },

  cam: (make, settings) => {
    const [lift, rise, dwell, fall, phase, roller] = numbers(
      settings,
      'lift',
      'rise',
      'dwell',
      'fall',
      'phase',
      'roller',
    );
    const base = camBase(settings.base as number, lift!);
    const disc: CamDisc = {
      law: settings.law as CamLaw,
      lift: lift!,
      rise: rise!,
      dwell: dwell!,
      fall: fall!,
      follower: settings.foot as FollowerKind,
      base,
      roller: roller!,
    };
    make.stand('Cam and follower', base + Math.abs(lift!));
    // The follower stands above; seen from the cam it goes round the way of the clock.
    const outer = Array.from({ length: CAM_POINTS }, (_, i) =>
      camEdge(disc, (-360 * i) / CAM_POINTS, phase),
    ).flat();
    const cam = make.solid('Cam', plate([{ letter: 0, outer, holes: [] }], base * 0.3), IRON);
    const length = base * 1.6;
    const width = base * 0.16;
    const rolls = disc.follower === 'roller';
    const foot = base + (rolls ? roller! : 0);
    const follower = make.solid(
      'Follower',
      { kind: 'box', values: { width, height: length, depth: width } },
      BRASS,
      // Its pivot is the foot, which runs on the cam, or the middle of its roller.
      { 'location.y': foot + length / 2, 'pivot.y': -length / 2 },
    );
    if (rolls)
      make.solid(
        'Roller',
        { kind: 'cylinder', values: { radius: roller!, height: base * 0.3, sides: 48 } },
        IRON,
        { 'location.y': -length / 2, 'rotation.x': 90 },
        follower,
      );
    if (disc.follower === 'flat foot') {
      const reach = Math.max(width, 2.2 * camExtremes(disc).foot);
      make.solid(
        'Foot',
        { kind: 'box', values: { width: reach, height: width / 2, depth: base * 0.3 } },
        BRASS,
        { 'location.y': -length / 2 + width / 4 },
        follower,
      );
    }
    return { driver: `${cam}/rotation.z`, follower: `${follower}/location.y` };
  },

  intermittent: (make, settings) => {
    const [slots, distance, phase] = numbers(settings, 'slots', 'distance', 'phase');
    const { crank: reach, wheel: radius } = intermittentSizes(distance!, slots!);
    const pin = Math.min(reach, radius) * 0.12;
    make.stand('Intermittent wheel', Math.max(reach, radius) + pin * 2);
    const crank = make.part({ kind: 'hub', name: 'Driver crank' });
    const arm = make.part({
      kind: 'hub',
      name: 'Crank phase',
      parent: crank,
      values: { 'rotation.z': phase! },
    });
    make.solid(
      'Crank arm',
      { kind: 'box', values: { width: reach, height: pin * 1.6, depth: pin } },
      IRON,
      { 'location.x': reach / 2, 'location.z': -pin * 1.6 },
      arm,
    );
    make.solid(
      'Crank pin',
      { kind: 'cylinder', values: { radius: pin * 0.95, height: pin * 4, sides: 32 } },
      BRASS,
      { 'location.x': reach, 'rotation.x': 90 },
      arm,
    );
    const depth = radius - (distance! - reach) + pin;
    const wheel = make.solid(
      'Slotted wheel',
      plate(slottedOutline(radius, depth, pin, slots!, 180 / slots!), pin * 2),
      BRASS,
      { 'location.x': -distance! },
    );
    return { driver: `${crank}/rotation.z`, wheel: `${wheel}/rotation.z` };
  },
};

/** Kinds of recipes whose parts can be built to the numbers. */
export const BUILT_KINDS: ReadonlySet<string> = new Set(Object.keys(BUILDERS));

/**
 * Makes the parts of a recipe at the origin, with the sizes, places and shapes that its numbers ask for.
 * @throws EditRefused for a kind that builds none
 */
export function buildParts(shot: Shot, kind: string, settings: Settings, random?: () => number): Built {
  const builder = entryOf(BUILDERS, kind);
  if (!builder) throw new EditRefused('This recipe links parts that are there: it builds none.');
  const make = new Maker(shot, random);
  const roles = builder(make, settings);
  return { change: make.change('Build the parts'), ids: make.ids, roles };
}
