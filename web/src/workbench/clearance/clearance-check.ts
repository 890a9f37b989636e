import type { Shot } from '../../../../core/document';
import type { Plan } from '../../../../core/evaluate';
import {
  type Clearance,
  type ClearanceAsked,
  type FileMeshes,
  type Finding,
  joined,
} from '../../../../core/clearance';
import type { ClearanceAnswer, ClearanceOrder } from './clearance-worker';
import { Slice } from '../state/slice';

export interface ClearanceState {
  /** Pairs of parts whose least distance is to be told. */
  readonly watched: readonly (readonly [string, string])[];
  /** How far a check has come; `null` while none runs. */
  readonly share: number | null;
  /** What was found, or has been found so far. */
  readonly findings: readonly Finding[];
  /** The whole of it once it is there. */
  readonly found: Clearance | null;
  /** What was looked at: the shot as it was, and the range. */
  readonly of: { readonly shot: Shot; readonly asked: ClearanceAsked; readonly missing: number } | null;
  readonly failed: string | null;
  /** The finding that the view shows. */
  readonly shown: Finding | null;
}

const NOTHING = { share: null, findings: [], found: null, of: null, failed: null, shown: null };

/** Frames from which on a range is looked at in two halves, side by side. */
const HALVES_FROM = 16;

interface Half {
  readonly from: number;
  readonly findings: Map<string, Finding>;
  share: number;
  found: Clearance | null;
}

/** Makes a worker that answers as `clearance-worker` does. */
export type StartWorker = () => Pick<Worker, 'postMessage' | 'terminate'> & {
  onmessage: ((event: MessageEvent<ClearanceAnswer>) => void) | null;
  onerror: ((event: ErrorEvent) => void) | null;
};

const startWorker: StartWorker = () =>
  new Worker(new URL('./clearance-worker.ts', import.meta.url), { type: 'module' });

/** The clearance check of the open shot: it runs on while its sheet is closed, and keeps what it has found. */
export class ClearanceCheck extends Slice<ClearanceState> {
  private workers: ReturnType<StartWorker>[] = [];

  constructor(private readonly start: StartWorker = startWorker) {
    super({ watched: [], ...NOTHING });
  }

  /** Looks through a range; what was found before is forgotten. */
  look(
    plan: Plan,
    asked: ClearanceAsked,
    { meshes, missing }: { meshes: FileMeshes; missing: number },
  ): void {
    this.end();
    const { from, to } = asked;
    const middle = Math.floor((from + to) / 2);
    const ranges =
      to - from < HALVES_FROM
        ? [{ from, to }]
        : [
            { from, to: middle },
            { from: middle, to },
          ];
    const halves = ranges.map((range): Half => ({
      from: range.from,
      findings: new Map(),
      share: 0,
      found: null,
    }));
    this.set({ ...NOTHING, share: 0, of: { shot: plan.shot, asked, missing } });
    this.workers = ranges.map((range, i) => {
      const half = halves[i]!;
      const worker = this.start();
      worker.onmessage = ({ data }: MessageEvent<ClearanceAnswer>) => this.answered(halves, half, data);
      worker.onerror = ({ message }) =>
        this.answered(halves, half, { failed: message || 'It has ended early.' });
      worker.postMessage({
        shot: plan.shot,
        loudness: plan.loudness,
        asked: { ...asked, ...range },
        meshes,
      } satisfies ClearanceOrder);
      return worker;
    });
  }

  private answered(halves: readonly Half[], half: Half, data: ClearanceAnswer): void {
    if ('failed' in data) {
      this.end();
      this.set({ share: null, failed: data.failed });
      return;
    }
    if ('found' in data) {
      half.found = data.found;
      half.share = 1;
      for (const finding of data.found.findings) half.findings.set(finding.id, finding);
    } else {
      half.share = data.share;
      for (const finding of data.findings) half.findings.set(finding.id, finding);
    }
    const [one, other] = halves;
    if (halves.every(({ found }) => found)) {
      const found = other ? joined(one!.found!, other.found!, other.from) : one!.found!;
      this.end();
      this.set({ share: null, found, findings: found.findings });
      return;
    }
    this.set({
      share: halves.reduce((sum, { share }) => sum + share, 0) / halves.length,
      findings: halves.flatMap(({ findings }) => [...findings.values()]),
    });
  }

  /** Breaks off; what has been found stays. */
  cancel(): void {
    this.end();
    this.set({ share: null });
  }

  watch(watched: ClearanceState['watched']): void {
    this.set({ watched });
  }

  show(shown: Finding | null): void {
    this.set({ shown });
  }

  /** Forgets findings of parts that are gone. */
  keepTo(shot: Shot): void {
    const { watched, shown, findings } = this.now;
    const there = ({ a, b }: Finding): boolean => !!shot.parts[a.part] && !!shot.parts[b.part];
    if (shown && !there(shown)) this.set({ shown: null });
    if (findings.some((finding) => !there(finding))) this.set({ findings: findings.filter(there) });
    if (watched.some((pair) => pair.some((id) => !shot.parts[id])))
      this.set({ watched: watched.filter((pair) => pair.every((id) => shot.parts[id])) });
  }

  /** Ends the workers. */
  end(): void {
    for (const worker of this.workers) worker.terminate();
    this.workers = [];
  }
}
