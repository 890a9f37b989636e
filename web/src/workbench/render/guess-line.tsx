import { useQuery } from '@tanstack/react-query';
import { guessFilm, type MadeFilm } from '../../../../core/film';
import type { RenderJob } from '../../../../wire';
import { api } from '../../shared/api';
import { formatBytes } from '../../shared/format';
import { useSession, useShot } from '../session';
import { requestOf, type FilmForm } from './film-form';

/** A finished film as a guess is made from it. @param samples of the shot */
export function madeOf(job: RenderJob, samples: number): MadeFilm {
  const { width, height, format, quality, alpha } = job;
  const [start, end] = [Date.parse(job.startedAt ?? ''), Date.parse(job.finishedAt ?? '')];
  return {
    ...{ width, height, format, quality, alpha },
    samples: job.samples ?? samples,
    frames: job.last - job.first + 1,
    drawn: job.drawn - job.taken - job.skipped,
    seconds: Number.isFinite(end - start) ? (end - start) / 1000 : 0,
    size: job.filmSize ?? 0,
  };
}

function timeWords(seconds: number): string {
  if (seconds < 90) return `${Math.max(1, Math.round(seconds))} s`;
  if (seconds < 5400) return `${Math.round(seconds / 60)} min`;
  return `${(seconds / 3600).toFixed(1)} h`;
}

/** How long the film will take and how large it will be, as films of this shot tell; and who is there to draw it. */
export function GuessLine({ form }: { form: FilmForm }) {
  const session = useSession();
  const samples = useShot((state) => state.shot.setup.samples ?? 1);
  const { data } = useQuery({ queryKey: ['renders'], queryFn: api.renders });
  if (!data) return null;
  const { jobs, machines } = data;
  const waiting = jobs.filter((job) => job.status === 'waiting' || job.status === 'drawing').length;
  const made = jobs
    .filter((job) => job.shotId === session.id && job.status === 'done')
    .map((job) => madeOf(job, samples));
  const { first, last, width, height, format, quality, alpha } = requestOf(form);
  const { seconds, size } = guessFilm(
    { width, height, format, quality, alpha, samples: form.samples ?? samples, frames: last - first + 1 },
    made,
  );
  const guesses = [
    ...(seconds !== null && Number.isFinite(seconds) ? [`takes about ${timeWords(seconds)}`] : []),
    ...(size !== null && Number.isFinite(size) ? [`has about ${formatBytes(size)}`] : []),
  ];
  return (
    <p className="mb-2 text-ink-2" data-testid="guess">
      {machines.length === 0
        ? 'No render machine is there: the film waits until one is started.'
        : `Drawn by ${machines.length === 1 ? 'the render machine that is' : `the ${machines.length} render machines that are`} there.`}
      {waiting > 0 &&
        ` ${waiting === 1 ? 'One other film is' : `${waiting} other films are`} on the way: they take turns.`}
      {guesses.length > 0 && ` As its films so far tell, it ${guesses.join(' and ')}.`}
    </p>
  );
}
