import { channelAt, linkOf, ownerName, trackOf, type Recipe, type Shot } from '../document';
import { channelName } from '../edit';
import { MATRIX_SIZE, type Evaluator, type Plan } from '../evaluate';
import { centreDistance, innerCentreDistance } from '../mechanism';
import { shownLength, shownNumber, type Problem } from './problem';
import { column, cross, dot, minus, unit, type Vector } from './vector';
import { tell, type Told, type Watch, type WatchKind } from './watch';

/** Share of the module by which the centres of two gears may be off. */
const OFF = 0.02;
/** Share of a tooth's pitch by which teeth may stand beside their gaps. */
const BESIDE = 0.05;
/** Degrees from frame to frame below which a gear stands. */
const STANDS = 1e-9;
/** Cosine of the angle by which the axes of two gears side by side may lean. */
const PARALLEL = 0.999;

/** Shapes whose teeth are seen. */
const TOOTHED: ReadonlySet<string> = new Set(['gear', 'ring-gear']);

const GEARS: ReadonlySet<string> = new Set(['gear-outer', 'gear-inner', 'train']);

/** Two gears of a recipe: channels that turn them and teeth that they were made for. */
interface Pair {
  readonly recipe: string;
  readonly one: string;
  readonly two: string;
  readonly z1: number;
  readonly z2: number;
  readonly inner: boolean;
}

function pairsOf(shot: Shot, id: string): Pair[] {
  const recipe = shot.recipes[id]!;
  const inner = recipe.kind === 'gear-inner';
  const channel = (part: unknown, role: string): string | null => {
    const address = `${String(part)}/${String(recipe.numbers[`${role} path`] ?? 'rotation.z')}`;
    return channelAt(shot, address) ? address : null;
  };
  const chain =
    recipe.kind === 'train'
      ? trainOf(recipe, channel)
      : [channel(recipe.parts.driver, 'driver'), channel(recipe.parts.driven, 'driven')];
  const teeth =
    recipe.kind === 'train'
      ? (recipe.numbers.teeth as readonly number[])
      : [Number(recipe.numbers.teeth1), Number(recipe.numbers.teeth2)];
  const step = recipe.numbers.compound === true ? 2 : 1;
  const pairs: Pair[] = [];
  for (let i = 0; i + 1 < chain.length; i++) {
    const [one, two, z1, z2] = [chain[i], chain[i + 1], teeth[i * step], teeth[i * step + 1]];
    if (one && two && z1 && z2) pairs.push({ recipe: id, one, two, z1, z2, inner });
  }
  return pairs;
}

function trainOf(
  recipe: Recipe,
  channel: (part: unknown, role: string) => string | null,
): readonly (string | null)[] {
  const driven = [recipe.parts.driven].flat();
  return [
    channel(recipe.parts.driver, 'driver'),
    ...driven.map(
      (part, i) =>
        channel(part, `driven`) &&
        `${part}/${String(recipe.numbers[`driven path ${i + 1}`] ?? recipe.numbers['driven path'] ?? 'rotation.z')}`,
    ),
  ];
}

/**
 * Gears that were made to mesh by a recipe and do not: other teeth, modules or pressure angles, centres too near or too
 * far while they turn, another ratio, tooth on tooth. Seen where they stand in the world, so that scaled groups, rest
 * turns and arms count.
 */
export const WATCH_GEARS: WatchKind = {
  name: 'gears',
  subjects: ({ shot }) => Object.keys(shot.recipes).filter((id) => GEARS.has(shot.recipes[id]!.kind)),
  rests: ({ shot }, id) =>
    Object.values(shot.recipes[id]!.parts)
      .flat()
      .flatMap((part) => [part, shot.parts[part]?.shape ?? part]),
  start: (plan, subjects) => new GearWatch(plan, subjects),
};

interface Meshing extends Pair {
  readonly slots: readonly [number, number];
  readonly nodes: readonly [number, number];
  /** Both have gear shapes, whose teeth can be seen. */
  readonly toothed: boolean;
  before: readonly [number, number];
  start: readonly [number, number];
  turned: boolean;
  /** Shares of a pitch by which teeth stood beside their gaps, at the first frame at which they turned and at the worst. */
  beside: { first: number; worst: number; frame: number } | null;
  ratio: { off: number; frame: number };
  apart: { off: number; found: number; wanted: number; frame: number } | null;
  told: Problem[];
}

class GearWatch implements Watch {
  private readonly pairs: Meshing[];

  constructor(
    private readonly plan: Plan,
    subjects: readonly string[],
  ) {
    const { shot } = plan;
    const geared = (address: string): boolean => {
      const shape = shot.parts[address.split('/')[0]!]?.shape;
      return shape ? TOOTHED.has(shot.shapes[shape]!.kind) : false;
    };
    this.pairs = subjects
      .flatMap((id) => pairsOf(shot, id))
      .map((pair) => ({
        ...pair,
        slots: [plan.slots.get(pair.one)!, plan.slots.get(pair.two)!],
        nodes: [plan.nodeOf.get(pair.one.split('/')[0]!)!, plan.nodeOf.get(pair.two.split('/')[0]!)!],
        toothed: geared(pair.one) && geared(pair.two),
        before: [NaN, NaN],
        start: [NaN, NaN],
        turned: false,
        beside: null,
        ratio: { off: 0, frame: 0 },
        apart: null,
        told: [],
      }));
  }

  frame(evaluator: Evaluator, frame: number): void {
    for (const pair of this.pairs) {
      const now = [evaluator.values[pair.slots[0]]!, evaluator.values[pair.slots[1]]!] as const;
      const first = pair.before[0] !== pair.before[0];
      if (first) {
        pair.start = now;
        if (pair.toothed) pair.told.push(...this.compare(evaluator, pair));
        this.measure(evaluator, pair, frame);
      }
      const turns = Math.abs(now[0] - pair.before[0]) > STANDS || Math.abs(now[1] - pair.before[1]) > STANDS;
      pair.before = now;
      if (!turns) continue;
      // What stands apart while nothing turns may be on its way in or out.
      if (!pair.turned) {
        pair.turned = true;
        pair.beside = null;
        pair.apart = null;
      }
      this.measure(evaluator, pair, frame);
      const sign = pair.inner ? 1 : -1;
      const wanted = (sign * (now[0] - pair.start[0]) * pair.z1) / pair.z2;
      const off = ((now[1] - pair.start[1] - wanted) * pair.z2) / 360;
      if (Math.abs(off) > Math.abs(pair.ratio.off)) pair.ratio = { off, frame };
    }
  }

  finish(): Told {
    const told: Told = new Map();
    for (const pair of this.pairs) for (const problem of this.judge(pair)) tell(told, pair.recipe, problem);
    return told;
  }

  /** Teeth, modules and pressure angles of both. */
  private compare(evaluator: Evaluator, { one, two, z1, z2, inner }: Meshing): Problem[] {
    const { shot } = this.plan;
    const [a, b] = [one, two].map((address) => address.split('/')[0]!) as [string, string];
    const size = (id: string, path: string): number => evaluator.number(`${shot.parts[id]!.shape}/${path}`);
    const scaled = (id: string): number => size(id, 'module') * this.scaleOf(evaluator, id);
    const names = `${ownerName(shot, a)} and ${ownerName(shot, b)}`;
    const problems: Problem[] = [];
    const add = (code: Problem['code'], address: string, message: string): void => {
      problems.push({ code, severity: 'warning', address, message });
    };
    if (Math.abs(scaled(a) - scaled(b)) > 1e-6 * scaled(a))
      add(
        'gear.module',
        b,
        `${names} do not mesh: their modules are ${shownLength(shot, scaled(a))} and ${shownLength(shot, scaled(b))}. Give both the same.`,
      );
    if (!inner && Math.abs(size(a, 'pressure') - size(b, 'pressure')) > 1e-6)
      add(
        'gear.pressure',
        b,
        `${names} do not mesh: their pressure angles are ${shownNumber(size(a, 'pressure'))} and ${shownNumber(size(b, 'pressure'))} degrees. Give both the same.`,
      );
    for (const [id, teeth] of [
      [a, z1],
      [b, z2],
    ] as const)
      if (size(id, 'teeth') !== teeth)
        add(
          'gear.teeth',
          id,
          `${ownerName(shot, id)} has ${size(id, 'teeth')} teeth, the recipe was made for ${teeth}.`,
        );
    return problems;
  }

  private scaleOf(evaluator: Evaluator, id: string): number {
    const at = this.plan.nodeOf.get(id)! * MATRIX_SIZE;
    const { world } = evaluator;
    return Math.sqrt(world[at]! ** 2 + world[at + 4]! ** 2 + world[at + 8]! ** 2);
  }

  /** How far apart the gears stand, and how far their teeth beside each other's gaps. */
  private measure(evaluator: Evaluator, pair: Meshing, frame: number): void {
    const { world } = evaluator;
    const [a, b] = pair.nodes.map((node) => node * MATRIX_SIZE) as [number, number];
    const axisOf = (at: number, i: number): Vector => column(world, i, at);
    const between = minus(axisOf(b, 3), axisOf(a, 3));
    const id = pair.one.split('/')[0]!;
    const { shape } = this.plan.shot.parts[id]!;
    const kind = shape ? this.plan.shot.shapes[shape]?.kind : undefined;
    if (!kind || !TOOTHED.has(kind)) return;
    const module = evaluator.number(`${shape}/module`) * this.scaleOf(evaluator, id);
    const axis = unit(axisOf(a, 2));
    const lift = dot(between, axis);
    const across = minus(between, axis.map((value) => value * lift) as unknown as Vector);
    const found = Math.sqrt(dot(across, across));
    const wanted = pair.inner
      ? innerCentreDistance(module, pair.z1, pair.z2)
      : centreDistance(module, pair.z1, pair.z2);
    const off = found - wanted;
    if (!pair.apart || Math.abs(off) > Math.abs(pair.apart.off)) pair.apart = { off, found, wanted, frame };
    if (!pair.toothed || pair.inner || found === 0) return;
    if (Math.abs(dot(axis, unit(axisOf(b, 2)))) < PARALLEL) return;
    const right = unit(across);
    const up = cross(axis, right);
    // Teeth are centred on the x axis of each gear; angles are measured from the line of the centres.
    const angle = (at: number): number => {
      const x = axisOf(at, 0);
      return (Math.atan2(dot(x, up), dot(x, right)) * 180) / Math.PI;
    };
    const share = (-angle(a) * pair.z1) / 360 + ((180 - angle(b)) * pair.z2) / 360 + 0.5;
    const beside = share - Math.round(share);
    pair.beside ??= { first: beside, worst: beside, frame };
    if (Math.abs(beside) > Math.abs(pair.beside.worst))
      pair.beside = { ...pair.beside, worst: beside, frame };
  }

  private judge(pair: Meshing): Problem[] {
    const { shot } = this.plan;
    const problems = [...pair.told];
    const [a, b] = [pair.one, pair.two].map((address) => address.split('/')[0]!) as [string, string];
    const names = `${ownerName(shot, a)} and ${ownerName(shot, b)}`;
    const module = pair.apart
      ? Math.abs(pair.apart.wanted / ((pair.z1 + (pair.inner ? -1 : 1) * pair.z2) / 2))
      : 0;
    if (pair.apart && Math.abs(pair.apart.off) > OFF * module)
      problems.push({
        code: 'gear.distance',
        severity: 'warning',
        address: b,
        frame: pair.apart.frame,
        amount: pair.apart.off,
        message: `${names} do not mesh: at frame ${pair.apart.frame} their centres are ${shownLength(shot, pair.apart.found)} apart, ${shownLength(shot, pair.apart.wanted)} are needed.`,
      });
    // Without a link, the lost one is what has to be told; other numbers of teeth explain the rest.
    if (problems.length > 0 || !(linkOf(shot, pair.two) ?? trackOf(shot, pair.two))) return problems;
    if (Math.abs(pair.ratio.off) > BESIDE && !this.onArms(pair))
      return [
        {
          code: 'gear.ratio',
          severity: 'warning',
          address: pair.two,
          frame: pair.ratio.frame,
          amount: pair.ratio.off,
          message: `${channelName(shot, pair.two)} does not turn by the ratio of the teeth, ${pair.z1} to ${pair.z2}: at frame ${pair.ratio.frame} it is ${shownNumber(Math.abs(pair.ratio.off))} teeth off.`,
        },
      ];
    if (pair.beside && Math.abs(pair.beside.worst) > BESIDE)
      return [
        {
          code: Math.abs(pair.beside.worst - pair.beside.first) > BESIDE ? 'gear.ratio' : 'gear.phase',
          severity: 'warning',
          address: pair.two,
          frame: pair.beside.frame,
          amount: pair.beside.worst,
          message: `${names}: at frame ${pair.beside.frame} their teeth run into each other, ${shownNumber(Math.abs(pair.beside.worst) * 100)} % of a pitch beside the gaps. Turn ${ownerName(shot, b)} by ${shownNumber((pair.beside.worst * 360) / pair.z2)} degrees.`,
        },
      ];
    return [];
  }

  /** Whether what the gears hang from can turn against each other, so that their channels alone tell no ratio. */
  private onArms({ nodes }: Meshing): boolean {
    const { nodeParent, nodeMoves } = this.plan;
    return (
      nodeParent[nodes[0]] !== nodeParent[nodes[1]] &&
      nodes.some((node) => nodeMoves[nodeParent[node]!] === 1)
    );
  }
}
