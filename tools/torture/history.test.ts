import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterEach, describe, expect, it } from 'vitest';
import { blankShot, type Shot } from '../../core/document';
import { apply, type Patch } from '../../core/edit';
import type { KeptChange } from '../../wire';
import { historyFaults } from './history';

const first = blankShot();
const setLast = (revision: number, before: number, after: number): KeptChange => ({
  revision,
  senderId: `change-${revision}`,
  label: 'Set last frame',
  patches: [{ path: ['setup', 'last'], before, after } satisfies Patch],
});
const SOUND = [setLast(1, 96, 100), setLast(2, 100, 120), setLast(3, 120, 90)];
const IDS = SOUND.map((change) => change.senderId);
const endOf = (changes: readonly KeptChange[]): Shot => changes.reduce<Shot>(apply, first);

let server: Server | null = null;
afterEach(() => server?.close());

/** What is found in a shot whose server answers this. */
async function faultsOf(changes: readonly KeptChange[], document: Shot, revision = changes.length) {
  server = createServer((request, response) => {
    const body = request.url!.includes('/changes') ? changes : { revision, document };
    response.end(JSON.stringify(body));
  });
  await new Promise<void>((resolve) => server!.listen(0, '127.0.0.1', resolve));
  const url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  return (await historyFaults(url, 'shot', first, IDS)).faults.join('; ');
}

describe('a history', () => {
  it('in which all holds has no faults', async () => {
    expect(await faultsOf(SOUND, endOf(SOUND))).toBe('');
  });
  it('that has lost an acknowledged change is found out, even where its numbers have no gap', async () => {
    const shorter = [SOUND[0]!, { ...SOUND[2]!, revision: 2, patches: setLast(2, 100, 90).patches }];
    expect(await faultsOf(shorter, endOf(shorter))).toBe('1 changes that were acknowledged are lost');
  });
  it('with a gap, a change taken twice, a wrong inverse or a shot that is elsewhere is found out', async () => {
    expect(await faultsOf([SOUND[0]!, SOUND[2]!], endOf(SOUND))).toMatch(/revision 2 is missing/);
    const twice = [...SOUND, { ...SOUND[0]!, revision: 4, patches: setLast(4, 90, 100).patches }];
    expect(await faultsOf(twice, endOf(twice))).toBe('1 changes were taken twice');
    const wrong = [setLast(1, 95, 100), SOUND[1]!, SOUND[2]!];
    expect(await faultsOf(wrong, endOf(wrong))).toMatch(/does not lead to its first state/);
    expect(await faultsOf(SOUND, endOf(SOUND), 5)).toMatch(/the shot is at 5, its history at 3/);
  });
});
