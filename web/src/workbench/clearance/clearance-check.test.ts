import { PerspectiveCamera } from 'three';
import { describe, expect, it } from 'vitest';
import { blankShot, type Shot } from '../../../../core/document';
import { clearance } from '../../../../core/clearance';
import { addPart, apply } from '../../../../core/edit';
import { compile, Evaluator } from '../../../../core/evaluate';
import { Assets } from '../../../../draw';
import { ClearanceCheck, piecesOf, type StartWorker } from './clearance-check';
import type { ClearanceAnswer, ClearanceOrder } from './clearance-worker';
import { silhouette, trianglesOf } from './silhouettes';

/** A block that slides a metre in ten frames, and a wall from 3 m on. */
function yard(): Shot {
  let shot: Shot = blankShot({ first: 0, last: 40 });
  for (const [name, x] of [
    ['Block', 0],
    ['Wall', 4],
  ] as const) {
    const { change, id } = addPart(shot, {
      kind: 'solid',
      name,
      shape: { kind: 'box', values: { width: 2, height: 2, depth: 2 } },
      values: { 'location.x': x },
    });
    shot = apply(shot, change);
    if (name === 'Block')
      shot = {
        ...shot,
        parts: {
          [id]: { ...shot.parts[id]!, links: { 'location.x': { formula: 'frame / 10', refs: {} } } },
        },
      };
  }
  return shot;
}

/** Workers that answer when they are told to, in the order in which they were started. */
function hands() {
  const orders: ClearanceOrder[] = [];
  const answers: ((answer: ClearanceAnswer) => void)[] = [];
  let ended = 0;
  const start: StartWorker = () => {
    const worker: ReturnType<StartWorker> = {
      onmessage: null,
      onerror: null,
      postMessage: (order: ClearanceOrder) => void orders.push(order),
      terminate: () => void ended++,
    };
    answers.push((answer) => worker.onmessage?.({ data: answer } as MessageEvent<ClearanceAnswer>));
    return worker;
  };
  return { start, orders, answers, ended: () => ended };
}

describe('the clearance check of a shot', () => {
  const plan = compile(yard());
  const asked = { from: 0, to: 40, parts: null, watched: [] };
  const none = { meshes: {}, missing: 0 };

  it('looks at both halves side by side and puts them together', () => {
    const { start, orders, answers, ended } = hands();
    const check = new ClearanceCheck(start, 2);
    check.look(plan, asked, none);
    expect(orders.map(({ asked: { from, to } }) => [from, to])).toEqual([
      [0, 20],
      [20, 40],
    ]);
    const halves = orders.map((order) => clearance(plan, order.asked));
    answers[1]!({ share: 0.5, findings: halves[1]!.findings });
    expect(check.now).toMatchObject({ share: 0.25, found: null });
    expect(check.now.findings).toHaveLength(1);
    answers[1]!({ found: halves[1]! });
    answers[0]!({ found: halves[0]! });
    expect(check.now.share).toBeNull();
    expect(check.now.findings).toEqual(clearance(plan, asked).findings);
    expect(check.now.findings[0]).toMatchObject({ from: 20, to: 40, after: true });
    expect(ended()).toBe(2);
  });

  it('looks at as many pieces as there are cores, and finds the same', () => {
    expect(piecesOf(0, 40, 4)).toEqual([
      { from: 0, to: 10 },
      { from: 10, to: 20 },
      { from: 20, to: 30 },
      { from: 30, to: 40 },
    ]);
    expect(piecesOf(3, 9, 4)).toEqual([{ from: 3, to: 9 }]);
    expect(piecesOf(7, 7, 4)).toEqual([{ from: 7, to: 7 }]);
    expect(piecesOf(0, 1000, 64)).toHaveLength(8);
    const { start, orders, answers } = hands();
    const check = new ClearanceCheck(start, 4);
    check.look(plan, asked, none);
    expect(orders).toHaveLength(4);
    for (const i of [2, 0, 3, 1]) answers[i]!({ found: clearance(plan, orders[i]!.asked) });
    const [whole] = clearance(plan, asked).findings;
    expect(check.now.findings).toHaveLength(1);
    expect(check.now.findings[0]).toMatchObject({
      from: whole!.from,
      to: whole!.to,
      after: true,
      before: false,
    });
    expect(check.now.findings[0]!.depth).toBeCloseTo(whole!.depth!, 4);
  });

  it('keeps what was found when it is broken off, tells what failed, and forgets parts that are gone', () => {
    const { start, orders, answers, ended } = hands();
    const check = new ClearanceCheck(start, 2);
    check.look(plan, { ...asked, from: 30 }, none);
    expect(orders).toHaveLength(1);
    const { findings } = clearance(plan, orders[0]!.asked);
    answers[0]!({ share: 0.5, findings });
    check.cancel();
    expect(check.now).toMatchObject({ share: null, found: null, findings });
    expect(ended()).toBe(1);
    check.show(findings[0]!);
    check.keepTo({ ...plan.shot, parts: {} });
    expect(check.now).toMatchObject({ shown: null, findings: [] });
    check.look(plan, asked, none);
    answers[2]!({ failed: 'no room' });
    expect(check.now).toMatchObject({ share: null, failed: 'no room' });
    expect(ended()).toBe(3);
  });
});

it('a silhouette reaches as far as the picture of its body', () => {
  const shot = yard();
  const evaluator = new Evaluator(compile(shot));
  evaluator.evaluate(0);
  const wall = Object.keys(shot.parts).find((id) => shot.parts[id]!.name === 'Wall')!;
  const camera = new PerspectiveCamera(90, 1, 0.1, 100);
  camera.position.set(4, 0, 3);
  camera.updateMatrixWorld();
  const assets = new Assets(() => Promise.reject(new Error('no files here')));
  const path = silhouette(
    trianglesOf(shot, evaluator, wall, assets)!,
    evaluator,
    { part: wall, copy: null },
    camera,
    { width: 200, height: 200 },
  );
  const points = [...path.matchAll(/(-?[\d.]+),(-?[\d.]+)/g)].map(([, x, y]) => [Number(x), Number(y)]);
  // Its front is 2 m away and 2 m wide: half of what 90 degrees see there.
  for (const k of [0, 1]) {
    expect(Math.min(...points.map((point) => point[k]!))).toBeCloseTo(50, 0);
    expect(Math.max(...points.map((point) => point[k]!))).toBeCloseTo(150, 0);
  }
});
