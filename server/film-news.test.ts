import { expect, it } from 'vitest';
import { FilmNews } from './film-news';
import type { News } from './news';
import type { Database } from './store/database';

it('a film is read once for all who follow it, however fast its frames come', async () => {
  let reads = 0;
  let drawn = 0;
  let changed: () => void = () => undefined;
  let stopped = 0;
  const db = {
    query: () => {
      reads++;
      return Promise.resolve({ rows: [{ id: 'film', drawn }] });
    },
  } as unknown as Database;
  const news = {
    follow: (_channel: string, _id: string, tell: () => void) => {
      changed = tell;
      return () => stopped++;
    },
  } as unknown as News;
  const films = new FilmNews(db, news);
  const heard = Array.from({ length: 200 }, () => [] as number[]);
  const stops = heard.map((list) => films.follow('film', (job) => list.push(job.drawn)));
  for (drawn = 1; drawn < 50; drawn++) changed();
  const last = drawn;
  changed();
  while (heard.some((list) => list.at(-1) !== last)) await new Promise((resolve) => setTimeout(resolve, 10));
  // A look for the first who came, and one for all that happened since.
  expect(reads).toBeLessThanOrEqual(3);
  for (const stop of stops) stop();
  expect(stopped).toBe(1);
  const before = reads;
  changed();
  await new Promise((resolve) => setTimeout(resolve, 150));
  expect(reads).toBe(before);
});
