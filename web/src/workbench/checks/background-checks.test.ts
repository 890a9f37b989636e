import { describe, expect, it } from 'vitest';
import { blankShot, type Shot } from '../../../../core/document';
import { BackgroundChecks, type CheckPort } from './background-checks';
import type { CheckRequest } from './check-worker';
import { keepIdentity } from './keep-identity';

class Port implements CheckPort {
  onmessage: CheckPort['onmessage'] = null;
  onerror: CheckPort['onerror'] = null;
  readonly asked: CheckRequest[] = [];
  ended = false;
  postMessage(request: CheckRequest): void {
    this.asked.push(request);
  }
  terminate(): void {
    this.ended = true;
  }
}

describe('checks beside the page', () => {
  const problem = { code: 'camera.none', severity: 'error', address: 'setup/camera', message: '-' } as const;
  it('ask once for a shot, tell progress and what was found, and pass over answers of older requests', () => {
    const ports: Port[] = [];
    const checks = new BackgroundChecks(() => ports[ports.push(new Port()) - 1]!);
    const seen: unknown[] = [];
    checks.subscribe(() => seen.push(checks.snapshot()));
    const shot = blankShot();
    checks.ask(shot, {});
    checks.ask(shot, {});
    expect(ports[0]!.asked).toHaveLength(1);
    ports[0]!.onmessage!({ data: { id: 1, share: 0.5 } });
    expect(checks.snapshot()).toEqual({ share: 0.5, problems: null, failed: null });
    checks.ask(blankShot(), {});
    ports[0]!.onmessage!({ data: { id: 1, problems: [] } });
    expect(checks.snapshot().share).toBe(0);
    ports[0]!.onmessage!({ data: { id: 2, problems: [problem] } });
    expect(checks.snapshot()).toEqual({ share: null, problems: [problem], failed: null });
    checks.ask(shot, { loops: true });
    expect(ports[0]!.asked.map(({ id }) => id)).toEqual([1, 2, 3]);
    expect(seen.length).toBeGreaterThan(4);
  });
  it('are told how loud the sounds are, once', () => {
    const ports: Port[] = [];
    const checks = new BackgroundChecks(() => ports[ports.push(new Port()) - 1]!);
    const shot = blankShot();
    const tables = {};
    checks.ask(shot, {}, tables);
    checks.ask(shot, {}, tables);
    checks.ask(blankShot(), {}, tables);
    const others = {};
    checks.ask(shot, {}, others);
    expect(ports[0]!.asked.map(({ loudness }) => loudness)).toEqual([tables, undefined, others]);
    expect(ports[0]!.asked[2]!.loudness).toBe(others);
  });
  it('say what failed, keep what was known, and begin again with a fresh worker', () => {
    const ports: Port[] = [];
    const checks = new BackgroundChecks(() => ports[ports.push(new Port()) - 1]!);
    const shot = blankShot();
    checks.ask(shot, {});
    ports[0]!.onmessage!({ data: { id: 1, problems: [problem] } });
    checks.ask(blankShot(), {});
    ports[0]!.onerror!({ message: 'out of memory' });
    expect(ports[0]!.ended).toBe(true);
    expect(checks.snapshot()).toEqual({ share: null, problems: [problem], failed: 'out of memory' });
    checks.ask(shot, {});
    expect(ports).toHaveLength(2);
  });
});

it('a copy of a document shares what is as it was before', () => {
  const part = { kind: 'hub', values: {} } as unknown as Shot['parts'][string];
  const before: Shot = { ...blankShot(), parts: { prt_a: part, prt_b: { ...part, name: 'B' } } };
  const copy = structuredClone({ ...before, parts: { ...before.parts, prt_b: { ...part, name: 'C' } } });
  const kept = keepIdentity(before, copy);
  expect(kept).toEqual(copy);
  expect(kept.setup).toBe(before.setup);
  expect(kept.looks).toBe(before.looks);
  expect(kept.parts).not.toBe(before.parts);
  expect(kept.parts.prt_a).toBe(before.parts.prt_a);
  expect(kept.parts.prt_b).not.toBe(before.parts.prt_b);
  expect(keepIdentity(before, structuredClone(before)).parts).toBe(before.parts);
});
