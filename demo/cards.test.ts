import { createHash } from 'node:crypto';
import { expect, it } from 'vitest';
import { paintCard, type CardMotif } from './cards';

it('paints every card as it has always been: shots that are kept name the files by their bytes', () => {
  const painted: Record<CardMotif, string> = {
    boat: '6d6a1e3c8ebac509cd0a011d7fc9761850eccbb1',
    anchor: '27ff64b1f7027d598111b7f220b4d0199e7bba95',
    lamp: '1f04d554911a73817d122d503c388b484954f051',
    wheel: '3509250115f9e2f2aa8331aba6a3c44d90dddd33',
    star: '083bef5e14e2dadf811e25a8fcba5fa88f0a910f',
    stripes: 'b55264ea0223d1b48abf1f2583878a6747318f36',
  };
  for (const [motif, sha1] of Object.entries(painted)) {
    const { data } = paintCard(motif as CardMotif);
    expect(createHash('sha1').update(data).digest('hex'), motif).toBe(sha1);
  }
});
