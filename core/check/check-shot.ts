import type { Shot } from '../document';
import { compile, type Plan } from '../evaluate';
import { checkFrames } from './check-frames';
import { checkKeys } from './check-keys';
import { checkLinks } from './check-links';
import { checkMechanisms } from './check-mechanisms';
import { checkMotion } from './check-motion';
import { checkScene } from './check-scene';
import { checkSeam } from './check-seam';
import type { CheckOptions, Problem } from './problem';

/** Everything worth telling about a shot before it is rendered; errors first. */
export function checkShot(shot: Shot, plan: Plan = compile(shot), options: CheckOptions = {}): Problem[] {
  const problems = [
    ...checkScene(shot, options),
    ...checkLinks(plan),
    ...checkKeys(shot),
    ...checkFrames(plan),
    ...checkMotion(plan),
    ...checkMechanisms(plan),
    ...(options.loops ? checkSeam(plan) : []),
  ];
  return problems.sort((a, b) => (a.severity === b.severity ? 0 : a.severity === 'error' ? -1 : 1));
}
