import {
  FUNCTIONS,
  checkTyped,
  formulasOf,
  interpret,
  NameTable,
  UNIT_NAMES,
  PLAIN_NAMES,
  type Moment,
} from '../core/formula';
import { hexOfColour } from '../core/math';
import { emptyShot, hub } from '../core/testing/random-shot';

/** What the examples read: frame 25 of a shot at 24 per second, a keyed part A, a part B on a path, half a loud sound. */
const MOMENT: Moment = {
  own: 0,
  clock: (name) => ({ frame: 25, time: 1, progress: 0.5, index: 0, outer: 0 })[name],
  channel: () => 0,
  probe: (kind) => ({ at: 1.5, speed: 2, travel: 3, gone: -1, follow: 1.25, since: 0.75, ratchet: 30 })[kind],
  measure: (kind) =>
    ({
      worldx: 1,
      worldy: 2,
      worldz: 3,
      worldturnx: 10,
      worldturny: 20,
      worldturnz: 30,
      seenx: 5,
      seeny: 6,
      seenz: 7,
      distance: 4,
      pathlength: 12,
    })[kind],
  pinned: () => NaN,
  level: () => 0.5,
};

/** Text of docs/formulas.md, with every example worked out. */
export function formulaHelp(): string {
  const names = new NameTable({
    ...emptyShot(),
    parts: { prt_a: hub('A'), prt_b: hub('B'), prt_c: hub('C'), prt_s: hub('S', { kind: 'backdrop' }) },
    sounds: { snd_o: { name: 'organ', start: 1, values: {}, tracks: {}, links: {} } },
  });
  const result = (example: string): string => {
    for (const [path, unit] of [
      ['scale.x', ''],
      ['rotation.x', ' deg'],
      ['location.x', ' m'],
    ] as const) {
      const checked = checkTyped(names, `prt_c/${path}`, example);
      if (!checked.ok) continue;
      const value = interpret(checked.expression, MOMENT);
      return `${Number(value.toPrecision(9))}${unit}`;
    }
    const checked = checkTyped(names, 'prt_s/colour', example);
    if (checked.ok)
      return hexOfColour(
        formulasOf(checked.expression).map((each) => interpret(each, MOMENT)) as [number, number, number],
      );
    throw new RangeError(`The example ${example} does not run.`);
  };
  const rows = [...FUNCTIONS.values()].map(
    (spec) =>
      `| \`${spec.name}(${spec.params.join(', ')}${spec.variadic ? ', ...' : ''})\` | ${spec.help} | \`${spec.example}\` = ${result(spec.example)} |`,
  );
  return `# Formulas

A formula drives a channel from other values. Type \`=\` and the formula into any field, or into the formula bar. It can
compute and nothing else. This page is written from the function table by
\`npm run formulas\`.

- **Other values**: \`Pinion.rotation.z\`, \`"Crown wheel".location.y\`, \`Lamp.glow\`, \`dial.speed\`. Names with spaces stand in
  quotation marks. A part also reaches the sizes of its shape and the values of its look. References follow renaming.
- **Words**: ${PLAIN_NAMES.map((name) => `\`${name}\``).join(', ')}. \`own\` is the channel's value without the link, \`time\` is in seconds since the
  first frame, \`progress\` runs from 0 to 1 over the range. For copies of a repeat \`index\` is the copy from 0 among \`count\`, and \`outer\` the copy
  of the repeat around it; of several chosen fields \`index\` and \`count\` tell which one it is.
- **Units** stand directly after a number: ${UNIT_NAMES.map((name) => `\`${name}\``).join(', ')} (\`f\` is a frame). A plain number has the unit of its place:
  degrees, the shot's unit of length, seconds.
- **Operators**: \`+ - * / % ^\`, \`< <= > >= == !=\`, \`and or not\`, \`if(test, then, else)\`. \`^\` binds right and before minus:
  \`-2^2\` is -4. \`%\` has the sign of the divisor.
- **Names of its own**: \`let r = hypot(A.location.x, A.location.y); r * 2\` gives a piece of the formula a name; several may stand one after
  another, and each may use those before it.
- **Colours**: the formula of a colour gives a colour: \`#e8a33d\`, \`colour(red, green, blue)\`, \`hsl(hue, saturation, lightness)\`, \`Lamp.colour\`,
  or what is reckoned of such: \`mix(Lamp.colour, #203040, dial.heat)\`, \`if(Piston.location.y > 1m, #d03020, own)\`. Red, green and blue are
  reckoned with each by itself, as shares of light. A number reads one of them: \`Lamp.colour.red\`.
- **Pins**: the link \`pinned\`, alone, takes location x, location y or rotation z of a part from its pins; joining parts writes it.
- **Dimensions** are checked: a length cannot be put where an angle is wanted, and a ratio of two lengths wants \`rad(...)\`,
  \`deg(...)\` or \`turns(...)\`.
- A link in error leaves the channel its own value. So does a formula that meets no finite number at a frame, such as
  \`1 / 0\` or the root of a negative number: no function passes over it, and the page tells which part of the formula it is.
  Only what is chosen counts: the branch of \`if\` that is not taken does not, nor the right side of \`and\` and \`or\` where
  the left one decides.

| function | what it gives | example |
|---|---|---|
${rows.join('\n')}
`;
}
