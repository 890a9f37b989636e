import { useQuery, useQueryClient } from '@tanstack/react-query';
import { Film } from 'lucide-react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import { framesInReel, putShot, ReelRefused } from '../../../core/reel';
import type { ReelCard, RenderJob, ShotCard } from '../../../wire';
import { api } from '../shared/api';
import { MenuButton } from '../ui/menu';

const newId = (): string => `itm_${crypto.randomUUID().slice(0, 13)}`;

/** Puts the shot of a film at the end of a reel of its project, with the range of the film. */
export function PutInReel({ job }: { job: RenderJob }) {
  const queries = useQueryClient();
  const navigate = useNavigate();
  const projects = useQuery({ queryKey: ['projects'], queryFn: api.projects });
  const project = projects.data?.find(({ shots }) => shots.some(({ id }) => id === job.shotId));
  const shot = project?.shots.find(({ id }) => id === job.shotId);
  if (!project || !shot) return null;
  const told = (work: Promise<void>): void =>
    void work
      .then(() => queries.invalidateQueries({ queryKey: ['projects'] }))
      .catch((error: unknown) => toast.error(error instanceof Error ? error.message : String(error)));
  return (
    <MenuButton
      label="Put in a reel"
      className="btn"
      entries={() => [
        ...project.reels.map((reel) => ({
          label: reel.name,
          run: () => told(put(reel, shot, job, () => void navigate(`/reels/${reel.id}`))),
        })),
        {
          label: 'A new reel',
          run: () =>
            told(
              api.createReel(project.id, shot.name).then(async ({ id }) => {
                await put({ id, name: shot.name }, shot, job, () => void navigate(`/reels/${id}`));
              }),
            ),
        },
      ]}
    >
      <Film size={14} aria-hidden="true" />
      Put in a reel
    </MenuButton>
  );
}

async function put(
  { id, name }: Pick<ReelCard, 'id' | 'name'>,
  shot: ShotCard,
  { first, last }: RenderJob,
  open: () => void,
): Promise<void> {
  const { reel, revision } = await api.reel(id);
  const item = newId();
  try {
    const longer = putShot(reel, { ...shot, first, last }, item);
    await api.keepReel(id, revision, longer);
    const frames = framesInReel(first, last, shot.rate, longer.rate);
    toast.success(`${shot.name} is at the end of the reel ${name}, ${frames} frames.`, {
      action: { label: 'Open the reel', onClick: open },
      duration: 10_000,
    });
  } catch (error) {
    if (!(error instanceof ReelRefused)) throw error;
    toast.error(error.message);
  }
}
