import { describe, expect, it } from 'vitest';
import type { Problem } from '../../../core/check';
import { blankShot, type Shot } from '../../../core/document';
import type { CheckState } from '../workbench/checks/background-checks';
import { askedPlace, pageOfProblem } from '../workbench/checks/show-problem';
import { ShotsChecks } from './shots-checks';

/** Checks that are told by hand how far they are. */
class ByHand {
  asked: Shot[] = [];
  private state: CheckState = { share: null, problems: null, failed: null };
  private listener = (): void => undefined;
  readonly subscribe = (listener: () => void) => {
    this.listener = listener;
    return () => (this.listener = () => undefined);
  };
  readonly snapshot = (): CheckState => this.state;
  ask(shot: Shot): void {
    this.asked.push(shot);
    this.tell({ share: 0, problems: this.state.problems, failed: null });
  }
  tell(state: CheckState): void {
    this.state = state;
    this.listener();
  }
  close(): void {}
}
const finding = {
  code: 'light.none',
  severity: 'warning',
  address: '',
  message: 'dark',
} as unknown as Problem;
const looked = (id: string, shot = blankShot()) => ({ id, shot, loudness: {} });

describe('the shots of a reel', () => {
  it('are looked through one after the other, and again only where one has changed', () => {
    const checks = new ByHand();
    const shots = new ShotsChecks(checks);
    const [quay, ride] = [looked('quay'), looked('ride')];
    shots.ask([quay, ride]);
    expect(checks.asked).toEqual([quay.shot]);
    checks.tell({ share: 0.4, problems: null, failed: null });
    expect(shots.store.getState().at).toEqual({ id: 'quay', share: 0.4 });
    // What does not concern the one that is being looked at does not begin it anew.
    shots.ask([quay, ride]);
    expect(checks.asked).toHaveLength(1);
    checks.tell({ share: null, problems: [finding], failed: null });
    expect(shots.store.getState()).toMatchObject({
      found: { quay: [finding] },
      at: { id: 'ride', share: 0 },
    });
    checks.tell({ share: null, problems: [], failed: null });
    expect(shots.store.getState()).toMatchObject({ found: { quay: [finding], ride: [] }, at: null });
    shots.ask([quay, ride]);
    expect(checks.asked).toEqual([quay.shot, ride.shot]);
    const changed = looked('ride', blankShot({ last: 12 }));
    shots.ask([quay, changed]);
    expect(checks.asked).toEqual([quay.shot, ride.shot, changed.shot]);
  });

  it('go on after one whose checks broke off, and leave one that is taken out of the reel', () => {
    const checks = new ByHand();
    const shots = new ShotsChecks(checks);
    const all = [looked('quay'), looked('ride'), looked('crab')];
    shots.ask(all);
    checks.tell({ share: null, problems: null, failed: 'no memory' });
    expect(shots.store.getState()).toMatchObject({ failed: { quay: 'no memory' }, at: { id: 'ride' } });
    shots.ask([all[0]!, all[2]!]);
    expect(shots.store.getState().at?.id).toBe('crab');
  });
});

describe('the way to a finding in another page', () => {
  it('names the place and comes back from the address', () => {
    const place = { address: 'prt_a/rotation.z', frame: 37.5 };
    const page = pageOfProblem('ride', place);
    expect(askedPlace(new URL(page, 'http://whirl').search)).toEqual(place);
    expect(askedPlace('')).toBeNull();
    expect(askedPlace('?at=prt_a&frame=x')).toEqual({ address: 'prt_a' });
  });
});
