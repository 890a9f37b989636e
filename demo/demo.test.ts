import { describe, expect, it } from 'vitest';
import { checkShot } from '../core/check';
import { parseShot } from '../core/document';
import { compile } from '../core/evaluate';
import { DEMO_SHOTS } from './index';

describe.each(DEMO_SHOTS)('demo shot $name', ({ build }) => {
  const shot = build();
  it('is a sound document, the same each time', () => {
    expect(parseShot(JSON.parse(JSON.stringify(shot))).ok).toBe(true);
    expect(build()).toEqual(shot);
  });
  it('has nothing that the checks would tell', () => {
    expect(checkShot(shot).map((problem) => problem.message)).toEqual([]);
    const plan = compile(shot);
    expect(plan.links.length).toBe(plan.order.length);
  });
});
