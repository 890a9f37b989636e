import { expect, test } from '@playwright/test';
import { PNG } from 'pngjs';
import {
  blankShot,
  channelsOf,
  PATTERNS,
  type ChannelSpec,
  type Key,
  type Look,
  type Part,
  type Setup,
  type Shape,
  type Shot,
  type Value,
} from '../core/document';
import { apply, changeLook } from '../core/edit';
import { fullRide } from '../demo/full-ride';
import { winch } from '../demo/winch';
import { DrawingBrowser, type PictureSize } from '../render/drawing-browser';

/** Pictures of films against published values: `reference-pictures-sound` names the sources beside the numbers. */

let browser: DrawingBrowser;
test.beforeAll(async () => {
  browser = await DrawingBrowser.open(() => Promise.reject(new Error('no files')));
});
test.afterAll(() => browser.close());
interface Spec {
  readonly kind: Part['kind'];
  readonly values?: Record<string, Value>;
  readonly shape?: Pick<Shape, 'kind' | 'values'>;
  readonly look?: Partial<Look>;
  readonly more?: Partial<Part>;
}

/** A shot of the named parts; `camera` takes it. */
function shotOf(parts: Record<string, Spec>, setup: Partial<Setup> = {}): Shot {
  const shot = blankShot({
    width: 320,
    height: 180,
    background: [0, 0, 0],
    last: 9,
    camera: 'prt_camera',
    ...setup,
  });
  const bare = { tracks: {}, links: {} };
  const made = { parts: {}, shapes: {}, looks: {} } as Record<
    'parts' | 'shapes' | 'looks',
    Record<string, unknown>
  >;
  Object.entries(parts).forEach(([name, spec], order) => {
    const solid = spec.kind === 'solid';
    if (solid) {
      made.shapes[`shp_${name}`] = { ...spec.shape!, ...bare };
      made.looks[`lok_${name}`] = { name, values: {}, ...spec.look, ...bare };
    }
    made.parts[`prt_${name}`] = {
      kind: spec.kind,
      name,
      parent: null,
      order,
      rotationOrder: 'XYZ',
      shape: solid ? `shp_${name}` : null,
      look: solid ? `lok_${name}` : null,
      values: spec.values ?? {},
      ...bare,
      ...spec.more,
    };
  });
  return { ...shot, ...made } as Shot;
}

/** Keys a channel at a frame. */
function keyTo(shot: Shot, address: string, frame: number, value: Value, manner: Key['manner']): Shot {
  const [owner = '', path = ''] = address.split('/');
  const table = owner.startsWith('lok') ? 'looks' : 'parts';
  const entry = shot[table][owner]!;
  const before = entry.tracks[path] ?? { before: 'hold' as const, after: 'hold' as const, keys: {} };
  const keys = { ...before.keys, [`key_${frame}`]: { frame, value, manner } };
  const next = { ...entry, tracks: { ...entry.tracks, [path]: { ...before, keys } } };
  return { ...shot, [table]: { ...shot[table], [owner]: next } };
}

async function draw(shot: Shot, frame = 1, size = [320, 180], alpha = false): Promise<PNG> {
  await browser.load(shot, { width: size[0]!, height: size[1]!, alpha });
  return PNG.sync.read(await browser.draw(frame));
}

const at = (picture: PNG, x: number, y: number): number[] => {
  const place = (Math.round(y) * picture.width + Math.round(x)) * 4;
  return [...picture.data.subarray(place, place + 4)];
};
const light = (code: number): number => {
  const share = code / 255;
  return share <= 0.04045 ? share / 12.92 : ((share + 0.055) / 1.055) ** 2.4;
};

const DARK: Spec = { kind: 'backdrop', values: { mirrored: 0, colour: [0, 0, 0] } };
const camera = (values: Record<string, Value> = {}, more: Partial<Part> = {}): Spec => ({
  kind: 'camera',
  values: { 'location.z': 2, lens: 36, ...values },
  more,
});
/** A wall that shines by itself and takes no light. */
const shining = (rgb: readonly number[], values: Record<string, Value> = {}, size = 4): Spec => {
  const most = Math.max(1, ...rgb);
  return {
    kind: 'solid',
    values,
    shape: { kind: 'plane', values: { width: size, height: size } },
    look: {
      values: {
        colour: rgb.map((part) => part / most) as [number, number, number],
        glow: most,
        roughness: 1,
      },
    },
  };
};

test('bright light comes into the picture by the published operators, of one picture or of several', async () => {
  // Code values: Khronos PBR Neutral, Hill's ACES fit, AgX, none (reference 17.1).
  const wanted: readonly [readonly number[], Record<string, readonly number[]>][] = [
    [[0.02, 0.02, 0.02], { neutral: [8, 8, 8], aces: [21, 21, 21], agx: [37, 37, 37], none: [39, 39, 39] }],
    [
      [0.18, 0.18, 0.18],
      { neutral: [105, 105, 105], aces: [127, 127, 127], agx: [128, 128, 128], none: [118, 118, 118] },
    ],
    [
      [0.5, 0.5, 0.5],
      { neutral: [181, 181, 181], aces: [197, 197, 197], agx: [174, 174, 174], none: [188, 188, 188] },
    ],
    [
      [1, 1, 1],
      { neutral: [240, 240, 240], aces: [226, 226, 226], agx: [202, 202, 202], none: [255, 255, 255] },
    ],
    [
      [4, 0.2, 0.1],
      { neutral: [253, 156, 152], aces: [255, 190, 138], agx: [255, 178, 157], none: [255, 124, 89] },
    ],
    [
      [0.1, 0.3, 6],
      { neutral: [175, 178, 254], aces: [192, 178, 255], agx: [167, 199, 255], none: [89, 149, 255] },
    ],
  ];
  for (const samples of [1, 2] as const)
    for (const [linear, codes] of wanted)
      for (const [tones, code] of Object.entries(codes)) {
        const shot = shotOf(
          { camera: camera(), dark: DARK, wall: shining(linear) },
          {
            samples,
            tones: tones as 'none',
          },
        );
        const seen = at(await draw(shot, 1, [32, 18]), 16, 9);
        code.forEach((part, i) =>
          expect(
            Math.abs(seen[i]! - part),
            `${linear.join()} ${tones} of ${samples}: ${seen.join()}`,
          ).toBeLessThanOrEqual(2),
        );
      }
});

test('each stop of exposure doubles the light', async () => {
  // Grey 0.18 without a curve, -2 to 2 stops (reference 17.2).
  for (const samples of [1, 2] as const)
    for (const [stops, code] of [
      [-2, 60],
      [-1, 85],
      [0, 118],
      [1, 162],
      [2, 221],
    ] as const) {
      const shot = shotOf(
        { camera: camera({ exposure: stops }), dark: DARK, wall: shining([0.18, 0.18, 0.18]) },
        { samples, tones: 'none' },
      );
      expect(Math.abs(at(await draw(shot, 1, [32, 18]), 16, 9)[0]! - code)).toBeLessThanOrEqual(1);
    }
});

test('a white body in white light from everywhere disappears, whatever its roughness', async () => {
  // White furnace (reference 18.4): radiance 1 for metal and dielectric.
  for (const metallic of [0, 1])
    for (const roughness of [0, 0.1, 0.3, 0.5, 0.8, 1]) {
      const shot = shotOf(
        {
          camera: camera(),
          white: {
            kind: 'backdrop',
            values: { mirrored: 1 },
            more: { backdrop: { shows: 'surroundings', surroundings: 'white' } },
          },
          ball: {
            kind: 'solid',
            shape: { kind: 'ball', values: { radius: 0.5 } },
            look: { values: { colour: [1, 1, 1], metallic, roughness } },
          },
        },
        { tones: 'none', exposure: 0.5 },
      );
      const picture = await draw(shot, 1, [96, 54]);
      let most = 0;
      for (let i = 0; i < picture.data.length; i += 4)
        most = Math.max(most, Math.abs(picture.data[i]! - 188));
      expect(most, `metal ${metallic}, roughness ${roughness}`).toBeLessThanOrEqual(2);
    }
});

test('what moves is blurred over its way while the shutter is open', async () => {
  // 320 pixels are 2 m at depth 0: 20 pixels a frame, half of them with the shutter at 180 degrees (reference 19.2).
  const metre = 160;
  let shot = shotOf(
    {
      camera: camera({ shutter: 180 }),
      dark: DARK,
      bar: {
        ...shining([1, 1, 1], { 'scale.x': 20 / metre / 1 }),
        shape: { kind: 'plane', values: { width: 1, height: 1 } },
      },
    },
    { samples: 64, tones: 'none' },
  );
  shot = keyTo(shot, 'prt_bar/location.x', 1, 0, 'linear');
  shot = keyTo(shot, 'prt_bar/location.x', 9, (8 * 20) / metre, 'linear');
  const picture = await draw(shot, 3);
  let covered = 0;
  let edge = 0;
  for (let x = 0; x < 320; x++) {
    const share = light(at(picture, x, 90)[0]!);
    covered += share;
    if (share > 0.02 && share < 0.98) edge++;
  }
  // The light is that of the bar, spread over two edges of ten pixels each.
  expect(Math.abs(covered - 20)).toBeLessThan(0.3);
  expect(Math.abs(edge - 20)).toBeLessThanOrEqual(2);
  // The middle of the bar at its frame is the middle of what is seen: the shutter opens before and closes after.
  const middle = 160 + 2 * 20;
  expect(Math.abs(light(at(picture, middle - 10, 90)[0]!) - 0.5)).toBeLessThan(0.08);
  expect(Math.abs(light(at(picture, middle + 10, 90)[0]!) - 0.5)).toBeLessThan(0.08);
});

test('what is out of focus is blurred by the thin lens', async () => {
  // Circle of confusion of a point (reference 19.1); the field does not narrow by focusing, as a thin lens's would: f/S for f/(S-f).
  const [lens, stop, focus, distance, width] = [50, 1.8, 2, 1, 1280];
  const across = (lens / stop) * (lens / 1000 / focus) * (Math.abs(distance - focus) / distance);
  const pixels = (across / 36) * width;
  const dot = 0.002;
  const size = [width, 96];
  const of = (sharpAt: number): Shot =>
    shotOf(
      {
        camera: camera({ 'location.z': distance, lens, aperture: stop, focus: sharpAt }),
        dark: DARK,
        dot: { ...shining([10, 10, 10]), shape: { kind: 'ball', values: { radius: dot } } },
      },
      { samples: 64, tones: 'none' },
    );
  // A disc of even light has a quarter of its radius squared as the variance across it.
  const diameter = (picture: PNG): number => {
    let [sum, first, second] = [0, 0, 0];
    for (let y = 0; y < picture.height; y++)
      for (let x = 0; x < width; x++) {
        const share = light(at(picture, x, y)[0]!);
        sum += share;
        first += share * x;
        second += share * x * x;
      }
    return 4 * Math.sqrt(second / sum - (first / sum) ** 2);
  };
  const own = diameter(await draw(of(distance), 1, size));
  expect(Math.abs(own - ((2 * dot) / distance) * (lens / 36) * width)).toBeLessThan(0.7);
  const seen = diameter(await draw(of(focus), 1, size));
  expect(Math.abs(Math.sqrt(seen ** 2 - own ** 2) - pixels)).toBeLessThan(0.04 * pixels);
});

test('a sun of some size throws a penumbra as wide as its angle and the gap say', async () => {
  // Width 2 tan(size/2) for each metre of gap (reference 18.5); a wall 1 m above the floor, the sun straight above.
  const gap = 1;
  const angle = 20;
  const shot = shotOf(
    {
      camera: { kind: 'camera', values: { 'location.x': 0, 'location.y': 0.9, lens: 36, 'rotation.x': -90 } },
      dark: DARK,
      sun: { kind: 'sun', values: { 'rotation.x': -90, strength: Math.PI, size: angle, light: [1, 1, 1] } },
      floor: {
        kind: 'solid',
        values: { 'rest.x': -90 },
        shape: { kind: 'plane', values: { width: 8, height: 8 } },
        look: { values: { colour: [0.5, 0.5, 0.5], roughness: 1 } },
      },
      roof: {
        kind: 'solid',
        values: { 'location.x': -2, 'location.y': gap },
        shape: { kind: 'box', values: { width: 4, height: 0.01, depth: 8 } },
        look: { values: {} },
      },
    },
    { samples: 64, tones: 'none' },
  );
  const picture = await draw(shot, 1, [320, 180]);
  // 320 pixels show 0.9 m of the floor.
  const row = Array.from({ length: 320 }, (_, x) => light(at(picture, x, 90)[0]!));
  const full = row.at(-1)!;
  const place = (share: number): number => row.findIndex((value) => value >= share * full) * (0.9 / 320);
  // Of a disc, 0.0721 of the width from the edge 2.5 % are visible; between 19.55 % and 80.45 % lies half of it.
  const half = place(0.804498891) - place(0.195501109);
  const wanted = 2 * gap * Math.tan((angle * Math.PI) / 360);
  expect(Math.abs(half - wanted / 2)).toBeLessThan(0.025);
  expect(full).toBeGreaterThan(0.4);
  expect(row[0]).toBeLessThan(0.02);
});

/** A floor seen from straight above with parallel lines, 1.6 m by 0.9 m of it. */
const fromAbove = (half = 0.8): Spec => ({
  kind: 'camera',
  values: { 'location.y': 4, 'rotation.x': -90, width: half * 2 },
  more: { projection: 'parallel' },
});
const floorOf = (look: Partial<Look>): Spec => ({
  kind: 'solid',
  values: { 'rest.x': -90 },
  shape: { kind: 'plane', values: { width: 8, height: 8 } },
  look,
});

test('metal mirrors one light as the microfacets of Trowbridge and Reitz do', async () => {
  // D, V and F of glTF 2.0, appendix B.3: GGX, height-correlated Smith (Heitz 2014), Schlick.
  const lobe = (roughness: number, angle: number): number => {
    const a2 = roughness ** 4;
    const [nl, nv, nh] = [Math.cos(angle), 1, Math.cos(angle / 2)];
    const d = a2 / (Math.PI * (nh * nh * (a2 - 1) + 1) ** 2);
    return (d * 0.5) / (nl * Math.sqrt(nv * nv * (1 - a2) + a2) + nv * Math.sqrt(nl * nl * (1 - a2) + a2));
  };
  // Light that meets several facets is put back as Turquin (2019) does: by what one facet loses, summed over the half globe.
  const kept = (roughness: number): number => {
    const steps = 20_000;
    let sum = 0;
    for (let i = 0; i < steps; i++) {
      const angle = ((i + 0.5) / steps) * (Math.PI / 2);
      sum += lobe(roughness, angle) * Math.cos(angle) * Math.sin(angle);
    }
    return (sum * 2 * Math.PI * Math.PI) / 2 / steps;
  };
  const wanted = (roughness: number, degrees: number, f0: number): number => {
    const angle = (degrees * Math.PI) / 180;
    const f = f0 + (1 - f0) * (1 - Math.cos(angle / 2)) ** 5;
    return lobe(roughness, angle) * f * Math.cos(angle) * (1 + f0 * (1 / kept(roughness) - 1));
  };
  for (const [roughness, degrees] of [
    [0.3, 0],
    [0.3, 20],
    [0.5, 30],
    [0.7, 50],
    [0.85, 60],
  ] as const) {
    const colour = [0.9, 0.6, 0.25] as const;
    const most = wanted(roughness, degrees, 0.9);
    // As bright as shows best.
    const strength = 0.8 / most;
    const shot = shotOf(
      {
        camera: fromAbove(),
        dark: DARK,
        sun: { kind: 'sun', values: { 'rotation.x': degrees - 90, strength, light: [1, 1, 1] } },
        floor: floorOf({ values: { colour: [...colour], metallic: 1, roughness } }),
      },
      { tones: 'none' },
    );
    const picture = await draw(shot);
    colour.forEach((f0, i) => {
      const share = wanted(roughness, degrees, f0) * strength;
      const code = 255 * (share <= 0.0031308 ? 12.92 * share : 1.055 * share ** (1 / 2.4) - 0.055);
      expect(
        Math.abs(at(picture, 160, 90)[i]! - code),
        `roughness ${roughness}, ${degrees}°, ${f0}`,
      ).toBeLessThan(2);
    });
  }
});

test('a panel lights a floor by its form, less what a plate before it hides', async () => {
  const [side, height, plate, gap, strength] = [1, 2, 0.6, 1, 1.4] as const;
  // Lambert's law summed over a fine grid of the panel, with and without the plate half way.
  const lit = (x: number, hidden: boolean): number => {
    const steps = 200;
    let sum = 0;
    for (let i = 0; i < steps; i++)
      for (let k = 0; k < steps; k++) {
        const [px, pz] = [((i + 0.5) / steps - 0.5) * side, ((k + 0.5) / steps - 0.5) * side];
        const [mx, mz] = [x + ((px - x) * gap) / height, (pz * gap) / height];
        if (hidden && Math.abs(mx) < plate / 2 && Math.abs(mz) < plate / 2) continue;
        const square = (px - x) ** 2 + pz ** 2 + height ** 2;
        sum += (height * height) / square ** 2 / steps ** 2;
      }
    return (sum * strength * side * side) / Math.PI;
  };
  const scene = (hidden: boolean, values: Record<string, Value> = {}): Shot =>
    shotOf(
      {
        camera: fromAbove(1.6),
        dark: DARK,
        panel: {
          kind: 'area',
          values: {
            ...{ 'location.y': height, 'rotation.x': -90, width: side, height: side, strength: strength * 2 },
            ...{ light: [1, 1, 1], ...values },
          },
        },
        floor: floorOf({ values: { colour: [1, 1, 1], roughness: 1 } }),
        ...(hidden
          ? {
              plate: {
                kind: 'solid',
                values: { 'location.y': gap },
                shape: { kind: 'box', values: { width: plate, height: 0.002, depth: plate } },
                look: { values: { colour: [0, 0, 0], roughness: 1 } },
              },
            }
          : {}),
      } satisfies Record<string, Spec>,
      { samples: 64, tones: 'none' },
    );
  const places = [0.45, 0.6, 0.75, 0.9, 1.3];
  const seen = (picture: PNG): number[] => places.map((x) => light(at(picture, 160 + x * 100, 90)[0]!));
  // What a rough white floor mirrors at grazing light is no part of Lambert's law: told by the open floor.
  const open = seen(await draw(scene(false)));
  const behind = seen(await draw(scene(true)));
  places.forEach((x, i) => {
    expect(Math.abs(open[i]! / (2 * lit(x, false)) - 1), `open floor at ${x} m`).toBeLessThan(0.06);
    expect(Math.abs(behind[i]! / open[i]! - lit(x, true) / lit(x, false)), `shade at ${x} m`).toBeLessThan(
      0.06,
    );
  });
  expect(behind[0]! / open[0]!).toBeLessThan(0.6);
  const without = seen(await draw(scene(true, { shadow: 0 })));
  without.forEach((value, i) => expect(Math.abs(value - open[i]!)).toBeLessThan(0.01));
});

test('a lamp that follows the glow of a part shines in its colours, as strongly, and not while it is not shown', async () => {
  const scene = (bulb: Record<string, Value>, glow: number): Shot =>
    shotOf(
      {
        camera: fromAbove(),
        dark: DARK,
        lamp: {
          kind: 'point',
          values: { 'location.y': 1, strength: 2, reach: 0, light: [1, 1, 0.5] },
          more: { glowOf: 'prt_bulb' },
        },
        floor: floorOf({ values: { colour: [0.8, 0.8, 0.8], roughness: 1 } }),
        // It stands aside: its light is that of the lamp.
        bulb: {
          kind: 'solid',
          values: { 'location.x': 50, ...bulb },
          shape: { kind: 'ball', values: { radius: 0.1 } },
          look: { values: { colour: [1, 0.5, 1], glowcolour: [1, 1, 0.5], glow } },
        },
      },
      { tones: 'none' },
    );
  const floor = async (shot: Shot): Promise<number[]> =>
    at(await draw(shot), 160, 90)
      .slice(0, 3)
      .map(light);
  const [red, green, blue] = (await floor(scene({}, 1))) as [number, number, number];
  expect(red).toBeGreaterThan(0.2);
  expect(green / red).toBeCloseTo(0.5, 1);
  expect(blue / red).toBeCloseTo(0.25, 1);
  const [half] = await floor(scene({}, 0.5));
  expect(half! / red).toBeCloseTo(0.5, 1);
  expect(await floor(scene({}, 0))).toEqual([0, 0, 0]);
  expect(await floor(scene({ visible: 0 }, 1))).toEqual([0, 0, 0]);
});

test('a sky kept off a floor below a roof leaves the light of an open floor as it is', async () => {
  const of = (contact: number, roof: boolean): Shot =>
    shotOf(
      {
        camera: { kind: 'camera', values: { 'location.y': 3, lens: 36, 'rotation.x': -90 } },
        dark: DARK,
        sky: { kind: 'sky', values: { strength: 1, light: [1, 1, 1], ground: [0, 0, 0], contact } },
        floor: {
          kind: 'solid',
          values: { 'rest.x': -90 },
          shape: { kind: 'plane', values: { width: 8, height: 8 } },
          look: { values: { colour: [0.5, 0.5, 0.5], roughness: 1 } },
        },
        ...(roof
          ? {
              roof: {
                kind: 'solid' as const,
                values: { 'location.x': 1.2, 'location.y': 0.3 },
                shape: { kind: 'box' as const, values: { width: 2, height: 0.02, depth: 3 } },
                look: { values: { colour: [0, 0, 0] as [number, number, number] } },
              },
            }
          : {}),
      },
      { samples: 64, tones: 'none' },
    );
  const [x, y] = [100, 90];
  const open = light(at(await draw(of(0, false)), x, y)[0]!);
  expect(Math.abs(light(at(await draw(of(1, false)), x, y)[0]!) - open)).toBeLessThan(open * 0.04);
  // Right beside the edge of a low, wide roof about half of the sky is left.
  const beside = light(at(await draw(of(1, true)), 174, y)[0]!);
  expect(beside).toBeGreaterThan(open * 0.35);
  expect(beside).toBeLessThan(open * 0.8);
});

test('cameras show a metre, or a pixel, where they say', async () => {
  const edges = (picture: PNG, y: number): [number, number] => {
    const row = Array.from({ length: picture.width }, (_, x) => at(picture, x, y)[0]! > 127);
    return [row.indexOf(true), row.lastIndexOf(true)];
  };
  const wall = (values: Record<string, Value>): Spec => ({
    ...shining([1, 1, 1], values),
    shape: { kind: 'plane', values: { width: 1, height: 0.6 } },
  });
  // 4 m wide: a metre is 80 pixels, however far away.
  for (const z of [0, -30]) {
    const shot = shotOf({
      camera: camera({ width: 4 }, { projection: 'parallel' }),
      dark: DARK,
      wall: wall({ 'location.x': 0.5, 'location.z': z }),
    });
    expect(edges(await draw(shot), 90)).toEqual([160, 239]);
  }
  // A layer of 100 pixels at depth 0 is 100 pixels wide from wherever the camera stands; behind it is smaller.
  for (const z of [1, 2, 9]) {
    const of = (depth: number): Shot =>
      shotOf({
        camera: camera({ 'location.z': z }, { projection: 'pixels' }),
        dark: DARK,
        wall: wall({ 'location.x': 0.5, 'location.z': depth }),
      });
    expect(edges(await draw(of(0)), 90)).toEqual([160, 259]);
    const [from, to] = edges(await draw(of(-z)), 90);
    expect(to - from + 1).toBe(50);
  }
});

test('half of a layer that can be seen through is kept as alpha', async () => {
  for (const samples of [1, 2] as const)
    for (const opacity of [0.25, 0.5, 0.75]) {
      const shot = shotOf(
        { camera: camera(), dark: DARK, wall: shining([1, 1, 1], { opacity }) },
        { samples, tones: 'none' },
      );
      const seen = at(await draw(shot, 1, [32, 18], true), 16, 9);
      expect(Math.abs(seen[3]! - 255 * opacity)).toBeLessThanOrEqual(2);
      expect(seen[0]).toBeGreaterThanOrEqual(253);
      // By transparency of the look it is the same.
      const clear = apply(shot, {
        label: '',
        patches: [
          { path: ['looks', 'lok_wall', 'values', 'transparency'], before: undefined, after: 1 - opacity },
          { path: ['parts', 'prt_wall', 'values', 'opacity'], before: opacity, after: undefined },
        ],
      });
      expect(at(await draw(clear, 1, [32, 18], true), 16, 9)).toEqual(seen);
    }
});

test('only shadows are kept of a floor that shows nothing else', async () => {
  const parts: Record<string, Spec> = {
    camera: { kind: 'camera', values: { 'location.y': 4, 'rotation.x': -90 } },
    dark: DARK,
    sun: { kind: 'sun', values: { 'rotation.x': -90, 'rotation.y': 0 } },
    floor: {
      kind: 'solid',
      values: { 'rest.x': -90 },
      shape: { kind: 'plane', values: { width: 9, height: 9 } },
      look: { shadow: 'only' },
    },
    roof: {
      kind: 'solid',
      values: { 'location.y': 1, 'location.x': -6.5 },
      shape: { kind: 'box', values: { width: 12, height: 0.01, depth: 9 } },
      look: { shadow: 'thrown' },
    },
  };
  const shot = shotOf({ ...parts, sun: { kind: 'sun', values: { 'rotation.x': -90, 'rotation.y': 0 } } });
  const hidden: Shot = {
    ...shot,
    looks: { ...shot.looks, lok_roof: { ...shot.looks.lok_roof!, values: { transparency: 1 } } },
  };
  const picture = await draw(hidden, 1, [320, 180], true);
  expect(at(picture, 40, 90)[3]).toBeGreaterThan(200);
  expect(at(picture, 300, 90)[3]).toBe(0);
});

test('a flat layer throws a soft shadow right behind it, as far and as wide as it says', async () => {
  // 320 pixels are 2 m. A layer of 0.5 m over a white wall, its shadow 0.25 m to the right, blurred by 0.1 m.
  const of = (values: Record<string, Value>): Shot =>
    shotOf(
      {
        camera: camera(),
        dark: DARK,
        wall: shining([1, 1, 1], { 'location.z': -0.005 }),
        card: {
          kind: 'solid',
          shape: { kind: 'plane', values: { width: 0.5, height: 0.5 } },
          look: { values: { colour: [1, 0, 0], glow: 1, 'drop.angle': 0, 'drop.distance': 0.25, ...values } },
        },
      },
      { tones: 'none' },
    );
  const metre = 160;
  // Without blur it is as dark as its opacity says, from the layer's own edge to 0.25 m beside it.
  const sharp = await draw(of({ 'drop.opacity': 1, 'drop.blur': 0 }));
  const right = 160 + 0.25 * metre;
  expect(at(sharp, right + 20, 90).slice(0, 3)).toEqual([0, 0, 0]);
  expect(at(sharp, right + 0.25 * metre + 4, 90)[0]).toBe(255);
  expect(at(sharp, right + 20, 90 + 0.25 * metre + 4)[0]).toBe(255);
  // A Gaussian edge with a standard deviation of half the blur: 50 % at the edge, 15.9 % one deviation outside (Phi(-1)).
  const soft = await draw(of({ 'drop.opacity': 1, 'drop.blur': 0.1 }));
  const dark = (x: number): number => 1 - light(at(soft, x, 90)[0]!);
  const edge = right + 0.25 * metre;
  const deviation = 0.05 * metre;
  const encoded = (x: number): number => 1 - at(soft, x, 90)[0]! / 255;
  for (const [away, share] of [
    [0, 0.5],
    [1, 0.159],
    [-1, 0.841],
    [2, 0.023],
  ] as const)
    expect(Math.abs(encoded(edge + away * deviation) - share), `${away} deviations`).toBeLessThan(0.05);
  expect(dark(edge + 3 * deviation)).toBeLessThan(0.02);
  // The layer lies over its own shadow.
  expect(at(soft, 160, 90).slice(0, 3)).toEqual([255, 0, 0]);
});

test('the same frame of several samples has the same bytes in two browsers', async () => {
  const shot = shotOf(
    {
      camera: camera({ aperture: 0.5, focus: 1.5, grain: 0.5, bloom: 0.5, vignette: 0.5, shutter: 180 }),
      sky: { kind: 'sky', values: { contact: 1 } },
      sun: { kind: 'sun', values: { 'rotation.x': -50, size: 4 } },
      ball: {
        kind: 'solid',
        shape: { kind: 'ball', values: { radius: 0.4 } },
        look: { pattern: { kind: 'wood', lies: 'body' }, values: { coat: 1 } },
      },
    },
    { samples: 8, tones: 'agx' },
  );
  const first = await draw(shot, 4);
  const other = await DrawingBrowser.open(() => Promise.reject(new Error('no files')), browser.library);
  try {
    await other.load(shot, { width: 320, height: 180, alpha: false });
    await other.draw(7);
    expect(PNG.sync.read(await other.draw(4)).data.equals(first.data)).toBe(true);
    // Another frame has other grain.
    expect(PNG.sync.read(await other.draw(5)).data.equals(first.data)).toBe(false);
  } finally {
    await other.close();
  }
});

/** Another value of a channel, far enough from the first to be seen. */
function other(spec: ChannelSpec): Value {
  if (spec.kind === 'colour') return [0.9, 0.1, 0.05];
  const initial = spec.initial as number;
  const far: Record<string, number> = {
    fog: 3,
    focus: 1.2,
    aperture: 0.05,
    glow: 3,
    bending: 2,
    width: 6,
    lens: 60,
    'pattern.turn': 40,
    turn: 120,
    'picture.turn': 40,
    shutter: 360,
    cone: 12,
    reach: 2.5,
  };
  const wanted =
    far[spec.path] ??
    (spec.max <= 1 ? (initial > 0.5 ? 0.1 : 0.9) : initial + (spec.path === 'size' ? 8 : 1.37));
  return Math.min(spec.max, Math.max(spec.min, wanted));
}

/** Channels that count only between several pictures of a frame: how soft something is, and for how long it is seen. */
const SOFT = new Set(['contact', 'size', 'shadow', 'aperture', 'focus', 'shutter']);

/** Figures as bars: the higher the figure, the wider. */
const DIGITS = Object.fromEntries(
  [...'0123456789-.'].map((sign, i) => [
    sign,
    {
      advance: 0.7,
      outline: [
        { letter: 0, outer: [0, -0.5, 0.1 + i * 0.05, -0.5, 0.1 + i * 0.05, 0.5, 0, 0.5], holes: [] },
      ],
    },
  ]),
);

/** A stage on which everything that a channel of a kind can do is to be seen. */
function stage(samples: Setup['samples']): Shot {
  const shot = shotOf(
    {
      camera: camera({
        'location.z': 2.4,
        'location.y': 0.4,
        'rotation.x': -8,
        aperture: 0.4,
        focus: 2.2,
        shutter: 90,
        bloom: 0.4,
      }),
      backdrop: {
        kind: 'backdrop',
        values: { mirrored: 0.6, fog: 12 },
        more: { backdrop: { shows: 'gradient', surroundings: 'quay' } },
      },
      sun: { kind: 'sun', values: { 'rotation.x': -50, 'rotation.y': 40, size: 2 } },
      sky: { kind: 'sky', values: { contact: 0.3 } },
      point: {
        kind: 'point',
        values: { 'location.x': -1, 'location.y': 0.8, 'location.z': 0.8, shadow: 1, size: 0.3 },
      },
      spot: { kind: 'spot', values: { 'location.x': 1, 'location.y': 1.5, 'rotation.x': -90, size: 0.3 } },
      area: { kind: 'area', values: { 'location.y': 1.5, 'location.z': 1, 'rotation.x': -60 } },
      floor: {
        kind: 'solid',
        values: { 'rest.x': -90, 'location.y': -0.5 },
        shape: { kind: 'plane', values: { width: 12, height: 12 } },
        look: { values: { colour: [0.4, 0.4, 0.4] } },
      },
      ball: {
        kind: 'solid',
        shape: { kind: 'ball', values: { radius: 0.5 } },
        look: {
          values: { glow: 0.2, coat: 0.3, sheen: 0.3, glass: 0.3, thickness: 0.2, 'pattern.softness': 0.2 },
          pattern: { kind: 'checks', lies: 'surface' },
        },
      },
      card: {
        kind: 'solid',
        values: { 'location.x': -0.9, 'location.z': 0.2 },
        shape: { kind: 'plane', values: { width: 0.5, height: 0.4 } },
        look: { values: { 'drop.opacity': 0.5 } },
      },
      callout: {
        kind: 'callout',
        values: {
          'location.y': 0.1,
          'words.x': 0.3,
          plate: 0.5,
          height: 0.1,
          line: 0.02,
          dot: 0.03,
          drawn: 0.9,
        },
        more: {
          callout: {
            text: { text: '#|1', font: 'oswald', space: 0.3, glyphs: { ...DIGITS } },
            outline: [],
          },
        },
      },
      lamp: { ...shining([6, 6, 6], { 'location.x': 0.9, 'location.y': 0.5 }, 0.3) },
    },
    { samples },
  );
  const moved = keyTo(shot, 'prt_lamp/location.y', 1, 0.5, 'linear');
  return keyTo(moved, 'prt_lamp/location.y', 9, 0.5, 'linear');
}

for (const owner of [
  'lok_ball',
  'lok_card',
  'prt_camera',
  'prt_backdrop',
  'prt_sun',
  'prt_sky',
  'prt_point',
  'prt_spot',
  'prt_area',
  'prt_callout',
])
  test(`each channel of ${owner.slice(4)} is seen to change the picture at the middle frame`, async () => {
    test.setTimeout(240_000);
    const size = [112, 64];
    const [sharp, soft] = [stage(1), stage(4)];
    const before = new Map<Shot, PNG>();
    const groups = new Set([
      'Look',
      'Finish',
      'Pattern',
      'Light',
      'Camera',
      'Focus and film',
      'Backdrop',
      'Fog',
      'Drop shadow',
      'Callout',
    ]);
    for (const spec of channelsOf(sharp, owner)) {
      const still = SOFT.has(spec.path) ? soft : sharp;
      if (!groups.has(spec.group) || !spec.animatable) continue;
      // Each look has here what only it has.
      if (owner === 'lok_card' ? spec.needs !== 'layer' : spec.needs === 'layer') continue;
      let shot = still;
      // A size counts where the pattern goes through the body, the width of a picture where lines are parallel.
      if (spec.path === 'pattern.size')
        shot = apply(shot, changeLook(shot, owner, { pattern: { kind: 'checks', lies: 'body' } }));
      if (spec.needs === 'parallel')
        shot = {
          ...shot,
          parts: { ...shot.parts, prt_camera: { ...shot.parts.prt_camera!, projection: 'parallel' } },
        };
      // What moves is blurred, and nothing else does here.
      if (spec.path === 'shutter') shot = keyTo(shot, 'prt_lamp/location.y', 9, 1.5, 'linear');
      const first =
        shot.parts[owner]?.values[spec.path] ?? shot.looks[owner]?.values[spec.path] ?? spec.initial;
      const stepped = spec.kind === 'switch' || spec.whole === true;
      const last = stepped ? 1 - (first as number) : other(spec);
      const unkeyed = before.get(shot) ?? (await draw(shot, 5, size));
      if (shot === still) before.set(shot, unkeyed);
      const address = `${owner}/${spec.path}`;
      const manner = stepped ? 'hold' : 'linear';
      shot = keyTo(shot, address, 1, first, manner);
      shot = keyTo(shot, address, stepped ? 5 : 9, last, manner);
      const keyed = await draw(shot, 5, size);
      expect(keyed.data.equals(unkeyed.data), `${address} from ${String(first)} to ${String(last)}`).toBe(
        false,
      );
    }
  });

test('round shapes have as many sides as are seen: the ride is that of the finest ones within 45 dB', async () => {
  // Sounds are left out: nothing of the picture's shapes hangs on them.
  const { sounds: _sounds, ...ride } = fullRide();
  const shot = { ...ride, sounds: {} } as Shot;
  const size = { width: 640, height: 360, alpha: false };
  for (const frame of [1, 90]) {
    await browser.load(shot, size);
    const seen = PNG.sync.read(await browser.draw(frame));
    await browser.load(shot, { ...size, finest: true });
    const finest = PNG.sync.read(await browser.draw(frame));
    let squares = 0;
    for (let i = 0; i < seen.data.length; i++) squares += (seen.data[i]! - finest.data[i]!) ** 2;
    // Alpha, the same in both, is no part of it.
    const error = squares / ((seen.data.length * 3) / 4);
    expect(10 * Math.log10(255 ** 2 / error)).toBeGreaterThan(45);
  }
});

test('parts that share a look are drawn together, and look as if each were drawn by itself', async () => {
  const scene = (shared: boolean): Shot => {
    const part = (i: number): Spec => ({
      kind: 'solid',
      values: {
        ...{ 'location.x': ((i % 6) - 2.5) * 0.3, 'location.y': (Math.floor(i / 6) - 1.5) * 0.3 },
        ...{ 'rotation.x': i * 7, 'rotation.y': i * 13, 'scale.x': i === 5 ? 1.5 : 1 },
      },
      shape: {
        kind: i % 2 ? 'box' : 'gear',
        values: i % 2 ? { width: 0.2, height: 0.2, depth: 0.2 } : { module: 0.01 },
      },
      look: { values: { colour: [0.7, 0.3, 0.15], roughness: 0.4, metallic: 0.5 } },
    });
    const shot = shotOf({
      camera: camera({ 'location.z': 3 }),
      sun: { kind: 'sun', values: { 'rotation.x': -40, 'rotation.y': 30, strength: 3 } },
      sky: { kind: 'sky' },
      ...Object.fromEntries(Array.from({ length: 24 }, (_, i) => [`p${i}`, part(i)])),
    });
    if (!shared) return shot;
    const parts = Object.entries(shot.parts).map(([id, entry]) => [
      id,
      entry.kind === 'solid' ? { ...entry, look: 'lok_p0' } : entry,
    ]);
    return {
      ...shot,
      parts: Object.fromEntries(parts) as Shot['parts'],
      looks: { lok_p0: shot.looks.lok_p0! },
    };
  };
  const [one, all] = [await draw(scene(false)), await draw(scene(true))];
  let [different, most] = [0, 0];
  one.data.forEach((byte, i) => {
    const off = Math.abs(byte - all.data[i]!);
    if (off > 0) different++;
    most = Math.max(most, off);
  });
  // The places are multiplied in another order: single points of an edge may fall to the other side.
  expect(different / one.data.length).toBeLessThan(0.002);
  expect(most).toBeLessThan(40);
  const mean = one.data.reduce((sum, byte) => sum + byte, 0) / one.data.length;
  expect(mean).toBeGreaterThan(70);
});

test('every pattern is seen, through a body and over its surface', async () => {
  const of = (pattern: Look['pattern']): Shot =>
    shotOf({
      camera: camera(),
      sun: { kind: 'sun', values: { 'rotation.x': -40, 'rotation.y': 30 } },
      ball: {
        kind: 'solid',
        shape: { kind: 'ball', values: { radius: 0.5 } },
        look: {
          values: { colour: [0.4, 0.05, 0.02], metallic: 0.3, 'pattern.times': 3 },
          ...(pattern ? { pattern } : {}),
        },
      },
    });
  const seen = new Set<string>();
  const plain = (await draw(of(undefined), 1, [112, 64])).data.toString('base64');
  for (const kind of PATTERNS)
    for (const lies of ['body', 'surface'] as const) {
      const picture = await draw(of({ kind, lies }), 1, [112, 64]);
      const text = picture.data.toString('base64');
      expect(text, `${kind} ${lies}`).not.toBe(plain);
      // A program that is not taken by the drawing library draws nothing at all.
      expect(at(picture, 56, 32)[0], `${kind} ${lies}`).toBeGreaterThan(8);
      seen.add(text);
    }
  expect(seen.size).toBe(2 * PATTERNS.length);
});

/** How far two pictures are apart: the mean of all numbers, and the share of those that differ by more than 4 of 255. */
function apart(a: Uint8Array | Uint16Array, b: Uint8Array | Uint16Array): { mean: number; off: number } {
  expect(a.length).toBe(b.length);
  let [sum, off] = [0, 0];
  for (let i = 0; i < a.length; i++) {
    const difference = Math.abs(a[i]! - b[i]!);
    sum += difference;
    if (difference > 4) off += 1;
  }
  return { mean: sum / a.length, off: off / a.length };
}

const to8 = (number: number): number => Math.round(number / 257);

test('pictures of two shots are told apart, also those of one number that are on their way at once', async () => {
  const filled = (background: readonly [number, number, number]): Shot =>
    shotOf({ camera: camera() }, { background, tones: 'none' });
  const [red, blue] = [filled([0.8, 0, 0]), filled([0, 0, 0.8])];
  const size = { width: 2560, height: 1440, alpha: false };
  await browser.load(red, size);
  const first = await browser.drawAhead(3);
  await browser.load(blue, size);
  const second = await browser.drawAhead(3);
  const middle = ({ pixels }: { pixels: Buffer }) => [...pixels.subarray(0, 3)];
  const [a, b] = [middle(await first.picture), middle(await second.picture)];
  expect([a[0]! > 200, a[2], b[0], b[2]! > 200]).toEqual([true, 0, 0, true]);
});

test.describe('A picture that is larger than what is drawn at once', () => {
  const both = async (shot: Shot, frame: number, side: number, more: Partial<PictureSize> & Size) => {
    const drawn = async (size: PictureSize) => {
      await browser.load(shot, size);
      const { pixels, deep } = await (await browser.drawAhead(frame)).picture;
      return deep ? new Uint16Array(pixels.buffer, pixels.byteOffset, pixels.length / 2).map(to8) : pixels;
    };
    const whole = await drawn({ alpha: false, ...more });
    const pieces = await drawn({ alpha: false, ...more, side });
    return apart(whole, pieces);
  };
  type Size = Pick<PictureSize, 'width' | 'height'>;

  test('is put together from pieces that cannot be told: light, shadows, glow, dark corners', async () => {
    const { mean, off } = await both(fullRide(), 60, 2816, { width: 3200, height: 640 });
    expect(mean).toBeLessThan(0.02);
    expect(off).toBeLessThan(0.0005);
  });

  test('has its callouts where they belong, also seen through and in 16 bits', async () => {
    const shot = winch();
    for (const more of [{}, { alpha: true }, { deep: true, samples: 4 }]) {
      const { mean, off } = await both(shot, 120, 256, { width: 640, height: 360, ...more });
      expect(mean).toBeLessThan(0.1);
      expect(off).toBeLessThan(0.003);
    }
  });

  test('has its background, grain and blur of what moves in one piece', async () => {
    const shot = shotOf({
      camera: camera({ aperture: 0.5, focus: 1.5, grain: 0.5, vignette: 0.5, shutter: 180 }),
      backdrop: {
        kind: 'backdrop',
        values: { colour: [0.1, 0.2, 0.6], upper: [0.9, 0.5, 0.2] },
        more: { backdrop: { shows: 'gradient', surroundings: 'plain' } },
      },
      wall: shining([0.4, 0.7, 0.2], { 'location.z': -1 }, 1),
    });
    const { mean, off } = await both(shot, 3, 256, { width: 600, height: 340, samples: 4 });
    expect(mean).toBeLessThan(0.1);
    expect(off).toBeLessThan(0.003);
  });
});
