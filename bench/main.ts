import { Vector3 } from 'three';
import { ExtendedTriangle } from 'three-mesh-bvh';
import { clearance } from '../core/clearance';
import { triangleDistance } from '../core/clearance/triangle-distance';
import { parseShot, type Part, type Shot } from '../core/document';
import { compile, Evaluator } from '../core/evaluate';
import { checkTyped, NameTable } from '../core/formula';
import { fullRide } from '../demo/full-ride';
import { benchShot, LINKS, PARTS } from './bench-shot';
import { seeded } from '../core/testing/seeded';
import { libraryStack } from './library-stack';

/**
 * Speed of the core as ratios: contenders take turns in one run, and medians are compared. Nothing here is a test; the
 * targets stand beside the figures.
 */

const ROUNDS = 15;
const ROUND_MS = 40;

/** Median time in milliseconds of one call of each contender, measured in turns. */
function race(contenders: Record<string, () => void>): Record<string, number> {
  const times: Record<string, number[]> = {};
  for (const [name, run] of Object.entries(contenders)) {
    times[name] = [];
    for (const end = performance.now() + 300; performance.now() < end;) run();
  }
  for (let round = 0; round < ROUNDS; round++)
    for (const [name, run] of Object.entries(contenders)) {
      let calls = 0;
      const start = performance.now();
      do {
        run();
        calls++;
      } while (performance.now() - start < ROUND_MS);
      times[name]!.push((performance.now() - start) / calls);
    }
  return Object.fromEntries(
    Object.entries(times).map(([name, list]) => [
      name,
      list.sort((a, b) => a - b)[Math.floor(list.length / 2)]!,
    ]),
  );
}

function line(what: string, measured: string, target: string, met: boolean): void {
  console.log(`${met ? 'met   ' : 'MISSED'} ${what.padEnd(62)} ${measured.padEnd(30)} target ${target}`);
}

const shot = benchShot();
const plan = compile(shot);
const evaluator = new Evaluator(plan);
const libraries = libraryStack(shot);
console.log(
  `Node.js ${process.version}; ${PARTS} parts, ${plan.slots.size} channels, ${plan.keyed.length} keyed, ${plan.order.length} links in force\n`,
);

let frame = 0;
const sequential = race({
  whirl: () => evaluator.evaluate((frame = (frame % 80) + 1)),
  libraries: () => void libraries.frame((frame = (frame % 80) + 1)),
});
line(
  'whole frame, frames in order, against libraries',
  `${(sequential.libraries! / sequential.whirl!).toFixed(1)}x (${sequential.whirl!.toFixed(3)} ms)`,
  'at least 14x',
  sequential.libraries! / sequential.whirl! >= 14,
);

const random = seeded(7);
const scattered = race({
  whirl: () => evaluator.evaluate(random() * 80),
  libraries: () => void libraries.frame(random() * 80),
});
line(
  'whole frame, random frames, against libraries',
  `${(scattered.libraries! / scattered.whirl!).toFixed(1)}x (${scattered.whirl!.toFixed(3)} ms)`,
  'at least 12x',
  scattered.libraries! / scattered.whirl! >= 12,
);

const stills = {
  ...shot,
  parts: Object.fromEntries(Object.entries(shot.parts).map(([id, part]) => [id, { ...part, tracks: {} }])),
};
const formulasOnly = new Evaluator(compile(stills));
formulasOnly.evaluate(1);
const formulas = race({
  links: () => formulasOnly.runLinks(0, formulasOnly.plan.order.length),
  mathjs: () => libraries.formulas(),
});
const perFormula = formulas.links! / LINKS;
line(
  'one formula, against mathjs compiled (the same 600)',
  `${(formulas.mathjs! / formulas.links!).toFixed(1)}x (${(perFormula * 1e6).toFixed(0)} ns)`,
  'at least 25x',
  formulas.mathjs! / formulas.links! >= 25,
);

// Edits of one value, each to a new number, at a frame that is shown: what depends on the value is worked out anew.
const editable = new Evaluator(compile(shot));
editable.evaluate(20);
// The documents are made beforehand: copying the path to a changed value is the same work whatever evaluates it.
const documents: { next: Shot; path: string[] }[] = [];
for (let n = 0, current = shot; n < 256; n++) {
  const id = `prt_${500 + ((n * 7) % 400)}`;
  const part = current.parts[id]!;
  const path = ['parts', id, 'values', 'location.z'];
  current = {
    ...current,
    parts: { ...current.parts, [id]: { ...part, values: { ...part.values, 'location.z': (n % 89) / 7 } } },
  };
  documents.push({ next: current, path });
}
let edits = 0;
const edited = race({
  edit: () => {
    const { next, path } = documents[edits++ % documents.length]!;
    if (!editable.update(next, [path])) throw new Error('The edit asked for a new plan.');
  },
  full: () => editable.evaluate(20),
});
line(
  'one edited value to new values, against a full pass',
  `${(edited.full! / edited.edit!).toFixed(0)}x (${(edited.edit! * 1000).toFixed(1)} us)`,
  'at least 10x',
  edited.full! / edited.edit! >= 10,
);

const names = new NameTable(shot);
const typing = race({
  check: () =>
    void checkTyped(
      names,
      'prt_900/scale.x',
      'P1.scale.x * 2 + slider(P2.rotation.z, 0.2m, 0.9m) / 1m + sin(time * 90deg / 1s)',
    ),
});
line(
  'typing: parse, check and resolve one formula',
  `${(typing.check! * 1000).toFixed(0)} us`,
  'under 2 ms',
  typing.check! < 2,
);

// Edits that ask for a new plan, each made from the one before, to new values of a shown frame. Copying the record of
// parts is in the time, as it is in the page.
const one = shot.parts.prt_5!;
let current = plan;
const renewed = (next: Shot): void => {
  current = compile(next, {}, current);
  new Evaluator(current).evaluate(20);
};
const withPart = (id: string, part: Part): Shot => ({ ...shot, parts: { ...shot.parts, [id]: part } });
let edit = 0;
const structural = race({
  link: () =>
    renewed(
      withPart('prt_5', {
        ...one,
        links: { 'scale.x': { formula: `1 + ${edit++} * P4.scale.x`, refs: { P4: 'prt_4' } } },
      }),
    ),
  rename: () => renewed(withPart('prt_5', { ...one, name: `Renamed ${edit++}` })),
  // One part is there in one document and not in the next: it is added and removed in turn.
  addAndRemove: () => {
    renewed(withPart('prt_more', { ...one, name: 'More', parent: 'prt_7', links: {} }));
    renewed(shot);
  },
});
// In a race of its own: what it leaves behind would be cleared in the time of the others.
const ground = race({
  fresh: () => new Evaluator(compile(withPart('prt_5', { ...one, links: {} }))).evaluate(20),
});
const ms = (value: number): string => `${value.toFixed(1)} ms`;
const anew = ground.fresh!;
const against = (value: number): string =>
  `${ms(value)}, ${(anew / value).toFixed(1)}x a plan from the ground`;
line('a link edited to new values', against(structural.link!), 'under 5 ms', structural.link! < 5);
line('a part renamed', against(structural.rename!), 'under 8 ms', structural.rename! < 8);
line(
  'a part added or removed',
  against(structural.addAndRemove! / 2),
  'under 8 ms',
  structural.addAndRemove! / 2 < 8,
);

const text = JSON.stringify(shot);
const opening = race({
  open: () => {
    const parsed = parseShot(JSON.parse(text));
    if (!parsed.ok) throw new Error('The bench document is unsound.');
    new Evaluator(compile(parsed.shot)).evaluate(1);
  },
  json: () => void JSON.parse(text),
});
line(
  `opening a shot with ${plan.keyed.length * 7} keys: text to first values`,
  `${opening.open!.toFixed(0)} ms, ${opening.json!.toFixed(0)} of it JSON.parse`,
  'under 120 ms',
  opening.open! < 120,
);

const corners = Array.from({ length: 2000 }, (_, i) =>
  Float64Array.from(
    { length: 9 },
    (_, k) => Math.sin(i * 7.31 + k * 2.17) + (k % 3 === 0 ? (i % 5) * 0.6 : 0),
  ),
);
const triangles = corners.map((at) => {
  const [a, b, c] = [0, 3, 6].map((k) => new Vector3(at[k], at[k + 1], at[k + 2]));
  return new ExtendedTriangle(a, b, c);
});
const places = new Float64Array(6);
const distances = race({
  own: () => {
    for (let i = 0; i + 1 < corners.length; i++) triangleDistance(corners[i]!, corners[i + 1]!, places);
  },
  library: () => {
    for (let i = 0; i + 1 < triangles.length; i++) triangles[i]!.distanceToTriangle(triangles[i + 1]!);
  },
});
line(
  'distance of two triangles, against a library of trees of triangles',
  `${(distances.library! / distances.own!).toFixed(1)} times as fast`,
  'at least 3',
  distances.library! / distances.own! >= 3,
);
const ride = fullRide();
const begun = performance.now();
const from = ride.setup.first + 96;
clearance(compile(ride), { from, to: from + 24, parts: null, watched: [], pieces: 8 });
const took = (performance.now() - begun) / 1000;
line(
  'clearance of the ride, one of eight pieces side by side',
  `${took.toFixed(1)} s`,
  'under 20 s',
  took < 20,
);

const gc = (globalThis as { gc?: () => void }).gc;
if (gc) {
  const frames = 2000;
  for (let i = 0; i < 200; i++) evaluator.evaluate((i % 80) + 1);
  gc();
  const before = process.memoryUsage().heapUsed;
  for (let i = 0; i < frames; i++) evaluator.evaluate((i % 80) + 1);
  const bytes = Math.max(0, (process.memoryUsage().heapUsed - before) / frames);
  line('memory allocated per evaluated frame', `${bytes.toFixed(0)} bytes`, 'none', bytes < 64);
}
