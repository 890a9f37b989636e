import { useQuery } from '@tanstack/react-query';
import { isRunning, type FrameState, type RenderJob, type RenderStory } from '../../../wire';
import { api } from '../shared/api';

const REFRESH_MS = 2000;

/** How a film's frames came to be, and what happened; asked for again while it runs. */
export function useStory(job: RenderJob): RenderStory | null {
  const running = isRunning(job);
  const story = useQuery({
    queryKey: ['story', job.id, job.status],
    queryFn: () => api.renderStory(job.id),
    refetchInterval: running ? REFRESH_MS : false,
    placeholderData: (before) => before,
  });
  return story.data ?? null;
}

/** What a frame of a film is: as it came to be, being tried again, given up, or not there yet. */
export type FrameKind = FrameState | 'troubled' | 'waiting';

export const KIND_WORDS: Record<FrameKind, string> = {
  drawn: 'drawn',
  unchanged: 'unchanged, taken over',
  skipped: 'skipped',
  troubled: 'could not be drawn',
  waiting: 'to come',
};

/** A run of frames of one kind, both ends included. */
export interface Run {
  readonly first: number;
  readonly last: number;
  readonly kind: FrameKind;
}

/** The frames of a film as runs of one kind, in order. */
export function runsOf(job: Pick<RenderJob, 'first' | 'last'>, story: RenderStory): Run[] {
  const kinds = new Map<number, FrameKind>();
  for (const [i, frame] of story.frames.entries()) kinds.set(frame, story.states[i]!);
  for (const { frame } of story.troubles) if (!kinds.has(frame)) kinds.set(frame, 'troubled');
  const runs: { first: number; last: number; kind: FrameKind }[] = [];
  for (let frame = job.first; frame <= job.last; frame++) {
    const kind = kinds.get(frame) ?? 'waiting';
    const open = runs.at(-1);
    if (open?.kind === kind) open.last = frame;
    else runs.push({ first: frame, last: frame, kind });
  }
  return runs;
}

/** Films that another one can be compared with: of the same shot, with frames in common that may still be there. */
export function earlierFilms(job: RenderJob, jobs: readonly RenderJob[]): RenderJob[] {
  return jobs.filter(
    (other) =>
      other.id !== job.id &&
      (job.shotId === null
        ? job.reelId !== null && other.reelId === job.reelId
        : other.shotId === job.shotId) &&
      other.drawn > 0 &&
      other.first <= job.last &&
      other.last >= job.first,
  );
}
