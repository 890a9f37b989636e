import { channelAt, ownerName, shapeDefinition, type Shot } from '../document';
import { channelName } from '../edit';
import { MATRIX_SIZE, type Evaluator, type Plan } from '../evaluate';
import { rollAngle } from '../mechanism';
import { buildMesh } from '../shape';
import { shownLength } from './problem';
import { column, cross, dot, length, unit, type Vector } from './vector';
import { tell, type Told, type Watch, type WatchKind } from './watch';

/** Share of the radius by which a wheel that a recipe rolls may slip before it is told. */
const SLIP = 1e-3;
/** The same for a wheel keyed by hand, which nobody gets right to the last hair. */
const SLIP_BY_HAND = 0.01;
/** Share of the radius within which a wheel touches the ground. */
const TOUCH = 0.02;
/** Share by which a wheel may be out of the round and still roll. */
const SQUASHED = 1e-3;
/** Upward share of an axis that still lies level. */
const LEVEL = 0.05;
/** A wheel rolls when it goes and turns at least so far on the ground: shares of its radius, degrees. */
const LEAST_WAY = 0.5;
const LEAST_TURN = 20;

/** Channels of wheels that recipes roll. */
function rolledByRecipe(shot: Shot): ReadonlySet<string> {
  return new Set(
    Object.values(shot.recipes).flatMap(({ kind, driven }) =>
      kind === 'roll' || kind === 'roll-path' ? driven : [],
    ),
  );
}

/** Round solids that could be wheels on the ground and that no recipe rolls. */
function wheels(plan: Plan): string[] {
  const { shot } = plan;
  const rolled = new Set([...rolledByRecipe(shot)].map((address) => address.split('/')[0]!));
  return plan.nodes.filter((id, node) => {
    const { shape } = shot.parts[id]!;
    if (!shape || !shapeDefinition(shot.shapes[shape]!.kind).roundAxis || plan.nodeMoves[node] === 0)
      return false;
    for (let at: string | null = id; at !== null; at = shot.parts[at]!.parent)
      if (rolled.has(at)) return false;
    return plan.nodeWithin[node]! < 0;
  });
}

/**
 * Wheels that slip: the way that they go against the way that they turn. Those that a recipe rolls by their channels;
 * any other round part that goes and turns on level ground by where it stands in the world, through all it hangs from.
 * The ground is the height 0, and the top of level parts that stand still.
 */
export const WATCH_ROLLING: WatchKind = {
  name: 'rolling',
  subjects: (plan) => [
    ...Object.keys(plan.shot.recipes).filter((id) => plan.shot.recipes[id]!.kind === 'roll'),
    ...wheels(plan),
  ],
  rests: (plan, subject) => {
    const recipe = plan.shot.recipes[subject];
    if (recipe) return Object.values(recipe.parts).flat();
    // What a wheel rolls on may be any other part.
    return [subject, ...Object.keys(plan.shot.parts), ...Object.keys(plan.shot.shapes)];
  },
  start: (plan, subjects) => new RollingWatch(plan, subjects),
};

interface Recipe {
  readonly id: string;
  readonly from: number;
  readonly turned: number;
  readonly address: string;
  readonly radius: number;
  readonly sign: number;
  start: { way: number; turn: number } | null;
  worst: { slip: number; frame: number };
}

interface Wheel {
  readonly id: string;
  readonly node: number;
  readonly axis: number;
  /** Slot of its own turn about its axis. */
  readonly turn: number;
  radius: number;
  before: { matrix: Float64Array; turn: number; touches: boolean } | null;
  way: number;
  spin: number;
  slip: number;
  worst: { slip: number; frame: number };
}

class RollingWatch implements Watch {
  private readonly recipes: Recipe[];
  private readonly wheels: Wheel[];
  private grounds: readonly Ground[] | null = null;

  constructor(
    private readonly plan: Plan,
    subjects: readonly string[],
  ) {
    const { shot } = plan;
    this.recipes = subjects.flatMap((id) => (shot.recipes[id] ? (readRecipe(plan, id) ?? []) : []));
    this.wheels = subjects.flatMap((id) => {
      const shape = shot.parts[id]?.shape;
      if (!shape) return [];
      const name = shapeDefinition(shot.shapes[shape]!.kind).roundAxis!;
      return [
        {
          id,
          node: plan.nodeOf.get(id)!,
          axis: 'xyz'.indexOf(name),
          turn: plan.slots.get(`${id}/rotation.${name}`)!,
          radius: NaN,
          before: null,
          way: 0,
          spin: 0,
          slip: 0,
          worst: { slip: 0, frame: shot.setup.first },
        },
      ];
    });
  }

  frame(evaluator: Evaluator, frame: number): void {
    this.grounds ??= this.wheels.length > 0 ? groundsOf(evaluator) : [];
    for (const recipe of this.recipes) {
      const now = { way: evaluator.values[recipe.from]!, turn: evaluator.values[recipe.turned]! };
      recipe.start ??= now;
      const rolled = recipe.sign * rollAngle(now.way - recipe.start.way, recipe.radius);
      const slip = (Math.abs(now.turn - recipe.start.turn - rolled) * Math.PI * recipe.radius) / 180;
      if (slip > recipe.worst.slip) recipe.worst = { slip, frame };
    }
    for (const wheel of this.wheels) this.roll(evaluator, wheel, frame);
  }

  private roll(evaluator: Evaluator, wheel: Wheel, frame: number): void {
    const at = wheel.node * MATRIX_SIZE;
    const m = evaluator.world.slice(at, at + MATRIX_SIZE);
    const axis = unit(column(m, wheel.axis));
    if (wheel.radius !== wheel.radius) wheel.radius = radiusOf(evaluator, wheel.id, wheel.axis);
    const [across, other] = [1, 2].map((i) => length(column(m, (wheel.axis + i) % 3))) as [number, number];
    const radius = wheel.radius * across;
    const bottom = m[7]! - radius;
    const touches =
      radius > 0 &&
      // Squashed it does not roll.
      Math.abs(across - other) < SQUASHED * across &&
      Math.abs(axis[1]) < LEVEL &&
      this.grounds!.some(
        (ground) => Math.abs(bottom - ground.top) < TOUCH * radius && ground.under(m[3]!, m[11]!),
      );
    const turn = evaluator.values[wheel.turn]!;
    const { before } = wheel;
    wheel.before = { matrix: m, turn, touches };
    if (!before || !touches || !before.touches) {
      // What happened in the air does not count against what happens on the ground.
      wheel.slip = 0;
      return;
    }
    const gone: Vector = [m[3]! - before.matrix[3]!, 0, m[11]! - before.matrix[11]!];
    // Along the ground, square to the axis: the way that a turn to the right of it would take.
    const along = unit([-axis[2], 0, axis[0]]);
    const way = dot(gone, along);
    const spin = turnBetween(before.matrix, m, wheel.axis, turn - before.turn);
    wheel.way += Math.abs(way);
    wheel.spin += Math.abs(spin);
    wheel.slip += way - (spin * Math.PI * radius) / 180;
    if (Math.abs(wheel.slip) > Math.abs(wheel.worst.slip)) wheel.worst = { slip: wheel.slip, frame };
  }

  finish(): Told {
    const told: Told = new Map();
    const { shot } = this.plan;
    for (const { id, address, radius, worst } of this.recipes)
      if (worst.slip > SLIP * radius)
        tell(told, id, {
          code: 'roll.slips',
          severity: 'warning',
          address,
          frame: worst.frame,
          amount: worst.slip,
          message: `${channelName(shot, address)} slips: at frame ${worst.frame} it is ${shownLength(shot, worst.slip)} off the way that it has gone.`,
        });
    for (const { id, axis, radius, way, spin, worst } of this.wheels)
      if (way > LEAST_WAY * radius && spin > LEAST_TURN && Math.abs(worst.slip) > SLIP_BY_HAND * radius)
        tell(told, id, {
          code: 'roll.slips',
          severity: 'warning',
          address: `${id}/rotation.${'xyz'[axis]}`,
          frame: worst.frame,
          amount: Math.abs(worst.slip),
          message: `${ownerName(shot, id)} slips on the ground: at frame ${worst.frame} its turn is ${shownLength(shot, Math.abs(worst.slip))} off the way that it has gone. The recipe "Rolling wheel" makes it roll.`,
        });
    return told;
  }
}

function readRecipe(plan: Plan, id: string): Recipe | null {
  const recipe = plan.shot.recipes[id]!;
  const address = (owner: unknown, role: string): string | null => {
    const found = `${String(owner)}/${String(recipe.numbers[`${role} path`])}`;
    return channelAt(plan.shot, found) ? found : null;
  };
  const [from, turned] = [address(recipe.parts.way, 'way'), address(recipe.parts.wheel, 'wheel')];
  const { radius } = recipe.numbers;
  if (from === null || turned === null || typeof radius !== 'number') return null;
  return {
    id,
    from: plan.slots.get(from)!,
    turned: plan.slots.get(turned)!,
    address: turned,
    radius,
    sign: (from.endsWith('z') && turned.endsWith('x') ? -1 : 1) * (recipe.numbers.reverse === true ? -1 : 1),
    start: null,
    worst: { slip: 0, frame: plan.shot.setup.first },
  };
}

/** Something level that a wheel can stand on. */
interface Ground {
  readonly top: number;
  under(x: number, z: number): boolean;
}

/** The height 0, and the tops of level boxes, planes, discs and upright cylinders that stand still. */
function groundsOf(evaluator: Evaluator): Ground[] {
  const { plan } = evaluator;
  const { shot } = plan;
  const grounds: Ground[] = [{ top: 0, under: () => true }];
  plan.nodes.forEach((id, node) => {
    const { shape } = shot.parts[id]!;
    if (!shape || plan.nodeMoves[node] === 1 || plan.nodeWithin[node]! >= 0) return;
    if (!['box', 'plane', 'disc', 'cylinder'].includes(shot.shapes[shape]!.kind)) return;
    const { positions } = buildMesh(shot.shapes[shape]!, (path) => evaluator.number(`${shape}/${path}`));
    const at = node * MATRIX_SIZE;
    const { world } = evaluator;
    const low = [Infinity, Infinity, Infinity];
    const high = [-Infinity, -Infinity, -Infinity];
    for (let i = 0; i < positions.length; i += 3)
      for (let row = 0; row < 3; row++) {
        const o = at + row * 4;
        const value =
          world[o]! * positions[i]! +
          world[o + 1]! * positions[i + 1]! +
          world[o + 2]! * positions[i + 2]! +
          world[o + 3]!;
        low[row] = Math.min(low[row]!, value);
        high[row] = Math.max(high[row]!, value);
      }
    // Level: one of its axes points straight up.
    if (![0, 1, 2].some((i) => Math.abs(unit(column(world.subarray(at, at + MATRIX_SIZE), i))[1]) > 0.9999))
      return;
    grounds.push({
      top: high[1]!,
      under: (x, z) => x >= low[0]! && x <= high[0]! && z >= low[2]! && z <= high[2]!,
    });
  });
  return grounds;
}

/** Farthest that a shape reaches from an axis of its own. */
function radiusOf(evaluator: Evaluator, id: string, axis: number): number {
  const { shot } = evaluator.plan;
  const shape = shot.parts[id]!.shape!;
  const { positions } = buildMesh(shot.shapes[shape]!, (path) => evaluator.number(`${shape}/${path}`));
  let most = 0;
  for (let i = 0; i < positions.length; i += 3) {
    const [a, b] = [positions[i + ((axis + 1) % 3)]!, positions[i + ((axis + 2) % 3)]!];
    most = Math.max(most, a * a + b * b);
  }
  return Math.sqrt(most);
}

/** Degrees by which a part has turned about an axis of its own between two matrices, whole turns by its own channel. */
function turnBetween(before: Float64Array, now: Float64Array, axis: number, own: number): number {
  const about = unit(column(now, axis));
  const from = unit(column(before, (axis + 1) % 3));
  const to = unit(column(now, (axis + 1) % 3));
  const turned = (Math.atan2(dot(cross(from, to), about), dot(from, to)) * 180) / Math.PI;
  return turned + 360 * Math.round((own - turned) / 360);
}
