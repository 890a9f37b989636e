import { useEffect, useState } from 'react';
import { toast } from 'sonner';
import { loopThrough } from '../../../../core/inset';
import { api } from '../../shared/api';
import type { Session } from '../session';
import type { Addable } from './addables';
import { addAndShow } from './first-part';

/** Another shot of the project, as it is offered, with the address of its card's picture. */
export interface OtherShot {
  readonly entry: Addable;
  readonly picture: string | null;
}

/** The other shots of the project of an open one, and why they are not known. */
export function useOtherShots(session: Session): {
  readonly shots: readonly OtherShot[];
  readonly failed: string | null;
} {
  const [found, setFound] = useState<readonly OtherShot[]>([]);
  const [failed, setFailed] = useState<string | null>(null);
  useEffect(() => {
    let left = false;
    api
      .projects()
      .then((projects) => {
        const shots = projects.find((project) => project.id === session.project.id)?.shots ?? [];
        if (left) return;
        setFound(
          shots
            .filter((shot) => shot.id !== session.id)
            .map((shot) => ({
              entry: {
                id: `shot-${shot.id}`,
                kind: 'shot',
                inset: shot.id,
                name: shot.name,
                group: 'Shots of the project',
                hint: `Frames ${shot.first} to ${shot.last}, in its own time`,
                words: 'scene inside nested reuse film',
                height: 0,
              },
              picture:
                shot.pictureRevision === null
                  ? null
                  : `/api/shots/${shot.id}/picture?revision=${shot.pictureRevision}`,
            })),
        );
      })
      .catch((error: unknown) => {
        if (!left) setFailed(error instanceof Error ? error.message : String(error));
      });
    return () => {
      left = true;
    };
  }, [session]);
  return { shots: found, failed };
}

/** Names of shots along a way. */
function namesAlong(session: Session, way: readonly string[]): string {
  return way
    .map((id) => (id === session.id ? session.doc.now.name : (session.insets.of(id).name ?? 'a shot')))
    .join(', which shows ');
}

/** Reads a shot and all that it shows, so that a loop among them is known. */
async function readThrough(session: Session, id: string, seen = new Set<string>()): Promise<void> {
  if (seen.has(id) || id === session.id) return;
  seen.add(id);
  await session.insets.load(id);
  for (const inner of Object.values(session.insets.shotOf(id)?.parts ?? {}))
    if (inner.inset) await readThrough(session, inner.inset.shot, seen);
}

/** Shows another shot as a part; one that would contain itself is refused, with the way by which it would. */
export async function addOtherShot(session: Session, id: string, name: string): Promise<void> {
  await readThrough(session, id);
  const way = loopThrough(session.insets, session.id, id);
  if (way) {
    toast.error(
      `${session.doc.now.name} would contain itself: it would show ${namesAlong(session, way)}. Choose another shot, or take it out of that one first.`,
    );
    return;
  }
  const { failed, shot } = session.insets.of(id);
  if (!shot) {
    toast.error(failed ?? 'That shot cannot be read.');
    return;
  }
  const inset = {
    shot: id,
    name,
    start: session.shot.setup.first,
    speed: 1,
    plays: 'loop' as const,
    until: null,
  };
  addAndShow(session, { kind: 'shot', name, inset });
}
