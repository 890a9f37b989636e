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

/** Frames of a piece of a range at least: pieces are looked at side by side, as many as there are cores. */
const PIECE_FRAMES = 8;
/** Each has the solids of the shot for itself. */
const PIECES = 8;

/** Cores of this machine, as far as the browser tells; never fewer than two. */
const coresHere = (): number => Math.max(2, globalThis.navigator?.hardwareConcurrency ?? 2);

/** Cuts a range of frames into pieces of about the same length; where one ends the next one begins. */
export function piecesOf(from: number, to: number, cores: number): { from: number; to: number }[] {
  const count = Math.max(1, Math.min(cores, PIECES, Math.floor((to - from) / PIECE_FRAMES)));
  const seam = (i: number): number => from + Math.floor(((to - from) * i) / count);
  return Array.from({ length: count }, (_, i) => ({ from: seam(i), to: seam(i + 1) }));
}

interface Piece {
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

  constructor(
    private readonly start: StartWorker = startWorker,
    private readonly cores = coresHere(),
  ) {
    super({ watched: [], ...NOTHING });
  }

  /** Looks through a range; what was found before is forgotten. */
  look(
    plan: Plan,
    asked: ClearanceAsked,
    { meshes, missing }: { meshes: FileMeshes; missing: number },
  ): void {
    this.end();
    const ranges = piecesOf(asked.from, asked.to, this.cores);
    const pieces = ranges.map(({ from }): Piece => ({ from, findings: new Map(), share: 0, found: null }));
    this.set({ ...NOTHING, share: 0, of: { shot: plan.shot, asked, missing } });
    this.workers = ranges.map((range, i) => {
      const piece = pieces[i]!;
      const worker = this.start();
      worker.onmessage = ({ data }: MessageEvent<ClearanceAnswer>) => this.answered(pieces, piece, data);
      worker.onerror = ({ message }) =>
        this.answered(pieces, piece, { failed: message || 'It has ended early.' });
      worker.postMessage({
        shot: plan.shot,
        loudness: plan.loudness,
        asked: { ...asked, ...range, pieces: ranges.length },
        meshes,
      } satisfies ClearanceOrder);
      return worker;
    });
  }

  private answered(pieces: readonly Piece[], piece: Piece, data: ClearanceAnswer): void {
    if ('failed' in data) {
      this.end();
      this.set({ share: null, failed: data.failed });
      return;
    }
    if ('found' in data) {
      piece.found = data.found;
      piece.share = 1;
      for (const finding of data.found.findings) piece.findings.set(finding.id, finding);
    } else {
      piece.share = data.share;
      for (const finding of data.findings) piece.findings.set(finding.id, finding);
    }
    const [first, ...others] = pieces;
    if (pieces.every(({ found }) => found)) {
      const found = others.reduce(
        (before, { found: then, from }) => joined(before, then!, from),
        first!.found!,
      );
      this.end();
      this.set({ share: null, found, findings: found.findings });
      return;
    }
    this.set({
      share: pieces.reduce((sum, { share }) => sum + share, 0) / pieces.length,
      findings: pieces.flatMap(({ findings }) => [...findings.values()]),
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
