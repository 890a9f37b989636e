import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { toast } from 'sonner';
import type { KeptKind } from '../../../wire';
import { api } from '../shared/api';
import { useSession } from './session';

type Thing<Kind extends KeptKind> = Parameters<typeof api.keep<Kind>>[2];

/** What the project keeps of a kind, and how something is kept in it or taken out. */
export function useKept<Kind extends KeptKind>(
  kind: Kind,
): {
  readonly own: readonly Thing<Kind>[];
  keep(thing: Thing<Kind>): void;
  remove(name: string): void;
} {
  const session = useSession();
  const client = useQueryClient();
  const project = session.project.id;
  const queryKey = [kind, project];
  const { data } = useQuery({ queryKey, queryFn: () => api.kept(kind, project) });
  const done = {
    onSuccess: () => client.invalidateQueries({ queryKey }),
    onError: (error: Error) => toast.error(error.message),
  };
  const keep = useMutation({ mutationFn: (thing: Thing<Kind>) => api.keep(kind, project, thing), ...done });
  const remove = useMutation({ mutationFn: (name: string) => api.removeKept(kind, project, name), ...done });
  return { own: data ?? NONE, keep: keep.mutate, remove: remove.mutate };
}

const NONE: readonly never[] = [];
