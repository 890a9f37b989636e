import type { Evaluator, Plan } from '../evaluate';
import type { Problem } from './problem';

/** What is told of each subject. */
export type Told = Map<string, Problem[]>;

/** Looks at subjects frame by frame, in rising order, each frame of the range once. */
export interface Watch {
  frame(evaluator: Evaluator, frame: number): void;
  /** Called once after the last frame; the evaluator may be moved to other frames. */
  finish(evaluator: Evaluator): Told;
}

/**
 * A check that has to look at frames. Its subjects are judged one by one, so that after an edit only those are looked at
 * again on which it has a bearing.
 */
export interface WatchKind {
  readonly name: string;
  /** What is judged: ids of parts, recipes, or addresses of channels. */
  subjects(plan: Plan): readonly string[];
  /** Ids of the owners that a judgement rests on, beside what these hang from and read. */
  rests(plan: Plan, subject: string): readonly string[];
  /** @param subjects those to look at now */
  start(plan: Plan, subjects: readonly string[]): Watch;
}

/** Notes a problem under its subject. */
export function tell(told: Told, subject: string, problem: Problem): void {
  const list = told.get(subject);
  if (list) list.push(problem);
  else told.set(subject, [problem]);
}
