import { FORMULA_LIMIT, type Shot } from '../document';
import type { Evaluator } from '../evaluate';
import {
  foundOf,
  linkFromText,
  NameTable,
  PINNED_PATHS,
  pinnedPlaces,
  readChain,
  writtenName,
  type Linkage,
} from '../formula';
import { JOINT_SIZE, orderOfSolution, pairOf, type ChainNumbers, type Group } from '../mechanism';
import { Draft, type Change } from './change';
import { EditRefused } from './values';

/** Formulas of one part: x, y and turn. */
type Formulas = readonly [x: string | null, y: string | null, turn: string | null];

/**
 * Writes the linkage of a part as formulas: each bar is found from those before it, as its pins found it, with the numbers of
 * the pins as they are at the evaluated frame; the pins go. Turns come without counted whole turns.
 * @throws EditRefused where a part is not found by pins of two bars, a bar and a line, or one pin, or a formula would be too long
 */
export function pinsAsFormulas(shot: Shot, evaluator: Evaluator, part: string): Change {
  const place = pinnedPlaces(shot).get(part);
  const name = shot.parts[part]?.name ?? part;
  if (!place?.ok) throw new EditRefused(`Nothing pinned moves ${name}.`);
  const { linkage } = place;
  const writer = new Writer(shot, evaluator, linkage);
  const draft = new Draft(shot);
  const names = new NameTable(shot);
  for (const group of orderOfSolution(linkage.chain))
    for (const [body, formulas] of writer.group(group)) {
      const id = linkage.bodies[body]!;
      formulas.forEach((text, k) => {
        if (text === null || !foundOf(shot.parts[id])[k]) return;
        if (text.length > FORMULA_LIMIT)
          throw new EditRefused(
            `The formula of ${shot.parts[id]!.name} would have ${text.length} characters, ${FORMULA_LIMIT} are allowed: give the bars shorter names.`,
          );
        draft.set(['parts', id, 'links', PINNED_PATHS[k]!], linkFromText(names, text));
      });
    }
  for (const pin of linkage.pins) draft.set(['pins', pin], undefined);
  return draft.change(`Write the linkage of ${name} as formulas`);
}

const length = (metres: number): string => `${Number(metres.toPrecision(13))}m`;
const angle = (degrees: number): string => `${Number(degrees.toPrecision(13))}deg`;

/** Terms as one sum; what is nothing is left out. */
function sum(...terms: readonly (string | number | null)[]): string {
  const text = terms
    .flatMap((term) =>
      term === null || term === 0 ? [] : typeof term === 'number' ? [length(term)] : [term],
    )
    .join(' + ')
    .replaceAll('+ -', '- ');
  return text === '' ? '0m' : text;
}

class Writer {
  private readonly numbers: ChainNumbers;

  constructor(
    private readonly shot: Shot,
    private readonly evaluator: Evaluator,
    private readonly linkage: Linkage,
  ) {
    const { joints } = readChain(linkage, (address) => evaluator.number(address)).numbers;
    this.numbers = { poses: linkage.drawn.slice(), joints };
  }

  /** Formulas of the bodies of a group. */
  group(group: Group): [number, Formulas][] {
    const { chain } = this.linkage;
    const pair = pairOf(chain, group);
    const side = pair?.sideOf(this.numbers) ?? 0;
    const kinds = group.joints
      .map((j) => chain.joints[j]!.kind)
      .sort()
      .join();
    const [p = 0, q = 0] = group.bodies;
    if (pair && group.bodies.length === 1) {
      if (kinds === 'pin' && !chain.found[p]![2]) return [[p, this.put(p, group.joints[0]!, null)]];
      const slot = group.joints.find((j) => chain.joints[j]!.kind === 'slot');
      const pin = group.joints.find((j) => chain.joints[j]!.kind === 'pin');
      if (slot !== undefined && pin !== undefined && chain.joints[slot]!.a === p)
        return [[p, this.onSlot(p, pin, slot, side)]];
    }
    if (pair && group.bodies.length === 2) {
      const between = group.joints.find((j) => {
        const { a, b } = chain.joints[j]!;
        return group.bodies.includes(a) && group.bodies.includes(b);
      })!;
      const outerOf = (body: number): number =>
        group.joints.find((j) => j !== between && [chain.joints[j]!.a, chain.joints[j]!.b].includes(body))!;
      if (kinds === 'pin,pin,pin') return this.twoBars(p, q, outerOf(p), between, outerOf(q), side);
      if (kinds === 'pin,pin,slide' && chain.joints[between]!.kind === 'pin') {
        const [bar, block] = chain.joints[outerOf(p)]!.kind === 'slide' ? [q, p] : [p, q];
        if (chain.joints[outerOf(block)]!.a === block)
          return this.barAndSlide(bar, block, outerOf(bar), between, outerOf(block), side);
      }
    }
    const names = group.bodies.map((body) => this.name(body)).join(', ');
    throw new EditRefused(
      `How ${names} ${group.bodies.length === 1 ? 'is' : 'are'} found cannot be written as formulas: only bars by one pin, by two bars that meet, or by a bar and a line can.`,
    );
  }

  private name(body: number): string {
    const id = this.linkage.bodies[body] ?? null;
    return id === null ? 'the ground' : this.shot.parts[id]!.name;
  }

  private own(body: number, path: string): number {
    const id = this.linkage.bodies[body] ?? null;
    return id === null ? 0 : this.evaluator.number(`${id}/${path}`);
  }

  private channel(body: number, path: string): string {
    return `${writtenName(this.name(body))}.${path}`;
  }

  /** Turn of a body that stands, in words of the language. */
  private turn(body: number): string {
    if (body === 0) return '0deg';
    const rest = this.own(body, 'rest.z');
    const turn = this.channel(body, 'rotation.z');
    return rest === 0 ? turn : `(${turn} + ${angle(rest)})`;
  }

  /** The way from a body's turning point to one of its points, turned with it. */
  private way(body: number, px: number, py: number, sign: '' | '-'): [(string | null)[], (string | null)[]] {
    const turn = this.turn(body);
    const other = sign === '' ? '-' : '';
    const term = (value: number, before: string, f: string): string | null =>
      value === 0 ? null : `${before}${length(value)} * ${f}(${turn})`;
    return [
      [term(px, sign, 'cos'), term(py, other, 'sin')],
      [term(px, sign, 'sin'), term(py, sign, 'cos')],
    ];
  }

  /** Where a point of a body that stands lies. */
  private point(body: number, px: number, py: number): [string, string] {
    if (body === 0) return [length(px), length(py)];
    const [x, y] = this.way(body, px, py, '');
    return [
      sum(this.channel(body, 'location.x'), this.own(body, 'pivot.x'), ...x),
      sum(this.channel(body, 'location.y'), this.own(body, 'pivot.y'), ...y),
    ];
  }

  /** The points that a joint names on a body and on the other, as ways from their turning points, and who that is. */
  private seen(joint: number, body: number): { own: [number, number]; other: [number, number]; to: number } {
    const { a, b } = this.linkage.chain.joints[joint]!;
    const o = joint * JOINT_SIZE;
    const first = [this.numbers.joints[o]!, this.numbers.joints[o + 1]!] as [number, number];
    const second = [this.numbers.joints[o + 2]!, this.numbers.joints[o + 3]!] as [number, number];
    return a === body ? { own: first, other: second, to: b } : { own: second, other: first, to: a };
  }

  /** A body put by a pin to what stands, with its turn found already. */
  private put(body: number, pin: number, turn: string | null): Formulas {
    const { own, other, to } = this.seen(pin, body);
    const [x, y] = this.point(to, ...other);
    const [dx, dy] = this.way(body, ...own, '-');
    const less = (path: string): number => -this.own(body, path);
    return [sum(x, less('pivot.x'), ...dx), sum(y, less('pivot.y'), ...dy), turn];
  }

  /** A turn so that the way between two own points points from (fx, fy) to (tx, ty), all of them texts. */
  private turnTo(
    body: number,
    from: [number, number],
    to: [number, number],
    texts: readonly string[],
  ): string {
    const [fx, fy, tx, ty] = texts as [string, string, string, string];
    const lies = (Math.atan2(to[1] - from[1], to[0] - from[0]) * 180) / Math.PI + this.own(body, 'rest.z');
    const turn = `atan2(${ty} - ${fy}, ${tx} - ${fx})`;
    return lies === 0 ? turn : `${turn} - ${angle(lies)}`.replace('- -', '+ ');
  }

  private twoBars(
    p: number,
    q: number,
    ofP: number,
    between: number,
    ofQ: number,
    side: number,
  ): [number, Formulas][] {
    const [first, second, middle] = [this.seen(ofP, p), this.seen(ofQ, q), this.seen(between, p)];
    const [a, b] = [this.point(first.to, ...first.other), this.point(second.to, ...second.other)];
    const reach = (from: [number, number], to: [number, number]): string =>
      length(Math.hypot(to[0] - from[0], to[1] - from[1]));
    const circles = `ax, ay, ${reach(first.own, middle.own)}, bx, by, ${reach(second.own, middle.other)}, ${side}`;
    const names = `let ax = ${a[0]}; let ay = ${a[1]}; let bx = ${b[0]}; let by = ${b[1]}; `;
    const meet = [`meetx(${circles})`, `meety(${circles})`];
    return [
      [p, this.put(p, ofP, names + this.turnTo(p, first.own, middle.own, ['ax', 'ay', ...meet]))],
      [q, this.put(q, ofQ, names + this.turnTo(q, second.own, middle.other, ['bx', 'by', ...meet]))],
    ];
  }

  private line(joint: number): string {
    const { b } = this.linkage.chain.joints[joint]!;
    const own = this.numbers.joints[joint * JOINT_SIZE + 4]!;
    return b === 0 ? angle(own) : own === 0 ? this.turn(b) : `${this.turn(b)} + ${angle(own)}`;
  }

  private onSlot(p: number, pin: number, slot: number, side: number): Formulas {
    const [held, runs] = [this.seen(pin, p), this.seen(slot, p)];
    const [a, b] = [this.point(held.to, ...held.other), this.point(runs.to, ...runs.other)];
    const reach = length(Math.hypot(runs.own[0] - held.own[0], runs.own[1] - held.own[1]));
    const names = `let ax = ${a[0]}; let ay = ${a[1]}; let bx = ${b[0]}; let by = ${b[1]}; `;
    const meet = `ax, ay, ${reach}, bx, by, ${this.line(slot)}, ${side}`;
    return this.put(
      p,
      pin,
      names + this.turnTo(p, held.own, runs.own, ['ax', 'ay', `onlinex(${meet})`, `onliney(${meet})`]),
    );
  }

  private barAndSlide(
    bar: number,
    block: number,
    ofBar: number,
    between: number,
    slide: number,
    side: number,
  ): [number, Formulas][] {
    const [held, middle, runs] = [this.seen(ofBar, bar), this.seen(between, bar), this.seen(slide, block)];
    const a = this.point(held.to, ...held.other);
    const on = this.point(runs.to, ...runs.other);
    const kept = this.numbers.joints[slide * JOINT_SIZE + 5]!;
    const way: [number, number] = [middle.other[0] - runs.own[0], middle.other[1] - runs.own[1]];
    const rest = this.own(block, 'rest.z');
    const turn =
      runs.to === 0
        ? angle(kept)
        : kept === 0
          ? this.turn(runs.to)
          : `${this.turn(runs.to)} + ${angle(kept)}`;
    const [dx, dy] = this.way(block, ...way, '');
    const reach = length(Math.hypot(middle.own[0] - held.own[0], middle.own[1] - held.own[1]));
    const names = `let ax = ${a[0]}; let ay = ${a[1]}; let bx = ${sum(on[0], ...dx)}; let by = ${sum(on[1], ...dy)}; `;
    const meet = `ax, ay, ${reach}, bx, by, ${this.line(slide)}, ${side}`;
    const [x, y] = [`onlinex(${meet})`, `onliney(${meet})`];
    const [ox, oy] = this.way(block, ...middle.other, '-');
    return [
      [bar, this.put(bar, ofBar, names + this.turnTo(bar, held.own, middle.own, ['ax', 'ay', x, y]))],
      [
        block,
        [
          names + sum(x, -this.own(block, 'pivot.x'), ...ox),
          names + sum(y, -this.own(block, 'pivot.y'), ...oy),
          rest === 0 ? turn : `${turn} - ${angle(rest)}`,
        ],
      ],
    ];
  }
}
