import { compileTrack, sampleTrack } from '../curve';
import { channelAt, linkOf, storedValue, trackOf, type Shot } from '../document';
import { addressesRead, checkLink, interpret, NameTable, type Expression } from '../formula';
import { secondsAt } from '../time';
import { localMatrix, multiply, type Affine } from '../transform';
import { constrain, fitOf } from './constrain';

/**
 * The slow and obvious evaluation: every value is worked out from the document when it is asked for, by walking
 * formulas as trees. The fast evaluator must give the same bits; tests compare the two on random documents.
 */
export class Reference {
  private readonly names: NameTable;
  private readonly expressions = new Map<string, Expression | null>();
  private readonly memo = new Map<string, number[]>();

  constructor(
    private readonly shot: Shot,
    private readonly frame: number,
  ) {
    this.names = new NameTable(shot);
  }

  /** Numbers of a channel: one, or three for a colour. */
  value(address: string): number[] {
    const known = this.memo.get(address);
    if (known) return known;
    const channel = channelAt(this.shot, address)!;
    const own = this.own(address);
    const expression = this.expressionOf(address);
    let result = own;
    if (expression && !this.readsItself(address)) {
      const { setup } = this.shot;
      const number = interpret(expression, {
        own: own[0]!,
        clock: (name) => {
          if (name === 'frame') return this.frame;
          if (name === 'time') return secondsAt(this.frame, setup.first, setup.rate);
          return setup.last === setup.first ? 0 : (this.frame - setup.first) / (setup.last - setup.first);
        },
        channel: (other) => this.value(other)[0]!,
      });
      if (Number.isFinite(number))
        result = [constrain(number, fitOf(channel.spec), channel.spec.min, channel.spec.max)];
    }
    this.memo.set(address, result);
    return result;
  }

  private own(address: string): number[] {
    const channel = channelAt(this.shot, address)!;
    const track = trackOf(this.shot, address);
    if (!track) {
      const stored = storedValue(this.shot, channel);
      return typeof stored === 'number' ? [stored] : [...stored];
    }
    const components = channel.spec.kind === 'colour' ? [0, 1, 2] : [0];
    return components.map((i) =>
      constrain(
        sampleTrack(compileTrack(track, i), this.frame),
        fitOf(channel.spec),
        channel.spec.min,
        channel.spec.max,
      ),
    );
  }

  private expressionOf(address: string): Expression | null {
    if (!this.expressions.has(address)) {
      const link = linkOf(this.shot, address);
      const checked = link ? checkLink(this.names, address, link) : null;
      this.expressions.set(address, checked?.ok ? checked.expression : null);
    }
    return this.expressions.get(address) ?? null;
  }

  /** True when following what links read leads from a channel back to itself. */
  private readsItself(address: string): boolean {
    const seen = new Set<string>();
    const waiting = [address];
    for (let current = waiting.pop(); current !== undefined; current = waiting.pop()) {
      const expression = this.expressionOf(current);
      for (const next of expression ? addressesRead(expression) : []) {
        if (next === address) return true;
        if (!seen.has(next)) {
          seen.add(next);
          waiting.push(next);
        }
      }
    }
    return false;
  }

  /** World matrix of a part. */
  world(partId: string): Affine {
    const part = this.shot.parts[partId]!;
    const triple = (name: string): [number, number, number] => [
      this.value(`${partId}/${name}.x`)[0]!,
      this.value(`${partId}/${name}.y`)[0]!,
      this.value(`${partId}/${name}.z`)[0]!,
    ];
    const local = localMatrix({
      location: triple('location'),
      rotation: triple('rotation'),
      scale: triple('scale'),
      pivot: triple('pivot'),
      rest: triple('rest'),
      order: part.rotationOrder,
    });
    return part.parent === null ? local : multiply(this.world(part.parent), local);
  }
}
