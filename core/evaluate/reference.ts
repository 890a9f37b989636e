import { compileTrack, sampleTrack } from '../curve';
import {
  channelAt,
  childrenOf,
  COPY_CHANNELS,
  linkOf,
  splitAddress,
  storedValue,
  trackOf,
  type Shot,
} from '../document';
import {
  addressesRead,
  checkLink,
  interpret,
  NameTable,
  partsMeasured,
  readChain,
  valueOfPose,
  type Component,
  type Expression,
  type Linkage,
  type Spring,
} from '../formula';
import { linearFromOklabAt } from '../math';
import { LinkageMotion, ratchetStep, springStep } from '../mechanism';
import { secondsAt } from '../time';
import {
  aimRotation,
  aimRotationUnder,
  composeLocal,
  coordinateIn,
  decompose,
  identity,
  localMatrix,
  multiply,
  PathMeasure,
  rotationFromEuler,
  transformPoint,
  turnAboutPivot,
  type Affine,
} from '../transform';
import { constrain, fitOf } from './constrain';
import { levelAt, type LoudnessTables } from './loudness';
import { shareOf, showingsOf, showingValue } from './showing';

const ORIGIN = [0, 0, 0] as const;

/** What references of one shot at different frames share. */
interface Shared {
  readonly names: NameTable;
  readonly expressions: Map<string, Expression | null>;
  readonly loops: Map<string, boolean>;
  readonly frames: Map<number, Reference>;
}

/**
 * The slow and obvious evaluation: every value is worked out from the document when it is asked for, by walking
 * formulas as trees. The fast evaluator must give the same bits; tests compare the two on random documents.
 */
export class Reference {
  private readonly memo = new Map<string, number[]>();
  private readonly chains = new Map<Linkage, (body: number, component: number) => number>();

  constructor(
    private readonly shot: Shot,
    private readonly frame: number,
    private readonly loudness: LoudnessTables = {},
    private readonly shared: Shared = {
      names: new NameTable(shot),
      expressions: new Map(),
      loops: new Map(),
      frames: new Map(),
    },
  ) {}

  private then(frame: number): Reference {
    let found = this.shared.frames.get(frame);
    if (!found) {
      found = new Reference(this.shot, frame, this.loudness, this.shared);
      this.shared.frames.set(frame, found);
    }
    return found;
  }

  /**
   * Numbers of a channel: one, or three for a colour.
   * @param index copy for which a per-copy channel is asked @param outer copy of the repeat around it
   */
  value(address: string, index = 0, outer = 0): number[] {
    const key = `${address}#${index}#${outer}`;
    const known = this.memo.get(key);
    if (known) return known;
    const channel = channelAt(this.shot, address)!;
    const own = this.own(address);
    const expression = this.expressionOf(address);
    let result = own;
    if (expression && !this.readsItself(`c:${address}`)) {
      const { spec } = channel;
      const numbers =
        expression.type === 'colour'
          ? expression.components.map((each, i) => this.compute(address, each, own[i]!, index, outer))
          : [this.compute(address, expression, own[0]!, index, outer)];
      if (numbers.every(Number.isFinite))
        result = numbers.map((number) => constrain(number, fitOf(spec), spec.min, spec.max));
    }
    this.memo.set(key, result);
    return result;
  }

  private compute(
    address: string,
    expression: Expression,
    own: number,
    index: number,
    outer: number,
  ): number {
    const { setup } = this.shot;
    const { owner } = splitAddress(address);
    return interpret(expression, {
      own,
      clock: (name) => {
        if (name === 'frame') return this.frame;
        if (name === 'index') return index;
        if (name === 'outer') return outer;
        if (name === 'time') return secondsAt(this.frame, setup.first, setup.rate);
        return setup.last === setup.first ? 0 : (this.frame - setup.first) / (setup.last - setup.first);
      },
      // Channels worked out per copy are those of the same copy.
      channel: (other, part) => this.ofCopy(owner, other, part, index, outer),
      probe: (kind, other, frame, { spring, pitch, component = 0 }) => {
        if (!Number.isFinite(frame)) return NaN;
        const at = (when: number): number =>
          (other === null ? this.then(when).own(address) : this.then(when).value(other))[component]!;
        if (kind === 'at') return at(frame);
        if (kind === 'speed')
          return ((at(frame + 1 / 64) - at(frame - 1 / 64)) / (2 / 64)) * (setup.rate.num / setup.rate.den);
        if (kind === 'gone' || kind === 'follow' || kind === 'since' || kind === 'ratchet')
          return this.runs(kind, at, frame, spring, pitch);
        if (!(frame > setup.first)) return 0;
        const whole = Math.floor(frame - setup.first);
        let sum = 0;
        for (let k = 0; k < whole; k++) sum += Math.abs(at(setup.first + k + 1) - at(setup.first + k));
        return sum + Math.abs(at(frame) - at(setup.first + whole));
      },
      measure: (kind, parts) => {
        const axis = 'xyz'.indexOf(kind.at(-1)!);
        if (kind.startsWith('worldturn')) {
          const { rotationOrder } = this.shot.parts[parts[0]!]!;
          return decompose(this.world(parts[0]!), ORIGIN, ORIGIN, rotationOrder)?.rotation[axis] ?? NaN;
        }
        if (kind.startsWith('seen')) {
          const [x, y, z] = this.pivot(parts[0]!) as [number, number, number];
          return coordinateIn(this.world(parts[1]!), 0, x, y, z, axis);
        }
        const [a, b] = parts.map((part) => (kind === 'pathlength' ? [0, 0, 0] : this.pivot(part)));
        if (kind === 'worldx') return a![0]!;
        if (kind === 'worldy') return a![1]!;
        if (kind === 'worldz') return a![2]!;
        if (kind === 'pathlength') return this.path(parts[0]!)?.total ?? NaN;
        const [dx, dy, dz] = [0, 1, 2].map((axis) => b![axis]! - a![axis]!) as [number, number, number];
        return Math.sqrt(dx * dx + dy * dy + dz * dz);
      },
      pinned: (linkage, body, component) => this.pinned(linkage, body, component),
      level: (sound, low, high) => {
        const { start = 0, from = 0, length, loop } = this.shot.sounds[sound] ?? {};
        const table = this.loudness[sound];
        let since = secondsAt(this.frame, start, setup.rate);
        const rows = table ? table.power.length / (table.edges.length - 1) : 1;
        const whole = (table?.seconds ?? (rows - 1) / (table?.rate ?? 1)) - from;
        const plays = Math.min(length ?? whole, whole);
        if (loop && plays > 0) while (since >= plays) since -= plays;
        if (since < 0 || (since >= plays && table)) return 0;
        return levelAt(table, since + from, low, high);
      },
    });
  }

  /** What pins give: the whole chain solved for this one frame, with nothing known of any other. */
  private pinned(linkage: Linkage, body: number, component: number): number {
    let solved = this.chains.get(linkage);
    if (!solved) {
      const { inputs, numbers } = readChain(linkage, (address) => this.value(address)[0]!);
      const motion = new LinkageMotion(linkage.chain, linkage.drawn);
      motion.solve(numbers);
      solved = (one, k) => (motion.open[one] === 1 ? NaN : valueOfPose(inputs, numbers, one, k));
      this.chains.set(linkage, solved);
    }
    return solved(body, component);
  }

  /** What is made of all values from the first frame to another, in quarters of a frame. */
  private runs(
    kind: 'gone' | 'follow' | 'since' | 'ratchet',
    at: (frame: number) => number,
    frame: number,
    spring?: Spring,
    pitch?: number,
  ): number {
    const { first, rate } = this.shot.setup;
    const perSecond = rate.num / rate.den;
    if (frame < first)
      return { gone: () => 0, since: () => -1, follow: () => at(frame), ratchet: () => at(frame) }[kind]();
    const moments: number[] = [];
    for (let k = 0; first + k / 4 < frame; k++) moments.push(first + k / 4);
    moments.push(frame);
    const steps = moments.slice(1).map((end, i) => ({
      start: moments[i]!,
      end,
      seconds: (end - moments[i]!) / perSecond,
    }));
    const within = ({ start, end }: { start: number; end: number }): number => at((start + end) / 2);
    if (kind === 'gone') return steps.reduce((sum, step) => sum + within(step) * step.seconds, 0);
    if (kind === 'follow')
      return steps.reduce(
        (state, step) => {
          const before = at(step.start);
          const after = before + 2 * (within(step) - before);
          return springStep(state, before, after, step.seconds, spring!.stiffness, spring!.damping);
        },
        { place: at(first), speed: 0 },
      ).place;
    if (kind === 'ratchet')
      return steps.reduce((state, { end }) => ratchetStep(state, at(end), pitch!), {
        turn: at(first),
        behind: 0,
      }).turn;
    const halve = (low: number, high: number, times: number): number => {
      const middle = (low + high) / 2;
      if (times === 0) return high;
      return at(middle) > 0 ? halve(low, middle, times - 1) : halve(middle, high, times - 1);
    };
    const rises = steps.flatMap(({ start, end }) =>
      at(start) > 0 || !(at(end) > 0) ? [] : [halve(start, end, 4)],
    );
    const last = rises.at(-1) ?? (at(first) > 0 ? first : null);
    return last === null ? -1 : (frame - last) / perSecond;
  }

  /** A channel's value without its link: the topmost clip seen, else keys, else the stored value. */
  own(address: string): number[] {
    const channel = channelAt(this.shot, address)!;
    const { spec } = channel;
    const width = spec.kind === 'colour' ? 3 : 1;
    const fitted = (value: number): number => constrain(value, fitOf(spec), spec.min, spec.max);
    const showings = showingsOf(this.shot, (other) => (other === address ? width : null)).get(address) ?? [];
    const components = width === 3 ? [0, 1, 2] : [0];
    return showings
      .filter(({ from, to }) => this.frame >= from && this.frame < to)
      .reduce((below, showing) => {
        const numbers = components.map((i) => showingValue(showing, i, this.frame));
        const shown = showing.oklab ? colour(numbers) : numbers;
        const share = shareOf(showing, this.frame);
        if (share >= 1) return showing.oklab ? shown : shown.map(fitted);
        return shown.map((value, i) => fitted(below[i]! + (value - below[i]!) * share));
      }, this.bare(address));
  }

  /** A channel's value by its keys, or as it is stored. */
  private bare(address: string): number[] {
    const channel = channelAt(this.shot, address)!;
    const { spec } = channel;
    const fitted = (value: number): number => constrain(value, fitOf(spec), spec.min, spec.max);
    const track = trackOf(this.shot, address);
    if (!track) {
      const stored = storedValue(this.shot, channel);
      return typeof stored === 'number' ? [stored] : [...stored];
    }
    const oklab = spec.kind === 'colour' && track.blend === 'oklab';
    const numbers = (spec.kind === 'colour' ? [0, 1, 2] : [0]).map((i) =>
      sampleTrack(compileTrack(track, i), this.frame),
    );
    return oklab ? colour(numbers) : numbers.map(fitted);
  }

  private expressionOf(address: string): Expression | null {
    const { expressions, names } = this.shared;
    if (!expressions.has(address)) {
      const link = linkOf(this.shot, address);
      const checked = link ? checkLink(names, address, link) : null;
      expressions.set(address, checked?.ok ? checked.expression : null);
    }
    return expressions.get(address) ?? null;
  }

  private points(part: string): string[] {
    const follow = this.shot.parts[part]?.follow;
    return follow && this.shot.parts[follow.path] ? childrenOf(this.shot, follow.path) : [];
  }

  /** What an item (`c:` a linked channel, `p:` the place of a part) depends on. */
  private dependencies(item: string): string[] {
    const id = item.slice(2);
    if (item.startsWith('c:')) {
      const expression = this.expressionOf(id);
      if (!expression) return [];
      const { pivot, place, path } = partsMeasured(expression);
      return [
        ...addressesRead(expression).map((address) => `c:${address}`),
        ...place.map((part) => `p:${part}`),
        ...[...pivot, ...path.flatMap((part) => this.points(part))].flatMap((part) => this.anchor(part)),
      ];
    }
    const part = this.shot.parts[id];
    if (!part) return [];
    const step = part.repeat?.step ?? null;
    const linked = (owner: string | null, places: RegExp): string[] =>
      Object.keys(this.shot.parts[owner ?? '']?.links ?? {}).flatMap((path) =>
        places.test(path) ? [`c:${owner}/${path}`] : [],
      );
    const place = /^(location|rotation|scale|pivot|rest)\.[xyz]$/;
    return [
      ...linked(id, place),
      ...linked(id, /^(visible|along|copies|gap|span|copy\..*)$/),
      ...linked(step, place),
      ...(part.parent === null ? [] : [`p:${part.parent}`]),
      ...[...(part.aim ? [part.aim.target] : []), ...this.points(id)].flatMap((other) => this.anchor(other)),
    ];
  }

  /** What the place of a part's pivot depends on: what it hangs from, its location and pivot. */
  private anchor(id: string): string[] {
    const part = this.shot.parts[id];
    if (!part) return [];
    const names = part.follow ? ['pivot'] : ['location', 'pivot'];
    const hangs = part.follow ? id : part.parent;
    return [
      ...names.flatMap((name) => ['x', 'y', 'z'].map((axis) => `c:${id}/${name}.${axis}`)),
      ...(hangs === null ? [] : [`p:${hangs}`]),
    ];
  }

  /** True when following what items depend on leads from an item back to itself. */
  private readsItself(item: string): boolean {
    const known = this.shared.loops.get(item);
    if (known !== undefined) return known;
    const seen = new Set<string>();
    const waiting = [item];
    let found = false;
    for (let current = waiting.pop(); current !== undefined && !found; current = waiting.pop())
      for (const next of this.dependencies(current)) {
        if (next === item) found = true;
        if (seen.has(next)) continue;
        seen.add(next);
        waiting.push(next);
      }
    this.shared.loops.set(item, found);
    return found;
  }

  private triple(partId: string, name: string, index = 0): [number, number, number] {
    return (['x', 'y', 'z'] as const).map((axis) => this.value(`${partId}/${name}.${axis}`, index)[0]!) as [
      number,
      number,
      number,
    ];
  }

  private local(partId: string): Affine {
    return localMatrix({
      location: this.triple(partId, 'location'),
      rotation: this.triple(partId, 'rotation'),
      scale: this.triple(partId, 'scale'),
      pivot: this.triple(partId, 'pivot'),
      rest: this.triple(partId, 'rest'),
      order: this.shot.parts[partId]!.rotationOrder,
    });
  }

  private pivot(partId: string): number[] {
    const pivot = this.triple(partId, 'pivot');
    const part = this.shot.parts[partId]!;
    if (part.follow && !this.readsItself(`p:${partId}`)) return transformPoint(this.world(partId), ...pivot);
    const place = this.triple(partId, 'location').map((value, i) => pivot[i]! + value) as [
      number,
      number,
      number,
    ];
    return part.parent === null ? place : transformPoint(this.frameBelow(part.parent), ...place);
  }

  private path(partId: string): PathMeasure | null {
    const follow = this.shot.parts[partId]?.follow;
    if (!follow || this.readsItself(`p:${partId}`)) return null;
    const points = this.points(partId).flatMap((point) => this.pivot(point));
    const measure = new PathMeasure();
    measure.measure(Float64Array.from(points), points.length / 3, follow.closed);
    return measure;
  }

  /** World matrix of a part; below a repeat that of its first copy. */
  world(partId: string): Affine {
    const part = this.shot.parts[partId]!;
    const path = this.path(partId);
    let frame: Affine | null = part.parent === null ? null : this.frameBelow(part.parent);
    if (path) {
      const along = new Float64Array(6);
      path.place(this.value(`${partId}/along`)[0]!, along);
      frame = identity();
      const turn = new Float64Array(9);
      if (part.follow!.turn && aimRotation(turn, along[3]!, along[4]!, along[5]!, 'x', 'y'))
        for (let i = 0; i < 9; i++) frame[Math.floor(i / 3) * 4 + (i % 3)] = turn[i]!;
      for (let row = 0; row < 3; row++) frame[row * 4 + 3] = along[row]!;
    }
    const place = this.aims(partId)
      ? this.facing(partId, frame ?? identity(), this.pivot(part.aim!.target))
      : this.local(partId);
    return frame ? multiply(frame, place) : place;
  }

  private aims(partId: string): boolean {
    const { aim } = this.shot.parts[partId]!;
    return aim !== undefined && this.shot.parts[aim.target] !== undefined && !this.readsItself(`p:${partId}`);
  }

  /** Place of a part in its frame, turned about its pivot so that it faces a point of the world. */
  private facing(partId: string, frame: Affine, target: readonly number[]): Affine {
    const { axis, up } = this.shot.parts[partId]!.aim!;
    const local = this.local(partId);
    const location = this.triple(partId, 'location');
    const pivot = this.triple(partId, 'pivot');
    const from = transformPoint(frame, ...(location.map((value, i) => value + pivot[i]!) as typeof pivot));
    const direction = target.map((value, i) => value - from[i]!) as [number, number, number];
    const turn = new Float64Array(9);
    if (aimRotationUnder(turn, frame, 0, ...direction, axis, up)) turnAboutPivot(local, 0, turn, ...pivot);
    return local;
  }

  /** Frame that the children of a part hang from: its world, and for a repeat the place of its first copy. */
  private frameBelow(partId: string): Affine {
    const world = this.world(partId);
    return this.shot.parts[partId]!.kind === 'repeat' ? multiply(world, this.copyPlaces(partId)[0]!) : world;
  }

  /** Number of a channel that the link of a copy of a repeat reads: of per-copy ones, that of the same copy. */
  private ofCopy(repeat: string, address: string, part: Component, index: number, outer: number): number {
    return (address.startsWith(`${repeat}/copy.`) ? this.value(address, index, outer) : this.value(address))[
      part
    ]!;
  }

  /** @param outer copy of the repeat around it */
  private copyPlaces(repeat: string, outer = 0): Affine[] {
    const part = this.shot.parts[repeat]!;
    const count = this.value(`${repeat}/copies`)[0]!;
    const pattern = part.repeat?.pattern ?? 'row';
    const step = part.repeat?.step ?? null;
    let advance = identity();
    if (step !== null && this.shot.parts[step]?.parent === repeat) advance = this.local(step);
    else advance[pattern === 'stack' ? 7 : 3] = this.value(`${repeat}/gap`)[0]!;
    const places: Affine[] = [];
    for (let i = 0; i < count; i++) {
      if (pattern === 'ring') {
        const span = this.value(`${repeat}/span`)[0]!;
        const parts = Math.abs(span) >= 360 || count < 2 ? count : count - 1;
        const turn = rotationFromEuler(new Float64Array(9), 0, (span * i) / parts, 0, 'XYZ');
        const frame = identity();
        for (let k = 0; k < 9; k++) frame[Math.floor(k / 3) * 4 + (k % 3)] = turn[k]!;
        places.push(multiply(frame, advance));
      } else places.push(i === 0 ? identity() : multiply(places[i - 1]!, advance));
    }
    return places.map((place, i) => {
      const numbers = new Float64Array(15);
      COPY_CHANNELS.slice(0, 9).forEach((spec, k) => {
        numbers[k] = this.value(`${repeat}/${spec.path}`, i, outer)[0]!;
      });
      const own = new Float64Array(12);
      composeLocal(own, 0, numbers, 0, 'XYZ');
      return multiply(place, own);
    });
  }

  /** Repeats that a part lies below, the innermost first. */
  private repeatsAbove(partId: string): string[] {
    const out: string[] = [];
    for (let at = this.shot.parts[partId]!.parent; at !== null; at = this.shot.parts[at]!.parent)
      if (this.shot.parts[at]!.kind === 'repeat') out.push(at);
    return out;
  }

  /** World matrix of a part in chosen copies of the repeats above it; the first of those for which none is chosen. */
  private inCopy(partId: string, chosen: ReadonlyMap<string, number>): Affine {
    const [repeat] = this.repeatsAbove(partId);
    if (repeat === undefined) return this.world(partId);
    const chain = [partId];
    while (this.shot.parts[chain.at(-1)!]!.parent !== repeat)
      chain.push(this.shot.parts[chain.at(-1)!]!.parent!);
    if (!chain.some((id) => this.aims(id)))
      return multiply(
        this.frameIn(repeat, chosen),
        chain.reduce((below, id) => multiply(this.local(id), below), identity()),
      );
    const frame = this.frameIn(this.shot.parts[partId]!.parent!, chosen);
    if (!this.aims(partId)) return multiply(frame, this.local(partId));
    const target = this.shot.parts[partId]!.aim!.target;
    return multiply(frame, this.facing(partId, frame, this.pivotIn(target, chosen)));
  }

  private frameIn(partId: string, chosen: ReadonlyMap<string, number>): Affine {
    const world = this.inCopy(partId, chosen);
    if (this.shot.parts[partId]!.kind !== 'repeat') return world;
    const [around] = this.repeatsAbove(partId);
    const outer = around === undefined ? 0 : (chosen.get(around) ?? 0);
    return multiply(world, this.copyPlaces(partId, outer)[chosen.get(partId) ?? 0]!);
  }

  private pivotIn(partId: string, chosen: ReadonlyMap<string, number>): number[] {
    if (!this.repeatsAbove(partId).some((repeat) => chosen.has(repeat))) return this.pivot(partId);
    const pivot = this.triple(partId, 'pivot');
    const place = this.triple(partId, 'location').map((value, i) => value + pivot[i]!) as typeof pivot;
    return transformPoint(this.frameIn(this.shot.parts[partId]!.parent!, chosen), ...place);
  }

  /**
   * World matrices and looks of all copies of a part below a repeat, outer repeats varying slowest. For shots in which
   * nothing in or above the copies, and nothing that they face, follows a path.
   */
  copies(partId: string): { matrix: Affine; look: number[] }[] {
    const repeats = this.repeatsAbove(partId).reverse();
    if (repeats.length === 0) return [];
    let choices: { chosen: Map<string, number>; look: number[] }[] = [
      { chosen: new Map(), look: [1, 0, 1, 1, 1] },
    ];
    for (const repeat of repeats) {
      const count = this.value(`${repeat}/copies`)[0]!;
      choices = choices.flatMap(({ chosen, look }, n) =>
        Array.from({ length: count }, (_, i) => ({
          chosen: new Map([...chosen, [repeat, i]]),
          look: COPY_CHANNELS.slice(9).map((spec, c) => {
            const [around] = this.repeatsAbove(repeat);
            const outer = around === undefined ? 0 : chosen.get(around)!;
            const own = this.value(`${repeat}/${spec.path}`, i, outer)[0]!;
            // The outermost repeat adds to nothing.
            const over = repeat === repeats[0] && n === 0 ? (c === 1 ? 0 : 1) : look[c]!;
            return c === 1 ? own + over : own * over;
          }),
        })),
      );
    }
    return choices.map(({ chosen, look }) => ({ matrix: this.inCopy(partId, chosen), look }));
  }
}

function colour(numbers: readonly number[]): number[] {
  const values = Float64Array.from(numbers);
  linearFromOklabAt(values, 0);
  return [...values];
}
