import { channelAt, COPY_PREFIX, partDefinition, ROUND, type Shot, splitAddress } from '../document';
import { channelName } from '../edit';
import { Evaluator, type Plan } from '../evaluate';
import { movingAddresses } from './check-links';
import { shownNumber, type Problem } from './problem';
import { solidSymmetry } from './symmetry';
import { readsSound } from '../formula';

/** Difference of a value, or of its change per frame, that nobody sees: metres, degrees or the channel's own unit. */
const UNSEEN = 1e-3;
/** Frames between the samples from which a speed is told: one-sided, exact for a curve of second degree. */
const STEP = 1 / 8;

/** Parts by which something is seen: they are in the picture, or something below them is. */
function seenParts(plan: Plan): ReadonlySet<string> {
  const { parts, setup } = plan.shot;
  const seen = new Set<string>();
  for (const [id, { kind }] of Object.entries(parts)) {
    if (!partDefinition(kind).seen || (kind === 'camera' && id !== setup.camera)) continue;
    for (let at: string | null = id; at !== null && !seen.has(at); at = parts[at]?.parent ?? null)
      seen.add(at);
  }
  // What others face or follow moves them, and so does a hub that sets the step of a repeat.
  const add = (id: string | null | undefined): void => {
    for (let at = id ?? null; at !== null && !seen.has(at); at = parts[at]?.parent ?? null) seen.add(at);
  };
  for (let size = -1; size !== seen.size;) {
    size = seen.size;
    for (const id of [...seen]) {
      add(parts[id]!.aim?.target);
      add(parts[id]!.repeat?.step);
      const path = parts[id]!.follow?.path;
      if (path) for (const [point, part] of Object.entries(parts)) if (part.parent === path) add(point);
    }
  }
  return seen;
}

/** Whether a channel shows by itself: what only other formulas read is judged by what they drive. */
function shows(shot: Shot, address: string, parts: ReadonlySet<string>): boolean {
  const { owner } = splitAddress(address);
  if (shot.dials[owner] || shot.sounds[owner]) return false;
  if (shot.parts[owner]) return parts.has(owner);
  return Object.entries(shot.parts).some(
    ([id, part]) => parts.has(id) && (part.shape === owner || part.look === owner),
  );
}

/**
 * The period after which a channel's value looks the same again: whole turns, rounds of a closed path, teeth of a gear or
 * sides of a plain part that turns alone, copies of a ring that stand alike; 0 for what is seen at any value; `null`
 * where every difference counts.
 */
function periodOf(evaluator: Evaluator, address: string): number | null {
  const { plan } = evaluator;
  const { shot } = plan;
  const { owner, path } = splitAddress(address);
  const part = shot.parts[owner];
  if (path === 'along') return part?.follow?.closed ? 1 : null;
  if (channelAt(shot, address)!.spec.quantity !== 'angle') return null;
  const turn = /^rotation\.([xyz])$/.exec(path);
  if (!turn || !part || !partDefinition(part.kind).solid) return ringPeriod(evaluator, owner, path) ?? 360;
  const alone =
    !Object.values(shot.parts).some(({ parent, aim }) => parent === owner || aim?.target === owner) &&
    ['x', 'y', 'z'].every(
      (axis) =>
        axis === turn[1] ||
        (evaluator.number(`${owner}/rotation.${axis}`) === 0 && !(`rotation.${axis}` in part.tracks)),
    ) &&
    ['x', 'y', 'z'].every((axis) => evaluator.number(`${owner}/pivot.${axis}`) === 0);
  if (!alone) return 360;
  const symmetry = solidSymmetry(evaluator, owner, turn[1] as 'x');
  return symmetry === ROUND ? 0 : 360 / symmetry;
}

/** A ring of copies that are all alike looks the same after the angle between two of them. */
function ringPeriod(evaluator: Evaluator, owner: string, path: string): number | null {
  const { plan } = evaluator;
  const { parts } = plan.shot;
  if (path !== 'rotation.y' && path !== 'rotation.x' && path !== 'rotation.z') return null;
  const children = Object.entries(parts).filter(([, { parent }]) => parent === owner);
  const ring = parts[owner]?.kind === 'repeat' ? owner : children.length === 1 ? children[0]![0] : null;
  const part = ring === null ? undefined : parts[ring];
  if (part?.kind !== 'repeat' || part.repeat?.pattern !== 'ring' || path !== 'rotation.y') return null;
  const still = (id: string): boolean =>
    ['location', 'rotation', 'pivot'].every((name) =>
      ['x', 'y', 'z'].every(
        (axis) => (id === owner && name !== 'pivot') || evaluator.number(`${id}/${name}.${axis}`) === 0,
      ),
    );
  if (!still(owner) || !still(ring!)) return null;
  const linked = [...Object.keys(part.links), ...Object.keys(part.tracks)].some((name) =>
    name.startsWith(COPY_PREFIX),
  );
  if (linked || Math.abs(evaluator.number(`${ring}/span`)) < 360) return null;
  return 360 / evaluator.number(`${ring}/copies`);
}

/**
 * The seam of a shot that is shown over and over: after the last frame comes the first, so every moving channel is held
 * against itself one range later, at the frame after the last. What looks the same counts as the same.
 */
export function checkSeam(plan: Plan): Problem[] {
  const problems: Problem[] = [];
  const { first, last } = plan.shot.setup;
  const next = last + 1;
  const parts = seenParts(plan);
  const addresses = [...movingAddresses(plan)].filter(
    (address) => plan.slots.has(address) && shows(plan.shot, address, parts),
  );
  const evaluator = new Evaluator(plan);
  const read = (frame: number): number[][] => {
    evaluator.evaluate(frame);
    return addresses.map((address) =>
      channelAt(plan.shot, address)!.spec.kind === 'colour'
        ? evaluator.colour(address)
        : [evaluator.number(address)],
    );
  };
  const hidden = addresses.map(() => true);
  const mark = (): void => {
    addresses.forEach((address, i) => {
      const node = plan.nodeOf.get(splitAddress(address).owner);
      if (node === undefined || evaluator.shown[node] === 1 || address.endsWith('/visible'))
        hidden[i] = false;
    });
  };
  const start = read(first);
  mark();
  const periods = addresses.map((address) => periodOf(evaluator, address));
  const end = read(next);
  mark();
  const [start1, start2] = [read(first + STEP), read(first + 2 * STEP)];
  const [end1, end2] = [read(next - STEP), read(next - 2 * STEP)];
  addresses.forEach((address, i) => {
    // What is out of sight on both sides of the seam may jump there.
    if (hidden[i] || periods[i] === 0) return;
    const period = periods[i];
    const apart = (a: number, b: number): number =>
      period ? Math.abs(a - b - period * Math.round((a - b) / period)) : Math.abs(a - b);
    const spec = channelAt(plan.shot, address)!.spec;
    // Switches and whole numbers jump where they like, and what follows a sound jumps with its strokes.
    const link = plan.linkOf.get(address)?.expression;
    const jumps = spec.kind === 'switch' || spec.whole === true || (link ? readsSound(link) : false);
    let value = 0;
    let speed = 0;
    start[i]!.forEach((number, c) => {
      value = Math.max(value, apart(end[i]![c]!, number));
      const arriving = (3 * end[i]![c]! - 4 * end1[i]![c]! + end2[i]![c]!) / (2 * STEP);
      const leaving = (4 * start1[i]![c]! - 3 * number - start2[i]![c]!) / (2 * STEP);
      speed = Math.max(speed, jumps ? 0 : Math.abs(arriving - leaving));
    });
    const name = channelName(plan.shot, address);
    if (value > UNSEEN)
      problems.push({
        code: 'loop.value',
        severity: 'warning',
        address,
        frame: last,
        amount: value,
        message: `${name} does not close: at frame ${next}, where the loop begins again, it is ${shownNumber(value)} away from frame ${first}.`,
      });
    else if (speed > UNSEEN)
      problems.push({
        code: 'loop.speed',
        severity: 'warning',
        address,
        frame: last,
        amount: speed,
        message: `${name} closes with a jolt: its speed changes by ${shownNumber(speed)} per frame from frame ${last} to frame ${first}.`,
      });
  });
  return problems;
}
