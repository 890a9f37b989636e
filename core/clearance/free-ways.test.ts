import { describe, expect, it } from 'vitest';
import { apply, setValues } from '../edit';
import { compile } from '../evaluate';
import type { Shot } from '../document';
import { winch } from '../../demo/winch';
import { emptyShot, shape, solid } from '../testing/random-shot';
import { freeWays } from './free-ways';

const shotOf = (parts: Shot['parts'], shapes: Shot['shapes']): Shot => ({
  ...emptyShot(),
  parts,
  shapes,
  looks: { lok_a: { name: 'Plain', values: {}, tracks: {}, links: {} } },
});

/** Ways of parts, each in digits. */
const found = (shot: Shot, parts: readonly string[], distance = 2) =>
  freeWays(compile(shot), { parts, frame: 1, distances: parts.map(() => distance) }).map(
    ({ way, deeper, blocked }) => ({
      way: way.map((value) => Math.round(value * 1000) / 1000 + 0),
      deeper: Math.round(deeper * 1e4) / 1e4,
      blocked,
    }),
  );

/** A ring on an axle along z: it can leave to both ends only. */
const onAxle = (
  values: Record<string, number>,
  more: Shot['parts'] = {},
  shapes: Shot['shapes'] = {},
): Shot =>
  shotOf(
    {
      prt_axle: solid('Axle', 'shp_axle'),
      prt_ring: solid('Ring', 'shp_ring', { values: { 'rotation.x': 90, ...values } }),
      ...more,
    },
    {
      shp_axle: shape('shaft', { radius: 0.1, length: 1.6, key: 0 }),
      shp_ring: shape('tube', { radius: 0.4, wall: 0.29, height: 0.2 }),
      ...shapes,
    },
  );

describe('where a part is free', () => {
  it('is along its axle for a ring, to the end that leads away from the middle of all', () => {
    for (const z of [0.4, -0.4]) {
      const shot = onAxle({ 'location.z': z });
      const [ring] = found(shot, ['prt_ring', 'prt_axle']);
      expect(ring).toEqual({ way: [0, 0, Math.sign(z)], deeper: 0, blocked: null });
    }
  });

  it('is the other way where a cheek stands in its way, and what has left is in nobody else his way', () => {
    const cheek = { prt_cheek: solid('Cheek', 'shp_cheek', { values: { 'location.z': 0.75 } }) };
    const plate = { shp_cheek: shape('box', { width: 2, height: 2, depth: 0.1 }) };
    const shot = onAxle({ 'location.z': 0.4 }, cheek, plate);
    expect(found(shot, ['prt_ring', 'prt_axle'])[0]).toMatchObject({ way: [0, 0, -1], blocked: null });
    // When the cheek goes first the near end is free.
    expect(found(shot, ['prt_cheek', 'prt_ring', 'prt_axle'])[1]).toMatchObject({
      way: [0, 0, 1],
      blocked: null,
    });
  });

  it('is found along the axes of the part itself, too', () => {
    const turned = { 'rotation.z': 30 };
    const shot = shotOf(
      {
        prt_slot: { ...solid('Slot', 'shp_slot'), values: turned },
        prt_bar: { ...solid('Bar', 'shp_bar'), values: turned },
      },
      {
        // A pipe along y of a part that lies on its side.
        shp_slot: shape('tube', { radius: 0.3, wall: 0.19, height: 1, sides: 48 }),
        shp_bar: shape('cylinder', { radius: 0.1, height: 0.8, sides: 48 }),
      },
    );
    const leaning = apply(
      shot,
      setValues(shot, [
        ['prt_slot/rotation.x', 90],
        ['prt_bar/rotation.x', 90],
      ]),
    );
    const [bar] = found(leaning, ['prt_bar']);
    expect(bar!.deeper).toBe(0);
    expect(Math.abs(bar!.way[1]!)).toBe(0);
    expect(Math.abs(bar!.way[0]!)).toBeCloseTo(Math.sin(Math.PI / 6), 2);
  });

  it('is told as blocked, with what by and how deep, where there is no way at all', () => {
    const wall = (name: string, x: number, y: number, z: number) =>
      solid(name, `shp_${x}${y}${z}`.replaceAll('-', 'n'), {
        values: { 'location.x': x, 'location.y': y, 'location.z': z },
      });
    const walls = [
      [1, 0, 0],
      [-1, 0, 0],
      [0, 1, 0],
      [0, -1, 0],
      [0, 0, 1],
      [0, 0, -1],
    ] as const;
    const names = walls.map(([x, y, z]) => `shp_${x}${y}${z}`.replaceAll('-', 'n'));
    const shot = shotOf(
      {
        prt_core: solid('Core', 'shp_core'),
        ...Object.fromEntries(walls.map(([x, y, z], i) => [`prt_${i}`, wall(`Wall ${i}`, x, y, z)])),
      },
      {
        shp_core: shape('box', { width: 1, height: 1, depth: 1 }),
        ...Object.fromEntries(
          names.map((name) => [name, shape('box', { width: 0.9, height: 0.9, depth: 0.9 })]),
        ),
      },
    );
    const [core] = found(shot, ['prt_core']);
    expect(core!.deeper).toBeGreaterThan(0.3);
    expect(core!.blocked).toMatch(/^prt_\d$/);
  });

  it('takes the wheels of the winch off along its axle, near ones to the front and far ones to the back', () => {
    const shot = winch();
    const idOf = (name: string): string =>
      Object.keys(shot.parts).find((id) => shot.parts[id]!.name === name)!;
    const ways = freeWays(compile(shot), {
      parts: ['Wheel', 'Ratchet'].map(idOf),
      frame: 1,
      distances: [1.5, 1.5],
    });
    expect(ways.map(({ way }) => way)).toEqual([
      [0, 0, 1],
      [0, 0, -1],
    ]);
  });
});
