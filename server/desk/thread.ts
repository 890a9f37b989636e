import { parentPort, workerData } from 'node:worker_threads';
import { fileStoreAt } from '../files';
import { asProblem } from '../problem';
import { openDatabase } from '../store/database';
import { tasksOn, type TaskName } from './tasks';

/** A question to a thread of the desk, and its answer. */
export interface Asked {
  readonly id: number;
  readonly task: TaskName;
  readonly args: readonly unknown[];
}
export interface Answered {
  readonly id: number;
  readonly result?: unknown;
  /** A refusal, or what went wrong unforeseen. */
  readonly problem?: { status: number; code: string; message: string; more: Record<string, unknown> };
  readonly failure?: { message: string; stack: string };
}

/** Id of what nobody has asked for: a snapshot that could not be stored. */
const NOBODY = 0;

/** Connections that a thread has at most: one for each piece of work at once, and one for snapshots. */
const CONNECTIONS = 5;

const { databaseUrl, filesAt } = workerData as { databaseUrl: string; filesAt: string };
const port = parentPort!;
const failureOf = (error: unknown): NonNullable<Answered['failure']> => {
  const { message = String(error), stack = '' } = error as Partial<Error>;
  return { message, stack };
};
const tasks = tasksOn(openDatabase(databaseUrl, CONNECTIONS), fileStoreAt(filesAt), (error) =>
  port.postMessage({ id: NOBODY, failure: failureOf(error) } satisfies Answered),
);

port.on('message', ({ id, task, args }: Asked) => {
  const doable = tasks as unknown as Record<TaskName, (...all: readonly unknown[]) => Promise<unknown>>;
  doable[task](...args).then(
    (result) => port.postMessage({ id, result } satisfies Answered),
    (error: unknown) => {
      const problem = asProblem(error);
      if (problem) {
        const { status, code, message, more } = problem;
        port.postMessage({ id, problem: { status, code, message, more } } satisfies Answered);
        return;
      }
      port.postMessage({ id, failure: failureOf(error) } satisfies Answered);
    },
  );
});
