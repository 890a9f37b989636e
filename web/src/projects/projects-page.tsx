import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Film, MoreHorizontal, Plus } from 'lucide-react';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { toast } from 'sonner';
import { NAME_LIMIT, type ProjectCard, type ReelCard, type ShotCard } from '../../../wire';
import { api, type Table } from '../shared/api';
import { formatAgo, formatLength } from '../shared/format';
import { PageTop } from '../shared/page-top';
import { Failed, Loading } from '../shared/states';
import { DialogFrame, DialogLeave, DialogTitle } from '../ui/dialog-frame';
import { MenuButton, type MenuEntries } from '../ui/menu';

const REFRESH_MS = 8000;

interface Asked {
  readonly title: string;
  readonly initial: string;
  readonly action: string;
  run(name: string): Promise<unknown>;
}

/** What can be done with projects, shots and reels; what needs a name asks for it. */
function useProjectActions(ask: (asked: Asked) => void, refresh: () => Promise<void>) {
  const navigate = useNavigate();
  const run = useMutation({
    mutationFn: (work: () => Promise<unknown>) => work(),
    onSettled: refresh,
    onError: (error) => toast.error(error.message),
  });

  const rename = (table: Table, id: string, name: string): void =>
    ask({
      title: `Rename ${name}`,
      initial: name,
      action: 'Rename',
      run: (next) => api.rename(table, id, next),
    });
  const remove = (table: Table, id: string, name: string): void =>
    run.mutate(async () => {
      await api.remove(table, id);
      toast(`${name} is deleted.`, {
        duration: 12_000,
        action: { label: 'Undo', onClick: () => run.mutate(() => api.restore(table, id)) },
      });
    });
  const newShot = (project: ProjectCard): void =>
    ask({
      title: `New shot in ${project.name}`,
      initial: '',
      action: 'Make and open',
      run: async (name) => {
        const { id } = await api.createShot(project.id, name);
        void navigate(`/shots/${id}`);
      },
    });

  const newReel = (project: ProjectCard): void =>
    ask({
      title: `New reel in ${project.name}`,
      initial: '',
      action: 'Make and open',
      run: async (name) => {
        const { id } = await api.createReel(project.id, name);
        void navigate(`/reels/${id}`);
      },
    });
  const newProject = (): void =>
    ask({ title: 'New project', initial: '', action: 'Make', run: (name) => api.createProject(name) });
  const duplicate = (table: Table, id: string): void => run.mutate(() => api.duplicate(table, id));
  return { rename, remove, duplicate, newProject, newShot, newReel };
}

/** All projects with their shots. */
export function ProjectsPage() {
  const projects = useQuery({ queryKey: ['projects'], queryFn: api.projects, refetchInterval: REFRESH_MS });
  const [asked, setAsked] = useState<Asked | null>(null);
  const queries = useQueryClient();
  const refresh = (): Promise<void> => queries.invalidateQueries({ queryKey: ['projects'] });
  const actions = useProjectActions(setAsked, refresh);
  return (
    <div className="flex h-full flex-col">
      <PageTop here="projects" />
      {projects.isPending && <Loading what="projects" />}
      {projects.isError && !projects.data && (
        <Failed
          title="The projects cannot be listed"
          error={projects.error}
          onRetry={() => void projects.refetch()}
        />
      )}
      {projects.data && (
        <main className="min-h-0 flex-1 overflow-y-auto">
          <div className="mx-auto max-w-[1180px] p-6">
            <div className="mb-5 flex items-center">
              <h1 className="text-xl font-bold">Projects</h1>
              <button type="button" className="btn btn-strong ml-auto h-8" onClick={actions.newProject}>
                <Plus size={15} aria-hidden="true" />
                New project
              </button>
            </div>
            {projects.isError && (
              <p role="alert" className="mb-4 rounded-md bg-now px-3 py-2 font-semibold text-on-now">
                {projects.error.message}
              </p>
            )}
            {projects.data.length === 0 && (
              <p className="panel p-8 text-center leading-relaxed text-ink-2">
                There is no project yet. Make one with "New project", then add its first shot.
              </p>
            )}
            {projects.data.map((project) => (
              <ProjectSection key={project.id} project={project} actions={actions} />
            ))}
          </div>
        </main>
      )}
      {asked && (
        <NameDialog
          asked={asked}
          onClose={() => {
            setAsked(null);
            void refresh();
          }}
        />
      )}
    </div>
  );
}

/** A project: its shots and reels. */
function ProjectSection({
  project,
  actions,
}: {
  project: ProjectCard;
  actions: ReturnType<typeof useProjectActions>;
}) {
  return (
    <section className="mb-8" aria-label={project.name}>
      <div className="mb-2.5 flex items-center gap-2">
        <h2 className="truncate text-[15px] font-bold" title={project.name}>
          {project.name}
        </h2>
        <span className="flex-none text-ink-2">
          {project.shots.length} {project.shots.length === 1 ? 'shot' : 'shots'}, changed{' '}
          {formatAgo(project.changedAt)}
        </span>
        <CardMenu
          label={`Menu of ${project.name}`}
          entries={() => [
            { label: 'Rename', run: () => actions.rename('projects', project.id, project.name) },
            {
              label: 'Duplicate',
              run: () => actions.duplicate('projects', project.id),
            },
            {
              label: 'Delete',
              alarm: true,
              run: () => actions.remove('projects', project.id, project.name),
            },
          ]}
        />
      </div>
      <ul className="grid grid-cols-[repeat(auto-fill,minmax(236px,1fr))] gap-3">
        {project.shots.map((entry) => (
          <Card
            shot={entry}
            key={entry.id}
            entries={() => [
              { label: 'Rename', run: () => actions.rename('shots', entry.id, entry.name) },
              { label: 'Duplicate', run: () => actions.duplicate('shots', entry.id) },
              {
                label: 'Delete',
                alarm: true,
                run: () => actions.remove('shots', entry.id, entry.name),
              },
            ]}
          />
        ))}
        <li>
          <button
            type="button"
            onClick={() => actions.newShot(project)}
            className="flex h-full min-h-[132px] w-full flex-col items-center justify-center gap-1 rounded-lg border-2 border-dashed border-line-strong font-semibold text-ink-2 hover:border-teal hover:text-teal"
          >
            <Plus size={20} aria-hidden="true" />
            New shot
          </button>
        </li>
      </ul>
      <Reels
        project={project}
        onNew={() => actions.newReel(project)}
        entries={({ id, name }) => [
          { label: 'Rename', run: () => actions.rename('reels', id, name) },
          { label: 'Duplicate', run: () => actions.duplicate('reels', id) },
          { label: 'Delete', alarm: true, run: () => actions.remove('reels', id, name) },
        ]}
      />
    </section>
  );
}

function Card({ shot, entries }: { shot: ShotCard; entries: () => MenuEntries }) {
  const frames = shot.last - shot.first + 1;
  return (
    <li className="panel group relative transition-shadow hover:shadow-lg">
      <Link to={`/shots/${shot.id}`} className="block">
        <span className="block aspect-video bg-film">
          {shot.pictureRevision !== null && (
            <img
              src={`/api/shots/${shot.id}/picture?revision=${shot.pictureRevision}`}
              alt={`First frame of ${shot.name}`}
              className="size-full object-cover"
            />
          )}
        </span>
        <span className="block px-3 py-2">
          <b className="block truncate pr-6 text-[13px]" title={shot.name}>
            {shot.name}
          </b>
          <span className="block truncate text-xs text-ink-2">{formatLength(frames, shot.rate)}</span>
          <span className="block truncate text-xs text-ink-2">changed {formatAgo(shot.changedAt)}</span>
        </span>
      </Link>
      <div className="absolute bottom-9 right-2">
        <CardMenu label={`Menu of ${shot.name}`} entries={entries} />
      </div>
    </li>
  );
}

/** The reels of a project: its shots one after another. */
function Reels(props: { project: ProjectCard; onNew(): void; entries(reel: ReelCard): MenuEntries }) {
  const { project, onNew, entries } = props;
  if (project.shots.length === 0 && project.reels.length === 0) return null;
  return (
    <ul className="mt-3 flex flex-wrap items-center gap-2" aria-label={`Reels of ${project.name}`}>
      {project.reels.map((reel) => (
        <li key={reel.id} className="panel flex h-9 items-center gap-2 pl-2.5 pr-1.5 hover:shadow-md">
          <Link to={`/reels/${reel.id}`} className="flex items-center gap-2">
            <Film size={15} className="text-brass" aria-hidden="true" />
            <b className="max-w-[220px] truncate" title={reel.name}>
              {reel.name}
            </b>
            <span className="text-xs text-ink-2">
              reel, {reel.frames === 0 ? 'empty' : formatLength(reel.frames, reel.rate)}
            </span>
          </Link>
          <CardMenu label={`Menu of ${reel.name}`} entries={() => entries(reel)} />
        </li>
      ))}
      <li>
        <button
          type="button"
          className="flex h-9 items-center gap-1.5 rounded-lg border-2 border-dashed border-line-strong px-3 font-semibold text-ink-2 hover:border-teal hover:text-teal"
          title="Shots one after another, as one film"
          onClick={onNew}
        >
          <Plus size={15} aria-hidden="true" />
          New reel
        </button>
      </li>
    </ul>
  );
}

function CardMenu({ label, entries }: { label: string; entries: () => MenuEntries }) {
  return (
    <MenuButton
      label={label}
      className="rounded p-0.5 text-ink-2 hover:bg-line-soft hover:text-ink"
      entries={entries}
    >
      <MoreHorizontal size={16} aria-hidden="true" />
    </MenuButton>
  );
}

function NameDialog({ asked, onClose }: { asked: Asked; onClose(): void }) {
  const [name, setName] = useState(asked.initial);
  const work = useMutation({ mutationFn: (next: string) => asked.run(next), onSuccess: onClose });
  const trimmed = name.trim();
  const reason =
    trimmed.length > NAME_LIMIT
      ? `A name may have ${NAME_LIMIT} characters, this one has ${trimmed.length}.`
      : null;
  return (
    <DialogFrame onClose={onClose} className="top-1/3 w-[380px] p-4">
      <DialogTitle className="mb-3 truncate">{asked.title}</DialogTitle>
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (trimmed && !reason) work.mutate(trimmed);
        }}
      >
        <label htmlFor="name" className="mb-1 block text-ink-2">
          Name
        </label>
        <input
          id="name"
          autoFocus
          className="input-field h-8 w-full"
          value={name}
          onChange={(event) => setName(event.target.value)}
          onFocus={(event) => event.target.select()}
        />
        <p role="alert" className="min-h-5 pt-1 text-now">
          {reason ?? work.error?.message ?? ''}
        </p>
        <div className="mt-1 flex justify-end gap-2">
          <DialogLeave />
          <button
            type="submit"
            className="btn btn-strong"
            disabled={!trimmed || reason !== null || work.isPending}
          >
            {asked.action}
          </button>
        </div>
      </form>
    </DialogFrame>
  );
}
