import type { Shot } from '../document';
import { compile, Evaluator, type LoudnessTables, type Plan } from '../evaluate';
import { affectedOwners } from './affected';
import { checkBudget } from './check-budget';
import { checkKeys } from './check-keys';
import { checkLinks } from './check-links';
import { checkScene } from './check-scene';
import { checkSeam } from './check-seam';
import type { CheckOptions, Problem } from './problem';
import type { WatchKind } from './watch';
import { WATCH_COPIES } from './watch-copies';
import { WATCH_GEARS } from './watch-gears';
import { WATCH_GIMBAL } from './watch-gimbal';
import { WATCH_LIGHT } from './watch-light';
import { WATCH_LOST_LINKS } from './watch-lost-links';
import { WATCH_NUMBERS } from './watch-numbers';
import { WATCH_PICTURE } from './watch-picture';
import { WATCH_PINS } from './watch-pins';
import { WATCH_ROLLING } from './watch-rolling';
import { WATCH_JOINTS } from './watch-joints';
import { WATCH_TURNING } from './watch-turning';

const KINDS: readonly WatchKind[] = [
  WATCH_LIGHT,
  WATCH_NUMBERS,
  WATCH_PICTURE,
  WATCH_TURNING,
  WATCH_GIMBAL,
  WATCH_JOINTS,
  WATCH_COPIES,
  WATCH_LOST_LINKS,
  WATCH_GEARS,
  WATCH_ROLLING,
  WATCH_PINS,
];

/** What was told of a subject, and the owners that it rested on. */
interface Judged {
  readonly problems: readonly Problem[];
  readonly rests: readonly string[];
}

/**
 * Looks a shot through, every frame of its range, and remembers what it found: after an edit only what the edit has a
 * bearing on is looked at again.
 */
export class Checker {
  private shot: Shot | null = null;
  private loudness: LoudnessTables | null = null;
  private readonly known = KINDS.map(() => new Map<string, Judged>());
  private seam: { readonly shot: Shot; readonly problems: readonly Problem[] } | null = null;
  /** Frames that were worked out by the last run, for tests and curiosity. */
  frames = 0;

  /**
   * One run, as a row of steps: each yields the share of the work that is done (0 to 1), so that the caller can show
   * progress, give way, or stop. A run that is stopped leaves what was known before.
   * @param plan of the shot, where the caller has one
   */
  *run(
    shot: Shot,
    options: CheckOptions = {},
    plan: Plan = compile(shot),
    loudness: LoudnessTables = plan.loudness,
  ): Generator<number, Problem[]> {
    this.frames = 0;
    const tooMuch = checkBudget(plan);
    // Looking at its frames would be what is warned of.
    if (tooMuch.length > 0) return [...tooMuch, ...checkScene(shot, options), ...checkLinks(plan)];
    const affected =
      this.shot && this.loudness && sameTables(this.loudness, loudness)
        ? affectedOwners(this.shot, shot)
        : null;
    const sameRecipes = this.shot?.recipes === shot.recipes;
    const work = KINDS.map((kind, k) => {
      const subjects = kind.subjects(plan);
      const anew = subjects.filter(
        (subject) =>
          affected === null ||
          !this.known[k]!.has(subject) ||
          (!sameRecipes && shot.recipes[subject] !== this.shot!.recipes[subject]) ||
          // What it rested on before counts too: that may have gone.
          [...this.known[k]!.get(subject)!.rests, ...kind.rests(plan, subject)].some((id) =>
            affected.has(id),
          ),
      );
      return { subjects, anew, watch: anew.length > 0 ? kind.start(plan, anew) : null };
    });
    const { first, last } = shot.setup;
    const evaluator = new Evaluator(plan);
    const watches = work.flatMap(({ watch }) => watch ?? []);
    if (watches.length > 0)
      for (let frame = first; frame <= last; frame++) {
        evaluator.evaluate(frame);
        this.frames++;
        for (const watch of watches) watch.frame(evaluator, frame);
        yield (frame - first + 1) / (last - first + 2);
      }
    const found = work.map(({ watch }) => watch?.finish(evaluator));
    // Only a run that has come to its end is remembered.
    work.forEach(({ subjects, anew }, k) => {
      const known = this.known[k]!;
      const kept = new Set(subjects);
      for (const subject of known.keys()) if (!kept.has(subject)) known.delete(subject);
      for (const subject of anew)
        known.set(subject, {
          problems: found[k]!.get(subject) ?? [],
          rests: KINDS[k]!.rests(plan, subject),
        });
    });
    this.shot = shot;
    this.loudness = loudness;
    if (options.loops && this.seam?.shot !== shot) this.seam = { shot, problems: checkSeam(plan) };
    const problems = [
      ...checkScene(shot, options),
      ...checkLinks(plan),
      ...checkKeys(shot),
      ...work.flatMap(({ subjects }, k) =>
        subjects.flatMap((subject) => this.known[k]!.get(subject)!.problems),
      ),
      ...(options.loops ? this.seam!.problems : []),
    ];
    return problems.sort((a, b) => (a.severity === b.severity ? 0 : a.severity === 'error' ? -1 : 1));
  }
}

function sameTables(a: LoudnessTables, b: LoudnessTables): boolean {
  const names = Object.keys(a);
  return names.length === Object.keys(b).length && names.every((name) => a[name] === b[name]);
}

/** Everything worth telling about a shot before it is rendered; errors first. */
export function checkShot(shot: Shot, plan: Plan = compile(shot), options: CheckOptions = {}): Problem[] {
  const steps = new Checker().run(shot, options, plan);
  for (;;) {
    const step = steps.next();
    if (step.done) return step.value;
  }
}
