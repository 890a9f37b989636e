import { blankShot } from '../core/document';
import { DrawingBrowser } from '../render/drawing-browser';

const TRIES = 12;

/** A browser that starts while the machine is busy may fall back to another drawing library: one with this library. */
export async function openLike(library: string): Promise<DrawingBrowser> {
  for (let i = 0; i < TRIES; i++) {
    const browser = await DrawingBrowser.open(() => Promise.reject(new Error('no files')));
    await browser.load(blankShot(), { width: 16, height: 16, alpha: false });
    if (browser.library === library) return browser;
    await browser.close();
  }
  throw new Error(`No browser came up with ${library}.`);
}
