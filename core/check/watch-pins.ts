import type { Shot } from '../document';
import { channelName, poseOf } from '../edit';
import type { Evaluator, Plan } from '../evaluate';
import { PINNED_PATHS, pinnedPlaces, readChain, type Linkage } from '../formula';
import { drivenRange, drivers, LinkageMotion, orderOfSolution, POSE_SIZE, type Group } from '../mechanism';
import { movingAddresses } from './check-links';
import { shownLength, type Problem } from './problem';
import { tell, type Told, type Watch, type WatchKind } from './watch';

/** Linkages of pinned parts: bars that are loose, pins that fight, drivers that go further than the bars reach. */
export const WATCH_PINS: WatchKind = {
  name: 'pins',
  subjects: ({ shot }) => [...linkagesOf(shot).keys()],
  rests: ({ shot }, id) => {
    const linkage = linkagesOf(shot).get(id)!;
    return [...linkage.bodies.filter((part) => part !== null), ...linkage.pins];
  },
  start: (plan, subjects) => new PinsWatch(plan, subjects),
};

/** Linkages of a shot by the first part that they move. */
function linkagesOf(shot: Shot): ReadonlyMap<string, Linkage> {
  const found = new Map<Linkage, string>();
  for (const [part, place] of pinnedPlaces(shot))
    if (place.ok && !found.has(place.linkage)) found.set(place.linkage, part);
  return new Map([...found].map(([linkage, part]) => [part, linkage]));
}

interface Watched {
  readonly id: string;
  readonly linkage: Linkage;
  readonly groups: readonly Group[];
  /** For each group, frames at which it does not close. */
  readonly lost: { from: number; to: number; worst: number }[];
}

class PinsWatch implements Watch {
  private readonly watched: readonly Watched[];

  constructor(
    private readonly plan: Plan,
    subjects: readonly string[],
  ) {
    const linkages = linkagesOf(plan.shot);
    this.watched = subjects.map((id) => {
      const linkage = linkages.get(id)!;
      const groups = orderOfSolution(linkage.chain);
      return { id, linkage, groups, lost: groups.map(() => ({ from: NaN, to: NaN, worst: 0 })) };
    });
  }

  frame(evaluator: Evaluator, frame: number): void {
    for (const { linkage, groups, lost } of this.watched) {
      const first = groups.findIndex(({ bodies }) => bodies.some((body) => isLost(evaluator, linkage, body)));
      if (first < 0) continue;
      const entry = lost[first]!;
      if (!(entry.from <= frame)) entry.from = frame;
      entry.to = frame;
      if (groups[first]!.sort === 'over')
        entry.worst = Math.max(entry.worst, missOf(evaluator, linkage, first));
    }
  }

  finish(evaluator: Evaluator): Told {
    const told: Told = new Map();
    const moving = movingAddresses(this.plan, true);
    for (const { id, linkage, groups, lost } of this.watched) {
      groups.forEach((group, g) => {
        if (group.sort === 'loose') tell(told, id, this.loose(linkage, group));
        const { from, to, worst } = lost[g]!;
        if (from === from) {
          evaluator.evaluate(from);
          tell(told, id, this.lost(evaluator, linkage, group, from, to, worst));
        }
      });
      const tilted = linkage.bodies.filter(
        (part): part is string => part !== null && isTilted(evaluator, part),
      );
      if (tilted.length > 0)
        tell(told, id, {
          code: 'pin.tilted',
          severity: 'warning',
          address: tilted[0]!,
          frame: evaluator.frame,
          message: `${tilted.map((part) => this.plan.shot.parts[part]!.name).join(', ')} ${tilted.length === 1 ? 'is' : 'are'} turned about x or y: pins hold only what lies flat in the x-y plane of what it hangs from. Put a hub above it and pin the hub.`,
        });
      if (!linkage.inputs.some((address) => address !== null && moving.has(address))) {
        const driver = drivers(linkage.chain)[0];
        const way =
          driver === undefined
            ? 'let one of its parts drive'
            : `key or link ${this.driverName(linkage, driver)}`;
        tell(told, id, {
          code: 'pin.still',
          severity: 'warning',
          address: id,
          message: `Nothing moves the linkage of ${this.names(linkage, moved(linkage))}: ${way}.`,
        });
      }
    }
    return told;
  }

  private names({ bodies }: Linkage, of: readonly number[]): string {
    const names = of.map((body) => this.plan.shot.parts[bodies[body] ?? '']?.name ?? '');
    return names.length > 4
      ? `${names.slice(0, 3).join(', ')} and ${names.length - 3} more`
      : names.join(', ');
  }

  private driverName({ bodies }: Linkage, at: number): string {
    return channelName(
      this.plan.shot,
      `${bodies[Math.floor(at / POSE_SIZE)]}/${PINNED_PATHS[at % POSE_SIZE]}`,
    );
  }

  private loose(linkage: Linkage, group: Group): Problem {
    const ways = group.by === 1 ? 'one way' : `${group.by} ways`;
    return {
      code: 'pin.loose',
      severity: 'warning',
      address: linkage.bodies[group.bodies[0]!]!,
      message: `${this.names(linkage, group.bodies)} can still move in ${ways} after all pins: pin more, or let one of them drive.`,
    };
  }

  private lost(
    evaluator: Evaluator,
    linkage: Linkage,
    group: Group,
    from: number,
    to: number,
    worst: number,
  ): Problem {
    const frames = from === to ? `At frame ${from}` : `From frame ${from}, up to ${to},`;
    const names = this.names(linkage, group.bodies);
    const problem = { severity: 'error' as const, address: linkage.bodies[group.bodies[0]!]!, frame: from };
    if (group.sort === 'over')
      return {
        ...problem,
        code: 'pin.fight',
        amount: worst,
        message: `${frames} the pins of ${names} fight: there ${group.by === 1 ? 'is one condition' : `are ${group.by} conditions`} more than they have ways to move, and they miss by up to ${shownLength(this.plan.shot, worst)}. Take a pin away, or let a part follow.`,
      };
    return {
      ...problem,
      code: 'pin.out-of-reach',
      message: `${frames} the pins of ${names} do not reach one another${this.range(evaluator, linkage)}.`,
    };
  }

  /** How far the driver of a linkage with one of them may go, in words. */
  private range(evaluator: Evaluator, linkage: Linkage): string {
    const ways = drivers(linkage.chain);
    const at = ways[0];
    if (ways.length !== 1 || at === undefined) return '';
    const { numbers } = readChain(linkage, (address) => evaluator.number(address));
    const turns = at % POSE_SIZE === 2;
    const now = numbers.poses[at]!;
    const drawn = linkage.drawn[at]!;
    const reach = Math.max(Math.abs(now - drawn) * 1.01, 1);
    const range = drivenRange(
      linkage.chain,
      linkage.drawn,
      numbers,
      at,
      turns ? [drawn - 360, drawn + 360] : [drawn - reach, drawn + reach],
    );
    if (!range) return '';
    const off =
      now - evaluator.number(`${linkage.bodies[Math.floor(at / POSE_SIZE)]}/${PINNED_PATHS[at % POSE_SIZE]}`);
    const shown = (value: number): string =>
      turns ? `${Math.round((value - off) * 100) / 100}°` : shownLength(this.plan.shot, value - off);
    return `: ${this.driverName(linkage, at)} is ${shown(now)}, they reach from ${shown(range[0])} to ${shown(range[1])}`;
  }
}

const TILTS = ['rotation.x', 'rotation.y', 'rest.x', 'rest.y'] as const;

/** Whether a part does not lie in the plane in which pins hold it. */
function isTilted(evaluator: Evaluator, part: string): boolean {
  return TILTS.some((path) => {
    const turn = evaluator.number(`${part}/${path}`);
    return Math.abs(turn - 360 * Math.round(turn / 360)) > 1e-6;
  });
}

const moved = ({ chain }: Linkage): number[] =>
  chain.found.flatMap((found, body) => (found.some(Boolean) ? [body] : []));

function isLost(evaluator: Evaluator, { bodies }: Linkage, body: number): boolean {
  return PINNED_PATHS.some((path) => evaluator.hasFailed(`${bodies[body]}/${path}`));
}

/** By how much the joints of a group miss at best. */
function missOf(evaluator: Evaluator, linkage: Linkage, group: number): number {
  const { numbers } = readChain(linkage, (address) => evaluator.number(address));
  linkage.bodies.forEach((part, body) => {
    const pose = poseOf(evaluator, part);
    linkage.chain.found[body]!.forEach((found, k) => {
      if (found) numbers.poses[body * POSE_SIZE + k] = pose[k]!;
    });
  });
  return new LinkageMotion(linkage.chain, linkage.drawn).missOf(numbers, group);
}
