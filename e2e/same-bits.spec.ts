import { fileURLToPath } from 'node:url';
import { expect, test } from '@playwright/test';
import { rolldown } from 'rolldown';
import { valueHash } from '../bench/value-hash';

test('Node.js and Chromium work out the same bits', async ({ page }) => {
  const bundle = await rolldown({ input: fileURLToPath(new URL('../bench/value-hash.ts', import.meta.url)) });
  const { output } = await bundle.generate({ format: 'iife', name: 'bits' });
  await bundle.close();
  await page.goto('about:blank');
  await page.addScriptTag({ content: output[0].code });
  const inChromium = await page.evaluate(() =>
    (globalThis as unknown as { bits: { valueHash(): string } }).bits.valueHash(),
  );
  const inNode = valueHash();
  console.log(`values of the bench document: ${inNode} in Node.js, ${inChromium} in Chromium`);
  expect(inChromium).toBe(inNode);
  // The measure tells bits apart: the engines' own functions differ between the two.
  const engine = (): string => {
    let sum = '';
    for (let i = 1; i < 4000; i++) sum += Math.pow(i / 7, 1.37) + Math.exp(i / 99) + Math.tan(i);
    return sum;
  };
  expect(await page.evaluate(engine)).not.toBe(engine());
});
