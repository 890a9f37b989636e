import type { Reel } from '../../../core/reel';
import type {
  AssetFacts,
  KeptChange,
  KeptKind,
  OpenedReel,
  OpenedShot,
  OwnLook,
  OwnPose,
  OwnPreset,
  OwnManner,
  ProjectCard,
  RenderJob,
  RenderList,
  RenderDeed,
  RenderStory,
  RenderWish,
  Turn,
  SentChange,
  SoundFacts,
  SoundTable,
  UpkeepReport,
} from '../../../wire';

/** A refusal of the server (RFC 9457), or `status` 0 when it could not be reached. */
export class ServerProblem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly more: Record<string, unknown> = {},
  ) {
    super(message);
  }
}

/** Milliseconds after which an answer is no longer waited for. */
const ANSWER_MS = 30_000;

async function call<T>(method: string, path: string, body?: unknown): Promise<T> {
  let response: Response;
  try {
    response = await fetch(`/api${path}`, {
      method,
      headers: body === undefined ? {} : { 'Content-Type': 'application/json' },
      body: body === undefined ? undefined : JSON.stringify(body),
      signal: AbortSignal.timeout(ANSWER_MS),
    });
  } catch (error) {
    if (error instanceof DOMException && error.name === 'TimeoutError')
      throw new ServerProblem(0, 'late', `The server has not answered for ${ANSWER_MS / 1000} seconds.`);
    throw new ServerProblem(0, 'unreachable', 'The server does not answer. Is Whirl still running?');
  }
  if (!response.ok) throw await problemOf(response);
  if (response.status === 204) return undefined as T;
  try {
    return (await response.json()) as T;
  } catch {
    throw new ServerProblem(0, 'broken-answer', 'The answer of the server did not arrive whole.');
  }
}

async function problemOf(response: Response): Promise<ServerProblem> {
  const problem = (await response.json().catch(() => ({}))) as { code?: string; detail?: string };
  return new ServerProblem(
    response.status,
    problem.code ?? 'unexpected',
    problem.detail ?? `The server answered ${response.status}.`,
    problem,
  );
}

/** Stores a file on the server. @throws ServerProblem with the reason when it cannot be taken */
export async function keepAsset(bytes: Uint8Array): Promise<AssetFacts> {
  const response = await fetch('/api/assets', {
    method: 'POST',
    headers: { 'Content-Type': 'application/octet-stream' },
    body: bytes as BodyInit,
  }).catch(() => {
    throw new ServerProblem(0, 'unreachable', 'The server does not answer: the file could not be stored.');
  });
  if (!response.ok) throw await problemOf(response);
  return (await response.json()) as AssetFacts;
}

/** What the server knows of a sound, and what it has worked out of it. */
export const soundDoor = {
  facts: (hash: string): Promise<SoundFacts> => call<SoundFacts>('GET', `/sounds/${hash}`),
  async table(hash: string, table: SoundTable): Promise<ArrayBuffer> {
    const response = await fetch(`/api/sounds/${hash}/${table}`);
    if (!response.ok) throw await problemOf(response);
    return response.arrayBuffer();
  },
};

/** Bytes of a stored file. */
export async function readAsset(hash: string): Promise<Uint8Array> {
  const response = await fetch(`/api/assets/${hash}`);
  if (!response.ok) throw await problemOf(response);
  return new Uint8Array(await response.arrayBuffer());
}

/** What has a name and can be copied and deleted. */
export type Table = 'projects' | 'shots' | 'reels';

/** What a project keeps, by kind. */
interface Kept {
  readonly manners: OwnManner;
  readonly looks: OwnLook;
  readonly presets: OwnPreset;
  readonly poses: OwnPose;
}

export const api = {
  projects: () => call<ProjectCard[]>('GET', '/projects'),
  createProject: (name: string) => call<{ id: string }>('POST', '/projects', { name }),
  createShot: (project: string, name: string, document?: unknown) =>
    call<{ id: string }>('POST', `/projects/${project}/shots`, { name, document }),
  createReel: (project: string, name: string, reel?: Reel) =>
    call<{ id: string }>('POST', `/projects/${project}/reels`, { name, reel }),
  reel: (id: string) => call<OpenedReel>('GET', `/reels/${id}`),
  keepReel: (id: string, revision: number, reel: Reel) =>
    call<{ revision: number }>('PUT', `/reels/${id}`, { revision, reel }),
  startReel: (id: string, request: RenderWish) => call<RenderJob>('POST', `/reels/${id}/renders`, request),
  kept: <Kind extends KeptKind>(kind: Kind, project: string) =>
    call<Kept[Kind][]>('GET', `/projects/${project}/${kind}`),
  keep: <Kind extends KeptKind>(kind: Kind, project: string, thing: Kept[Kind]) =>
    call<Kept[Kind]>('POST', `/projects/${project}/${kind}`, thing),
  removeKept: (kind: KeptKind, project: string, name: string) =>
    call<void>('DELETE', `/projects/${project}/${kind}/${encodeURIComponent(name)}`),
  rename: (table: Table, id: string, name: string) => call<void>('PATCH', `/${table}/${id}`, { name }),
  duplicate: (table: Table, id: string) => call<{ id: string }>('POST', `/${table}/${id}/duplicate`),
  remove: (table: Table, id: string) => call<void>('DELETE', `/${table}/${id}`),
  restore: (table: Table, id: string) => call<void>('POST', `/${table}/${id}/restore`),
  shot: (id: string) => call<OpenedShot>('GET', `/shots/${id}`),
  changesSince: (id: string, revision: number) =>
    call<KeptChange[]>('GET', `/shots/${id}/changes?since=${revision}`),
  sendChanges: (id: string, base: number, changes: readonly SentChange[]) =>
    call<{ revision: number }>('POST', `/shots/${id}/changes`, { base, changes }),
  renders: () => call<RenderList>('GET', '/renders'),
  render: (id: string) => call<RenderJob>('GET', `/renders/${id}`),
  startRender: (shot: string, request: RenderWish) =>
    call<RenderJob>('POST', `/shots/${shot}/renders`, request),
  doWithRender: (id: string, deed: RenderDeed) => call<RenderJob>('POST', `/renders/${id}/${deed}`),
  setTurn: (id: string, turn: Turn) => call<RenderJob>('POST', `/renders/${id}/turn`, { turn }),
  renderStory: (id: string) => call<RenderStory>('GET', `/renders/${id}/story`),
  upkeep: () => call<UpkeepReport>('GET', '/upkeep'),
  clearDue: () => call<UpkeepReport>('POST', '/upkeep'),
  deleteRender: (id: string) => call<void>('DELETE', `/renders/${id}`),
};
