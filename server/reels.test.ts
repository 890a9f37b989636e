import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Shot } from '../core/document';
import { emptyReel, type Reel } from '../core/reel';
import { dissolve, shotItem, titleItem } from '../core/testing/reels';
import { projectList, type OpenedReel, type ProjectCard } from '../wire';
import { readFilmOf } from './store/renders';
import { startTestServer, type TestServer } from './testing';

let server: TestServer;
let project: string;
let shot: string;
beforeAll(async () => {
  server = await startTestServer();
  project = await made('/projects', { name: 'Fair' });
  shot = await made(`/projects/${project}/shots`, { name: 'Ride' });
});
afterAll(() => server.stop());

interface Refusal {
  readonly code?: string;
  readonly detail?: string;
  readonly revision?: number;
}
const made = async (path: string, body: unknown): Promise<string> =>
  (await server.call<{ id: string }>('POST', path, body)).body.id;
const open = (id: string) => server.call<OpenedReel & Refusal>('GET', `/reels/${id}`);
const put = (id: string, revision: number, reel: unknown) =>
  server.call<Refusal>('PUT', `/reels/${id}`, { revision, reel });
const reelOf = (...items: Reel['items'][number][]): Reel => ({ ...emptyReel(), items });
const order = (id: string, more: object = {}) =>
  server.call<Refusal & { id: string }>('POST', `/reels/${id}/renders`, {
    first: 1,
    last: 5,
    width: 64,
    height: 36,
    format: 'mp4',
    alpha: false,
    ...more,
  });

describe('reels', () => {
  it('are made, kept, and listed with their project', async () => {
    const id = await made(`/projects/${project}/reels`, { name: 'Evening' });
    expect((await open(id)).body).toMatchObject({
      name: 'Evening',
      projectName: 'Fair',
      revision: 0,
      reel: emptyReel(),
    });
    const reel = reelOf(shotItem(48, { shot }), titleItem(24, { join: dissolve(12) }));
    expect((await put(id, 0, reel)).body).toEqual({ revision: 1 });
    expect((await open(id)).body).toMatchObject({ revision: 1, reel });
    const list = (await server.call<ProjectCard[]>('GET', '/projects')).body;
    expect(projectList.safeParse(list).error).toBeUndefined();
    const { reels } = list.find((each) => each.id === project)!;
    expect(reels.find((each) => each.id === id)).toMatchObject({ name: 'Evening', frames: 72 });
  });

  it('are not overwritten by whoever began from an older one', async () => {
    const id = await made(`/projects/${project}/reels`, { name: 'Two' });
    await put(id, 0, reelOf(titleItem(5)));
    const { status, body } = await put(id, 0, reelOf(titleItem(9)));
    expect(status).toBe(409);
    expect(body).toMatchObject({ code: 'changed', revision: 1 });
    expect((await open(id)).body.reel.items[0]!.frames).toBe(5);
  });

  it('are refused with the place where they are none', async () => {
    const id = await made(`/projects/${project}/reels`, { name: 'Wrong' });
    for (const [reel, words] of [
      [{ ...emptyReel(), width: 5 }, 'reel/width'],
      [reelOf(titleItem(0)), 'items/0/frames'],
      [reelOf(titleItem(4), titleItem(4, { join: dissolve(20) })), 'items/1/join/frames'],
      [reelOf(...Array.from({ length: 301 }, () => titleItem(1))), 'reel/items'],
    ] as const) {
      const { status, body } = await put(id, 0, reel);
      expect(status).toBe(400);
      expect(JSON.stringify(body)).toContain(words);
    }
    expect((await open(id)).body.revision).toBe(0);
  });

  it('are renamed, copied, deleted and brought back, alone and with their project', async () => {
    const id = await made(`/projects/${project}/reels`, { name: 'Old', reel: reelOf(shotItem(5, { shot })) });
    expect((await server.call('PATCH', `/reels/${id}`, { name: 'New' })).status).toBe(204);
    const copy = await made(`/reels/${id}/duplicate`, undefined);
    expect((await open(copy)).body).toMatchObject({ name: 'New (copy)' });
    expect((await server.call('DELETE', `/reels/${id}`)).status).toBe(204);
    expect((await open(id)).status).toBe(404);
    expect((await put(id, 0, emptyReel())).status).toBe(404);
    await server.call('POST', `/reels/${id}/restore`);
    expect((await open(id)).status).toBe(200);
    // In the copy of the project its reel shows the copies of the shots.
    const other = await made(`/projects/${project}/duplicate`, undefined);
    const card = (await server.call<ProjectCard[]>('GET', '/projects')).body.find(
      (each) => each.id === other,
    )!;
    const copied = (await open(card.reels.find(({ name }) => name === 'New')!.id)).body.reel;
    expect(copied.items[0]).toMatchObject({ shot: card.shots.find(({ name }) => name === 'Ride')!.id });
    expect(copied.items[0]).not.toMatchObject({ shot });
  });
});

describe('films of reels', () => {
  it('are ordered with all shots as they are now; what cannot be drawn is told', async () => {
    const id = await made(`/projects/${project}/reels`, {
      name: 'Film',
      reel: reelOf(shotItem(5, { shot })),
    });
    const film = await order(id);
    expect(film.status).toBe(201);
    expect(film.body).toMatchObject({ reelId: id, shotId: null, shotName: 'Film' });
    const of = (await readFilmOf(server.db, film.body.id))!;
    expect(Object.keys(of.inner)).toEqual([shot]);
    expect(of.document).toBeNull();
    expect((await order(id, { last: 6 })).body).toMatchObject({ code: 'beyond' });
    expect((await order(id, { first: 0 })).body).toMatchObject({ code: 'beyond' });
    const empty = await made(`/projects/${project}/reels`, { name: 'Empty' });
    expect((await order(empty)).body).toMatchObject({ code: 'empty' });
    const blind = await made(`/projects/${project}/shots`, { name: 'Blind', document: await blindShot() });
    await put(id, 0, reelOf(shotItem(5, { shot: blind, name: 'Blind' })));
    expect((await order(id)).body.detail).toContain('"Blind" has no camera');
    await server.call('DELETE', `/shots/${blind}`);
    expect((await order(id)).body).toMatchObject({ code: 'inner-gone' });
    expect((await order('00000000-0000-4000-8000-000000000001')).status).toBe(404);
  });
});

async function blindShot(): Promise<Shot> {
  const { document } = (await server.call<{ document: Shot }>('GET', `/shots/${shot}`)).body;
  return { ...document, setup: { ...document.setup, camera: null } };
}
