import { framesPerSecond } from '../time';
import { combine, dimensionOf, ANGLE, LENGTH, PLAIN, TIME, type Dimension } from './dimension';
import { colourFromHex } from '../math';
import { argument, still, word } from './check-argument';
import { fittedArguments, functionNamed, resultDimension } from './check-call';
import { goneOwner, partNamed, soundNamed, unknownName, whichValue } from './check-names';
import { componentAt, givesColour, noNumber, takesColour } from './colour';
import { fault } from './error';
import { COMPONENTS, type Component, type Expression, type MeasureKind, type ProbeKind } from './expression';
import { folded } from './fold';
import { FUNCTIONS, HSL_COMPONENT, type FunctionSpec } from './functions';
import { alike, common, power, TEXT_ITSELF, wanted } from './measures';
import { nearestNames } from './nearest';
import type { Ast, BinaryOp, Local } from './parse';
import { PINNED } from './pinned';
import { CLOCKS, CONSTANTS, PLAIN_NAMES, writtenName, type Scope } from './scope';
import { UNIT_NAMES, unitNamed } from './units';

/**
 * Gives a formula its meaning: resolves names, converts units, checks dimensions, and folds what is constant.
 * @throws FormulaFault at the first thing that is wrong
 */
export function checkFormula(ast: Ast, scope: Scope): Expression {
  if (ast.type === 'name' && ast.name === PINNED && !ast.quoted) return pinned(ast, scope);
  if (!scope.colour) return wanted(new Checker(scope, null).walk(ast), scope.wanted, scope);
  const [red, green, blue] = COMPONENTS.map((component) => {
    const checker = new Checker(scope, component);
    const made = checker.walk(ast);
    if (component === 0 && !checker.madeColour(ast)) throw noColour(ast);
    return wanted(made, scope.wanted, scope);
  }) as [Expression, Expression, Expression];
  const { from, to } = ast;
  return { type: 'colour', components: [red, green, blue], dimension: scope.wanted, from, to };
}

/** The refusal of a number where a colour belongs. */
function noColour({ from, to }: Ast): Error {
  const grey = `colour(${Array(3).fill(TEXT_ITSELF).join(', ')})`;
  return fault(
    'colour',
    from,
    to,
    'This gives a number, and a colour belongs here: write #e8a33d, colour(red, green, blue) or hsl(hue, saturation, lightness), or read the colour of something.',
    [{ label: 'As a grey', from, to, insert: grey }],
  );
}

/** What pins give a channel. */
function pinned({ from, to }: Ast, scope: Scope): Expression {
  const place = scope.pinned;
  if (!place)
    throw fault(
      'syntax',
      from,
      to,
      'Pins give location x, location y and rotation z of parts, and nothing else.',
    );
  if (!place.ok) throw fault('gone', from, to, place.trouble);
  const { linkage, body, component } = place;
  return { type: 'pinned', linkage, body, component, dimension: scope.wanted, from, to };
}

const RESERVED: ReadonlySet<string> = new Set([PINNED, 'let', 'and', 'or', 'not', 'if', 'dial']);
/** Pieces that a formula may have once its own names are written out. */
const PIECES = 20_000;

/** The frame that lies a time before another one. */
function framesBefore(clock: Expression, time: Expression, perSecond: number): Expression {
  const { from, to } = clock;
  const rate: Expression = { type: 'constant', value: perSecond, dimension: PLAIN, from, to };
  const frames = folded({ type: 'binary', op: '*', left: time, right: rate, dimension: PLAIN, from, to });
  return { type: 'binary', op: '-', left: clock, right: frames, dimension: PLAIN, from, to };
}

class Checker {
  /** What the formula's own names stand for, how many pieces that has, and whether it is a colour. */
  private readonly locals = new Map<
    string,
    { readonly is: Expression; readonly pieces: number; readonly colour: boolean }
  >();
  private pieces = 0;

  /** @param component of a colour which component is made; `null` where a number is wanted */
  constructor(
    private readonly scope: Scope,
    private component: Component | null,
  ) {}

  /** Whether a formula that was walked gives a colour. */
  madeColour(ast: Ast): boolean {
    return givesColour(ast, this.scope, (name) => this.locals.get(name)?.colour ?? null);
  }

  /** What must be a number even inside a colour: what is compared, a share, a time. */
  private plain(ast: Ast): Expression {
    const { component } = this;
    this.component = null;
    const made = this.walk(ast);
    this.component = component;
    return made;
  }

  private hex(ast: Ast & { type: 'hex' }): Expression {
    const { from, to, text } = ast;
    if (this.component === null) throw noNumber(ast, text, null);
    return { type: 'constant', value: colourFromHex(text)![this.component], dimension: PLAIN, from, to };
  }

  walk(ast: Ast): Expression {
    this.pieces++;
    switch (ast.type) {
      case 'number':
        return this.number(ast);
      case 'hex':
        return this.hex(ast);
      case 'name':
        return this.name(ast);
      case 'reference':
        return this.reference(ast);
      case 'unary': {
        const { from, to } = ast;
        if (ast.op === 'not')
          return folded({ type: 'not', operand: this.plain(ast.operand), dimension: PLAIN, from, to });
        const operand = this.walk(ast.operand);
        return folded({ type: 'negate', operand, dimension: operand.dimension, from, to });
      }
      case 'binary':
        return this.binary(ast);
      case 'call':
        return this.call(ast);
      case 'let':
        for (const local of ast.locals) this.local(local);
        return this.walk(ast.body);
    }
  }

  /** Takes a name of the formula's own. */
  private local({ name, from, to, value }: Local): void {
    if (PLAIN_NAMES.includes(name) || FUNCTIONS.has(name) || RESERVED.has(name))
      throw fault('syntax', from, to, `"${name}" means something already: choose another name.`);
    if (this.locals.has(name))
      throw fault('syntax', from, to, `There is a "${name}" before this one: choose another name.`);
    const before = this.pieces;
    const colour = this.madeColour(value);
    const is = colour ? this.walk(value) : this.plain(value);
    this.locals.set(name, { is, pieces: this.pieces - before, colour });
  }

  private number(ast: Ast & { type: 'number' }): Expression {
    const { from, to, value } = ast;
    if (ast.unit === undefined) return { type: 'constant', value, dimension: PLAIN, from, to };
    const unit = unitNamed(ast.unit, this.scope.rate);
    if (!unit) {
      const unitFrom = to - ast.unit.length;
      const fixes = nearestNames(ast.unit, UNIT_NAMES).map((name) => ({
        label: name,
        from: unitFrom,
        to,
        insert: name,
      }));
      throw fault(
        'unknown-unit',
        unitFrom,
        to,
        `"${ast.unit}" is no unit. Units are ${UNIT_NAMES.join(', ')}.`,
        fixes,
      );
    }
    return { type: 'constant', value: value * unit.factor, dimension: unit.dimension, from, to };
  }

  private name(ast: Ast & { type: 'name' }): Expression {
    const { from, to, name } = ast;
    const { scope } = this;
    const local = ast.quoted ? undefined : this.locals.get(name);
    if (local) {
      this.pieces += local.pieces;
      if (this.pieces > PIECES)
        throw fault(
          'too-long',
          from,
          to,
          `With its names written out this formula has more than ${PIECES} pieces: take fewer names one after another.`,
        );
      if (local.colour && this.component === null) throw noNumber(ast, name, null);
      return local.is;
    }
    if (ast.quoted) throw whichValue(this.scope, name, from, to) ?? unknownName(this.scope, name, from, to);
    const constant = CONSTANTS.get(name);
    if (constant !== undefined) return { type: 'constant', value: constant, dimension: PLAIN, from, to };
    const clock = CLOCKS.get(name);
    if (clock) return { type: 'clock', clock: name as 'frame', dimension: clock, from, to };
    if (name === PINNED)
      throw fault(
        'syntax',
        from,
        to,
        `"${PINNED}" stands alone: what pins give is not reckoned with in the same link.`,
      );
    if (name === 'own' && scope.colour && this.component === null) throw noNumber(ast, name, null);
    if (name === 'own') return { type: 'own', dimension: scope.wanted, from, to };
    if (name === 'first' || name === 'last')
      return { type: 'constant', value: scope[name], dimension: PLAIN, from, to };
    if (name === 'rate')
      return { type: 'constant', value: framesPerSecond(scope.rate), dimension: PLAIN, from, to };
    if (name === 'index' || name === 'outer' || name === 'count') {
      if (scope.repeat === null && scope.among !== undefined && name !== 'outer')
        return name === 'index'
          ? { type: 'clock', clock: 'index', dimension: PLAIN, from, to }
          : { type: 'constant', value: scope.among, dimension: PLAIN, from, to };
      if (scope.repeat === null)
        throw fault(
          'unknown-name',
          from,
          to,
          `"${name}" is known only in the links of a repeat's copies: copy location, rotation, scale, opacity, glow and colour.`,
        );
      if (name !== 'count') return { type: 'clock', clock: name, dimension: PLAIN, from, to };
      return { type: 'channel', address: `${scope.repeat}/copies`, dimension: PLAIN, from, to };
    }
    const which = whichValue(this.scope, name, from, to);
    if (which) throw which;
    if (FUNCTIONS.has(name))
      throw fault(
        'argument-count',
        from,
        to,
        `${name} is a function: write ${name}(${FUNCTIONS.get(name)!.params.join(', ')}).`,
      );
    throw unknownName(this.scope, name, from, to, [
      ...this.locals.keys(),
      ...PLAIN_NAMES,
      ...FUNCTIONS.keys(),
    ]);
  }

  private reference(ast: Ast & { type: 'reference' }): Expression {
    const { from, to } = ast;
    const { scope } = this;
    let name = ast.name;
    let path = ast.path;
    let nameTo = ast.nameTo;
    let pathFrom = ast.pathFrom;
    if (name === 'dial' && !ast.quoted) {
      const [dial = '', ...rest] = path.split('.');
      name = `dial.${dial}`;
      nameTo = pathFrom + dial.length;
      path = rest.join('.') || 'value';
      pathFrom = nameTo + 1;
    }
    const owner = scope.owner(name, ast.quoted);
    if (owner === 'gone') throw goneOwner(this.scope, name, from, nameTo);
    if (owner === null) throw unknownName(this.scope, name, from, nameTo);
    const whole = scope.channel(owner.id, path);
    const part = whole ? null : componentAt((text) => scope.channel(owner.id, text), path);
    const channel = whole ?? part?.channel;
    if (!channel) {
      const paths = [...scope.paths(owner.id)];
      const near = paths
        .filter((text) => text.startsWith(`${path}.`))
        .concat(nearestNames(path, paths))
        .slice(0, 4);
      const fixes = near.map((text) => ({ label: text, from: Math.min(pathFrom, to), to, insert: text }));
      const hint =
        near.length > 0 ? ` Did you mean ${near.join(' or ')}?` : ` It has ${paths.slice(0, 6).join(', ')}.`;
      throw fault(
        'unknown-channel',
        Math.min(pathFrom, to),
        to,
        `"${name}" has no value "${path}".${hint}`,
        fixes,
      );
    }
    if (whole?.spec.kind === 'colour' && this.component === null)
      throw noNumber(ast, whole.spec.label, `${ast.quoted ? writtenName(name) : name}.${path}`);
    const component = part?.component ?? (whole?.spec.kind === 'colour' ? this.component! : 0);
    const address = `${channel.owner}/${channel.path}`;
    if (address === scope.self)
      throw fault(
        'itself',
        from,
        to,
        'A link cannot read its own channel. The value without the link is called own.',
        [{ label: 'Use own', from, to, insert: 'own' }],
      );
    const dimension = dimensionOf(channel.spec.quantity);
    return { type: 'channel', address, ...(component ? { component } : {}), dimension, from, to };
  }

  private binary(ast: Ast & { type: 'binary' }): Expression {
    const { from, to, op } = ast;
    const compares: readonly BinaryOp[] = ['<', '<=', '>', '>=', '==', '!='];
    const apart = compares.includes(op) || op === 'and' || op === 'or';
    let [left, right] = [ast.left, ast.right].map((side) => (apart ? this.plain(side) : this.walk(side))) as [
      Expression,
      Expression,
    ];
    let dimension: Dimension = PLAIN;
    switch (op) {
      case '*':
        dimension = combine(left.dimension, right.dimension, 1);
        break;
      case '/':
        dimension = combine(left.dimension, right.dimension, -1);
        break;
      case '^':
        dimension = power(left, right);
        break;
      case 'and':
      case 'or':
        break;
      default: {
        [left, right] = alike([left, right], this.scope) as [Expression, Expression];
        dimension = compares.includes(op) ? PLAIN : common([left, right]);
      }
    }
    return folded({ type: 'binary', op, left, right, dimension, from, to });
  }

  private call(ast: Ast & { type: 'call' }): Expression {
    const { from, to, name } = ast;
    if (name === 'if') return this.choice(ast);
    const spec = functionNamed(ast);
    if (spec.special) return this.special(spec, ast);
    const args = fittedArguments(
      spec,
      ast.args.map((arg, i) =>
        spec.rules[i] === 'word'
          ? word(spec, arg)
          : takesColour(spec.rules, i)
            ? this.walk(arg)
            : this.plain(arg),
      ),
      this.scope,
    );
    const least = spec.params.length - (spec.defaults?.length ?? 0);
    const missing = (spec.defaults ?? []).slice(ast.args.length - least);
    for (const value of missing) args.push({ type: 'constant', value, dimension: PLAIN, from: to, to });
    return folded({ type: 'call', spec, args, dimension: resultDimension(spec, args), from, to });
  }

  /** A function that is worked out from the shot: at another frame, from places in the world, from a sound. */
  private special(spec: FunctionSpec, ast: Ast & { type: 'call' }): Expression {
    const { from, to } = ast;
    const [first, second, third] = ast.args;
    if (spec.special === 'colour') return this.colour(spec, ast);
    if (spec.special === 'measure')
      return {
        type: 'measure',
        kind: spec.name as MeasureKind,
        parts: ast.args.map((arg) => partNamed(this.scope, spec, arg)),
        dimension: spec.name.startsWith('worldturn') ? ANGLE : LENGTH,
        from,
        to,
      };
    if (spec.special === 'level') {
      const [low, high] = [second!, third!].map((arg) =>
        argument(spec, this.plain(arg), 'frequency', this.scope),
      ) as [Expression, Expression];
      return { type: 'level', sound: soundNamed(this.scope, first!), low, high, dimension: PLAIN, from, to };
    }
    const asked = this.asked(spec, first!);
    const clock: Expression = { type: 'clock', clock: 'frame', dimension: PLAIN, from, to };
    const probe = (kind: ProbeKind, frame: Expression, dimension = asked.dimension): Expression => ({
      type: 'probe',
      kind,
      address: asked.address,
      ...(asked.component ? { component: asked.component } : {}),
      frame,
      dimension,
      from,
      to,
    });
    switch (spec.name) {
      case 'at':
        return probe('at', argument(spec, this.plain(second!), 'bare', this.scope));
      case 'delay': {
        const time = argument(spec, this.plain(second!), 'time', this.scope);
        return probe('at', framesBefore(clock, time, framesPerSecond(this.scope.rate)));
      }
      case 'speed':
        return probe('speed', clock, combine(asked.dimension, TIME, -1));
      case 'gone':
        return probe('gone', clock);
      case 'since':
        return probe('since', clock, TIME);
      case 'follow': {
        const stiffness = still(spec, argument(spec, this.plain(second!), 'bare', this.scope), false);
        const damping = still(spec, argument(spec, this.plain(third!), 'bare', this.scope), true);
        return {
          ...(probe('follow', clock) as Expression & { type: 'probe' }),
          spring: { stiffness, damping },
        };
      }
      case 'ratchet': {
        const [teeth, pawls] = [second!, third].map((arg) =>
          arg ? still(spec, argument(spec, this.plain(arg), 'bare', this.scope), false) : 1,
        ) as [number, number];
        return {
          ...(probe('ratchet', clock) as Expression & { type: 'probe' }),
          pitch: 360 / (teeth * pawls),
        };
      }
      default:
        return probe('travel', clock);
    }
  }

  /** A colour of numbers: the component that is made. */
  private colour(spec: FunctionSpec, ast: Ast & { type: 'call' }): Expression {
    const { from, to } = ast;
    const { component } = this;
    if (component === null) throw noNumber(ast, `${spec.name}(...)`, null);
    const args = ast.args.map((arg, i) => argument(spec, this.plain(arg), spec.rules[i]!, this.scope));
    if (spec.name === 'colour') return { ...args[component]!, from, to };
    const which: Expression = { type: 'constant', value: component, dimension: PLAIN, from: to, to };
    return folded({ type: 'call', spec: HSL_COMPONENT, args: [...args, which], dimension: PLAIN, from, to });
  }

  private asked(
    spec: FunctionSpec,
    arg: Ast,
  ): { address: string | null; component?: Component; dimension: Dimension } {
    const { from, to } = arg;
    if (arg.type === 'name' && arg.name === 'own' && !arg.quoted) {
      this.name(arg);
      return {
        address: null,
        ...(this.component ? { component: this.component } : {}),
        dimension: this.scope.wanted,
      };
    }
    if (arg.type === 'reference') {
      const channel = this.reference(arg);
      if (channel.type === 'channel') return channel;
    }
    if (arg.type === 'name') this.name(arg);
    throw fault(
      'unknown-channel',
      from,
      to,
      `${spec.name} asks one channel at another moment: write for example ${spec.name}(Pinion.rotation.z${spec.params.length > 1 ? ', ...' : ''}), or own.`,
    );
  }

  private choice(ast: Ast & { type: 'call' }): Expression {
    const { from, to } = ast;
    if (ast.args.length !== 3)
      throw fault(
        'argument-count',
        from,
        to,
        `if(test, then, else) takes 3 values, ${ast.args.length} are given.`,
      );
    const [first, second, third] = ast.args as [Ast, Ast, Ast];
    const test = this.plain(first);
    const [a, b] = [this.walk(second), this.walk(third)];
    const [then, otherwise] = alike([a, b], this.scope) as [Expression, Expression];
    return folded({
      type: 'if',
      test,
      then,
      otherwise,
      dimension: common([then, otherwise]),
      from,
      to,
    });
  }
}
