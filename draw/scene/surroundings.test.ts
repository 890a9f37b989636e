import { describe, expect, it } from 'vitest';
import { WebGLCoordinateSystem, type WebGLRenderer } from 'three';
import { MIRRORED_SIDE, mirroredOf } from './surroundings';

/** Stands in for a card: takes every order and notes how large the targets are that it is given to draw into. */
function noting(): { renderer: WebGLRenderer; sides: number[] } {
  const sides: number[] = [];
  const renderer = new Proxy<Record<string, unknown>>(
    { xr: {}, coordinateSystem: WebGLCoordinateSystem },
    {
      get: (held, name: string) =>
        name in held
          ? held[name]
          : name === 'setRenderTarget'
            ? (target: { width: number } | null) => {
                if (target) sides.push(target.width);
              }
            : () => null,
    },
  );
  return { renderer: renderer as unknown as WebGLRenderer, sides };
}

describe('surroundings for mirrors', () => {
  it('are drawn no larger than their softness has use for, with a level for each roughness down to 8 pixels', () => {
    const { renderer, sides } = noting();
    const texture = mirroredOf(renderer, 'plain');
    expect(sides.length).toBeGreaterThan(6);
    expect(new Set(sides)).toEqual(new Set([MIRRORED_SIDE]));
    expect(texture.mipmaps?.map(({ width }) => width)).toEqual([128, 64, 32, 16, 8]);
  });
});
