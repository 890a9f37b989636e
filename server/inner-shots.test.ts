import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Inset, Shot } from '../core/document';
import { addPart, setValues, type Change } from '../core/edit';
import { readFilmOf } from './store/renders';
import { startTestServer, type TestServer } from './testing';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.stop());

interface Opened {
  readonly revision: number;
  readonly document: Shot;
}

const made = async (path: string, name: string): Promise<string> =>
  (await server.call<{ id: string }>('POST', path, { name })).body.id;
const newProject = (): Promise<string> => made('/projects', 'Stage');
const newShot = (project: string, name: string): Promise<string> => made(`/projects/${project}/shots`, name);
const open = async (id: string): Promise<Opened> =>
  (await server.call<Opened & Record<string, unknown>>('GET', `/shots/${id}`)).body;
const send = async (id: string, make: (shot: Shot) => Change) => {
  const { revision, document } = await open(id);
  return server.call<{ code?: string; detail?: string }>('POST', `/shots/${id}/changes`, {
    base: revision,
    changes: [{ id: randomUUID(), ...make(document) }],
  });
};
const inset = (shot: string, name: string): Inset => ({
  shot,
  name,
  start: 1,
  speed: 1,
  plays: 'loop',
  until: null,
});
const show = (host: string, shot: string, name: string) =>
  send(host, (now) => addPart(now, { kind: 'shot', name, inset: inset(shot, name) }).change);

describe('shots in shots', () => {
  it('are kept, and refused where one would contain itself, however far down', async () => {
    const project = await newProject();
    const [a, b, c] = [await newShot(project, 'A'), await newShot(project, 'B'), await newShot(project, 'C')];
    expect((await show(a, b, 'B')).status).toBe(200);
    expect((await show(b, c, 'C')).status).toBe(200);
    for (const [host, shot, down] of [
      [c, a, 'C'],
      [b, a, 'B'],
      [a, a, 'A'],
    ] as const) {
      const { status, body } = await show(host, shot, 'A');
      expect(status, down).toBe(422);
      expect(body).toMatchObject({
        code: 'shot-in-itself',
        detail: expect.stringContaining('contain itself') as string,
      });
    }
    // The same by a change of one place.
    const part = Object.entries((await open(b)).document.parts).find(([, entry]) => entry.inset)![0];
    const path = ['parts', part, 'inset', 'shot'];
    const moved = await send(b, () => ({ label: 'Show A', patches: [{ path, before: c, after: a }] }));
    expect(moved.body.code).toBe('shot-in-itself');
    expect((await open(b)).document.parts[part]!.inset!.shot).toBe(c);
    // What shows nothing else is changed as ever.
    expect(
      (await send(c, (now) => setValues(now, [[`${Object.keys(now.parts)[0]}/location.x`, 1]]))).status,
    ).toBe(200);
  });

  it('go into a film as they were when it was ordered; one that is gone is told', async () => {
    const project = await newProject();
    const [a, b, c] = [await newShot(project, 'A'), await newShot(project, 'B'), await newShot(project, 'C')];
    await show(a, b, 'Emblem');
    await show(b, c, 'Lamp');
    const order = { first: 1, last: 2, width: 64, height: 48, format: 'mp4', alpha: false };
    const film = await server.call<{ id: string }>('POST', `/shots/${a}/renders`, order);
    expect(film.status).toBe(201);
    const [wasB, wasC] = [(await open(b)).document, (await open(c)).document];
    await send(c, (now) => addPart(now, { kind: 'hub', name: 'Later' }).change);
    const { inner } = (await readFilmOf(server.db, film.body.id))!;
    expect(inner).toEqual({ [b]: wasB, [c]: wasC });
    await server.call('DELETE', `/shots/${c}`);
    const refused = await server.call<{ detail: string }>('POST', `/shots/${a}/renders`, order);
    expect(refused).toMatchObject({ status: 422, body: { code: 'inner-gone' } });
    expect(refused.body.detail).toContain('"Lamp" shows the shot "Lamp", which is gone');
  });

  it('show the copies of one another in a copy of their project', async () => {
    const project = await newProject();
    const [a, b] = [await newShot(project, 'A'), await newShot(project, 'B')];
    await show(a, b, 'Emblem');
    const { body } = await server.call<{ id: string }>('POST', `/projects/${project}/duplicate`);
    const { body: list } = await server.call<
      { id: string; shots: { id: string; name: string }[] }[] & Record<string, unknown>
    >('GET', '/projects');
    const copies = list.find((entry) => entry.id === body.id)!.shots;
    const idOf = (name: string): string => copies.find((shot) => shot.name === name)!.id;
    const { document } = await open(idOf('A'));
    expect(Object.values(document.parts).flatMap((part) => part.inset?.shot ?? [])).toEqual([idOf('B')]);
    expect(idOf('B')).not.toBe(b);
    // A copy of the shot alone goes on showing the same one.
    const alone = await server.call<{ id: string }>('POST', `/shots/${a}/duplicate`);
    const shown = Object.values((await open(alone.body.id)).document.parts).flatMap(
      (part) => part.inset?.shot ?? [],
    );
    expect(shown).toEqual([b]);
  });
});
