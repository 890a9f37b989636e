import { Color, PerspectiveCamera, type Vector2, type WebGLRenderer } from 'three';
import { describe, expect, it } from 'vitest';
import type { Picture } from '../scene';
import { drawFrame, shotColour } from './draw-frame';

/** A renderer and a picture that write down what is asked of them. */
function recorder() {
  const asked: unknown[][] = [];
  const note =
    (name: string) =>
    (...args: unknown[]): void =>
      void asked.push([name, ...args]);
  const renderer = {
    setViewport: note('viewport'),
    setScissor: note('scissor'),
    setClearColor: note('colour'),
    clear: note('clear'),
    getPixelRatio: () => 2,
    getSize: (to: Vector2) => to.set(320, 180),
  } as unknown as WebGLRenderer;
  const picture = {
    showTo: note('audience'),
    refine: note('refine'),
    draw: note('draw'),
    drawOver: note('over'),
  } as unknown as Picture;
  return { asked, renderer, picture };
}

describe('one frame of a shot', () => {
  const camera = new PerspectiveCamera();
  it('is cleared to its background before anything is drawn, for those who are to see it', () => {
    const { asked, renderer, picture } = recorder();
    const sky = shotColour([0.1, 0.2, 0.3]);
    drawFrame(renderer, picture, { camera, audience: 'film', background: sky });
    expect(asked).toEqual([
      ['colour', sky, 1],
      ['clear'],
      ['audience', 'film'],
      ['refine', camera, 360, 0.12],
      ['draw', renderer, camera, true, false, undefined],
      ['over', renderer, camera, 320 / 180, undefined],
    ]);
    // The document's colours are linear light, which three keeps as they are.
    expect(new Color().setRGB(0.1, 0.2, 0.3).equals(sky)).toBe(true);
  });
  it('is transparent without a background, and only cleared without a camera', () => {
    const { asked, renderer, picture } = recorder();
    drawFrame(renderer, picture, { camera: null, audience: 'film', background: null });
    expect(asked.find(([name]) => name === 'colour')?.[2]).toBe(0);
    expect(asked.some(([name]) => name === 'draw')).toBe(false);
  });
  it('stands in its region, counted from the top of the canvas where the drawing counts from below', () => {
    const { asked, renderer, picture } = recorder();
    const region = { left: 10, top: 30, width: 200, height: 100 };
    drawFrame(renderer, picture, { camera, audience: 'view', background: '#000', region }, 500);
    expect(asked.slice(0, 2)).toEqual([
      ['viewport', 10, 370, 200, 100],
      ['scissor', 10, 370, 200, 100],
    ]);
  });
});
