import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Trash2 } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import { filmFormat } from '../../../core/film';
import { isRunning, renderRequest, type RenderJob } from '../../../wire';
import { api } from '../shared/api';
import { formatAgo } from '../shared/format';
import { PageTop } from '../shared/page-top';
import { Failed, Loading } from '../shared/states';
import { TabPanel, TabRow, Tabs } from '../ui/tabs';
import { Compare } from './compare';
import { LibraryGone } from './film-deeds';
import { FrameSteps } from './frame-steps';
import { Machines } from './machines';
import { RenderProgress, STATUS_WORDS, useLiveJob } from './render-progress';
import { earlierFilms } from './story';
import { WhatHappened } from './what-happened';

const REFRESH_MS = 5000;
const DOTS: Record<RenderJob['status'], string> = {
  waiting: 'bg-brass',
  drawing: 'bg-teal',
  assembling: 'bg-teal',
  paused: 'bg-brass',
  held: 'bg-now',
  done: 'bg-good',
  failed: 'bg-now',
  cancelled: 'bg-ink-3',
};

/** All renders, running and finished. */
export function RendersPage() {
  const renders = useQuery({ queryKey: ['renders'], queryFn: api.renders, refetchInterval: REFRESH_MS });
  const [openId, setOpenId] = useState<string | null>(null);
  const jobs = renders.data?.jobs ?? [];
  const machines = renders.data?.machines ?? [];
  const open = jobs.find((job) => job.id === openId) ?? jobs[0];
  return (
    <div className="flex h-full flex-col">
      <PageTop here="renders" />
      {renders.isPending && <Loading what="renders" />}
      {renders.isError && !renders.data && (
        <Failed
          title="The renders cannot be listed"
          error={renders.error}
          onRetry={() => void renders.refetch()}
        />
      )}
      {renders.data && (
        <main className="mx-auto grid min-h-0 w-full max-w-[1180px] flex-1 grid-cols-[400px_1fr] gap-4 p-5">
          <section className="panel flex min-h-0 flex-col" aria-label="List of renders">
            <h1 className="flex h-10 flex-none items-center border-b border-line-soft px-3 text-[15px] font-bold">
              Renders
              <span
                className={`ml-auto text-xs font-medium ${machines.length === 0 ? 'text-now' : 'text-ink-2'}`}
              >
                {machines.length === 0
                  ? 'no render machine is there'
                  : `${machines.length} render ${machines.length === 1 ? 'machine' : 'machines'}`}
              </span>
            </h1>
            <ul className="min-h-0 flex-1 overflow-y-auto">
              {jobs.map((job) => (
                <JobRow key={job.id} job={job} open={job.id === open?.id} onOpen={() => setOpenId(job.id)} />
              ))}
            </ul>
            {jobs.length === 0 && (
              <p className="flex-1 p-4 leading-relaxed text-ink-2">
                Nothing has been rendered yet. Open a shot and press "Render...".
              </p>
            )}
            <Machines machines={machines} />
          </section>
          <section className="panel min-h-0 overflow-y-auto p-4" aria-label="Render">
            {open ? (
              <OneRender
                key={open.id}
                job={open}
                others={earlierFilms(open, jobs)}
                libraries={machines.map((machine) => machine.drawingLibrary)}
                onAgain={setOpenId}
              />
            ) : (
              <p className="text-ink-2">Progress and finished films show here.</p>
            )}
          </section>
        </main>
      )}
    </div>
  );
}

type Side = 'film' | 'frames' | 'compare' | 'story';

/** One film with what can be done with it. */
function OneRender(props: {
  job: RenderJob;
  others: readonly RenderJob[];
  libraries: readonly (string | null)[];
  onAgain(id: string): void;
}) {
  const { job, others, libraries, onAgain } = props;
  const [wanted, setSide] = useState<Side>('film');
  const queries = useQueryClient();
  const { shotId, reelId } = job;
  const again = useMutation({
    mutationFn: ({ fresh }: { fresh: boolean }) => {
      const wish = { ...renderRequest.strip().parse(job), fresh };
      return shotId === null ? api.startReel(reelId!, wish) : api.startRender(shotId, wish);
    },
    onSuccess: async ({ id }) => {
      await queries.invalidateQueries({ queryKey: ['renders'] });
      onAgain(id);
    },
    onError: (error) => toast.error(error.message),
  });
  const stepped = job.status === 'done' && !filmFormat(job.format).still;
  const sides: (readonly [Side, string])[] = [
    ['film', 'Film'],
    ...(stepped ? ([['frames', 'Step by frame']] as const) : []),
    ...(job.drawn > 0 && others.length > 0 ? ([['compare', 'Compare']] as const) : []),
    ['story', 'What happened'],
  ];
  const side = sides.some(([each]) => each === wanted) ? wanted : 'film';
  return (
    <Tabs<Side> value={side} onChange={setSide}>
      <h2 className="mb-2 truncate text-[15px] font-bold">
        {job.shotName} <span className="font-medium text-ink-3">in {job.projectName}</span>
      </h2>
      <div className="mb-3 flex items-center gap-2">
        <TabRow label="What of the film is shown" tabs={sides} />
        {!isRunning(job) && (shotId ?? reelId) !== null && (
          <span className="ml-auto flex gap-2">
            <button
              type="button"
              className="btn"
              title="The shot or reel as it is now, with the same range, size and format; frames that show the same are not drawn again"
              disabled={again.isPending}
              onClick={() => again.mutate({ fresh: false })}
            >
              Render again
            </button>
            <button
              type="button"
              className="btn"
              title="As Render again, but every frame is drawn, whatever it shows"
              disabled={again.isPending}
              onClick={() => again.mutate({ fresh: true })}
            >
              All anew
            </button>
          </span>
        )}
      </div>
      <TabPanel value="film">
        <RenderProgress job={job} />
        <LibraryGone job={job} here={libraries} />
      </TabPanel>
      <TabPanel value="frames">
        <FrameSteps job={job} />
      </TabPanel>
      <TabPanel value="compare">{others.length > 0 && <Compare job={job} others={others} />}</TabPanel>
      <TabPanel value="story">
        <WhatHappened job={job} />
      </TabPanel>
    </Tabs>
  );
}

function JobRow({ job: initial, open, onOpen }: { job: RenderJob; open: boolean; onOpen(): void }) {
  const job = useLiveJob(initial);
  const queries = useQueryClient();
  const remove = useMutation({
    mutationFn: () => api.deleteRender(job.id),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['renders'] }),
    onError: (error) => toast.error(error.message),
  });
  const total = job.last - job.first + 1;
  return (
    <li
      className={`flex items-center gap-3 border-b border-line-soft px-3 py-2 ${open ? 'bg-teal-wash' : 'hover:bg-raised'}`}
    >
      <button
        type="button"
        className="flex min-w-0 flex-1 items-center gap-3 text-left"
        onClick={onOpen}
        aria-pressed={open}
      >
        {job.latest === null ? (
          <span className="h-[45px] w-20 flex-none rounded bg-line" />
        ) : (
          <img
            src={`/api/renders/${job.id}/frames/${job.latest}`}
            alt=""
            className="h-[45px] w-20 flex-none rounded bg-film object-contain"
          />
        )}
        <span className="min-w-0">
          <b className="block truncate">{job.shotName}</b>
          <span className="flex items-center gap-1.5 text-xs text-ink-2">
            <span className={`size-2 rounded-full ${DOTS[job.status]}`} aria-hidden="true" />
            {job.status === 'drawing'
              ? `${job.drawn} of ${total}`
              : STATUS_WORDS[job.status].toLowerCase()},{' '}
            {job.width}×{job.height} {filmFormat(job.format).name}, {formatAgo(job.createdAt)}
          </span>
        </span>
      </button>
      {!isRunning(job) && (
        <button
          type="button"
          aria-label={`Delete the render of ${job.shotName}`}
          className="flex-none rounded p-1 text-ink-3 hover:bg-line-soft hover:text-now"
          onClick={() => remove.mutate()}
        >
          <Trash2 size={14} aria-hidden="true" />
        </button>
      )}
    </li>
  );
}
