import type { Key, Part, Recipe, Shape, Shot } from '../document';
import { apply, setLink } from '../edit';
import { applyRecipe, RECIPES, type Roles, type Settings } from '../recipe';
import { pinnedSituations } from './pinned-situations';
import { emptyShot, hub } from './random-shot';
import type { CheckOptions, Problem } from '../check';

/**
 * Situations of the trade, each judged by a handbook or by plain geometry, not by what the checks say: what a check must
 * tell of it, and nothing else. An empty list is a sound shot.
 */
export interface Situation {
  readonly name: string;
  /** Why it is judged so. */
  readonly why: string;
  readonly shot: Shot;
  readonly options?: CheckOptions;
  readonly tells: readonly Problem['code'][];
}

const paint = { name: 'Paint', values: {}, tracks: {}, links: {} };
const shape = (kind: Shape['kind'], values: Shape['values'] = {}): Shape => ({
  kind,
  values,
  tracks: {},
  links: {},
});
const camera: Part = { ...hub('Camera', { values: { 'location.z': 10 } }), kind: 'camera' };
const sun: Part = { ...hub('Sun', { values: { 'rotation.x': -50 } }), kind: 'sun' };

type More = Partial<Part>;
const solid = (name: string, shapeId: string, more: More = {}): Part => ({
  ...hub(name, more),
  kind: 'solid',
  shape: shapeId,
  look: 'lok_a',
});
const repeat = (
  name: string,
  pattern: 'row' | 'stack' | 'ring',
  more: More = {},
  step: string | null = null,
): Part => ({
  ...hub(name, more),
  kind: 'repeat',
  repeat: { pattern, step },
});
const at = (x: number, y = 0, z = 0): Part['values'] => ({
  'location.x': x,
  'location.y': y,
  'location.z': z,
});
const linear = (...rows: [frame: number, value: number][]): Part['tracks'][string] =>
  keyed('linear', ...rows);
function keyed(manner: Key['manner'], ...rows: [frame: number, value: number][]): Part['tracks'][string] {
  return {
    before: 'hold',
    after: 'hold',
    keys: Object.fromEntries(rows.map(([frame, value], i) => [`key_${i}`, { frame, value, manner }])),
  };
}

const SHAPES: Record<string, Shape> = {
  shp_box: shape('box'),
  shp_ball: shape('ball'),
  shp_bar: shape('box', { width: 1, height: 0.1, depth: 0.1 }),
  shp_shaft: shape('cylinder', { sides: 48 }),
  shp_hex: shape('cylinder', { sides: 6 }),
  shp_cone: shape('cone', { sides: 64 }),
  shp_ring: shape('torus', { radius: 0.45, tube: 0.05 }),
  shp_tyre: shape('tube', { radius: 0.5, wall: 0.1, height: 0.2 }),
  shp_gear: shape('gear'),
  shp_pinion: shape('gear', { teeth: 16 }),
  shp_wheel: shape('gear', { teeth: 56 }),
  shp_coarse: shape('gear', { teeth: 56, module: 0.06 }),
  shp_steep: shape('gear', { teeth: 56, pressure: 25 }),
  shp_other: shape('gear', { teeth: 50 }),
  shp_floor: shape('box', { width: 30, height: 1, depth: 30 }),
};

/** A lit shot of 48 frames with a camera that looks along -z from 10 m: it takes 10.29 m by 5.79 m at the origin. */
function scene(
  parts: Record<string, Part>,
  more: Partial<Shot> = {},
  setup: Partial<Shot['setup']> = {},
): Shot {
  const base = emptyShot();
  return {
    ...base,
    setup: { ...base.setup, camera: 'prt_cam', ...setup },
    parts: { prt_cam: camera, prt_sun: sun, ...parts },
    shapes: SHAPES,
    looks: { lok_a: paint },
    ...more,
  };
}

const link = (shot: Shot, address: string, formula: string): Shot =>
  apply(shot, setLink(shot, address, formula));
function cook(shot: Shot, kind: string, roles: Roles, settings: Settings = {}): Shot {
  return apply(shot, applyRecipe(shot, RECIPES.get(kind)!, roles, settings, { random: () => 0.25 }).change);
}

/** A pinion of 16 and a wheel of 56 teeth, module 0.05, that stand so far apart; the pinion turns a quarter. */
function gears(
  distance = 1.8,
  wheel = 'shp_wheel',
  more: { pinion?: More; wheel?: More; parts?: Record<string, Part> } = {},
): Shot {
  return cook(
    scene({
      ...more.parts,
      prt_p: solid('Pinion', 'shp_pinion', {
        tracks: { 'rotation.z': linear([1, 0], [48, 90]) },
        ...more.pinion,
      }),
      prt_w: solid('Wheel', wheel, { values: at(distance), ...more.wheel }),
    }),
    'gear-outer',
    { driver: 'prt_p/rotation.z', driven: 'prt_w/rotation.z' },
    { teeth1: 16, teeth2: 56 },
  );
}

const turning = (shapeId: string, perFrame: number, axis = 'z', more: More = {}): Record<string, Part> => ({
  prt_t: solid('Turner', shapeId, {
    tracks: { [`rotation.${axis}`]: linear([1, 0], [48, 47 * perFrame]) },
    ...more,
  }),
});

/** Spokes in a ring below a hub that turns about y. */
const spokes = (count: number, perFrame: number): Record<string, Part> => ({
  prt_h: hub('Carousel', { tracks: { 'rotation.y': linear([1, 0], [48, 47 * perFrame]) } }),
  prt_r: repeat('Spokes', 'ring', { parent: 'prt_h', values: { copies: count, gap: 1 } }),
  prt_s: solid('Spoke', 'shp_bar', { parent: 'prt_r' }),
});

/**
 * A wheel of radius 0.5 that stands by its rest turn, its axle towards the camera: about that it turns by its turn about y,
 * clockwise (below 0) when it rolls to the right.
 */
const wheel = (more: More = {}): Part =>
  solid('Hoop', 'shp_tyre', { ...more, values: { 'rest.x': 90, 'location.y': 0.5, ...more.values } });
const ONE_TURN = Math.PI;

const rolling = (formula: string): Shot => {
  const shot = scene({
    prt_a: hub('Cart', { values: at(0, 0.5), tracks: { 'location.x': linear([1, 0], [41, 2]) } }),
  });
  const made = cook(shot, 'roll', { way: 'prt_a/location.x', wheel: 'prt_a/rotation.z' }, { radius: 0.35 });
  return formula === '' ? made : link(made, 'prt_a/rotation.z', formula);
};

const dial = (value: Part['tracks'][string]): Shot['dials'] => ({
  dia_a: { name: 'turns', quantity: 'none', min: 0, max: 100, values: {}, tracks: { value }, links: {} },
});

const lost = (shot: Shot, address: string): Shot => {
  const [owner, path] = address.split('/') as [string, string];
  const part = shot.parts[owner]!;
  const { [path]: _gone, ...links } = part.links;
  return { ...shot, parts: { ...shot.parts, [owner]: { ...part, links } } };
};
const light = (kind: Part['kind'], values: Part['values'] = {}): Part => ({
  ...hub('Lamp', { values }),
  kind,
});
const darkScene = (parts: Record<string, Part>, looks: Shot['looks'] = { lok_a: paint }): Shot => {
  const shot = scene({ prt_b: solid('Box', 'shp_box'), ...parts }, { looks });
  const { prt_sun: _none, ...rest } = shot.parts;
  return { ...shot, parts: rest };
};
const loops: CheckOptions = { loops: true };
const recipe = (shot: Shot): Recipe => Object.values(shot.recipes)[0]!;

const withSamples = (shot: Shot, samples: NonNullable<Shot['setup']['samples']>): Shot => ({
  ...shot,
  setup: { ...shot.setup, samples },
});

export const SITUATIONS: readonly Situation[] = [
  ...pinnedSituations(scene({})),
  // The scene as a whole.
  {
    name: 'a box in front of the camera, lit',
    why: 'plain',
    shot: scene({ prt_b: solid('Box', 'shp_box') }),
    tells: [],
  },
  {
    name: 'no camera',
    why: 'nothing can be taken',
    shot: scene({ prt_b: solid('Box', 'shp_box') }, {}, { camera: null }),
    tells: ['camera.none'],
  },
  { name: 'no light at all', why: 'nothing shines', shot: darkScene({}), tells: ['light.none'] },
  {
    name: 'lit by a spot only',
    why: 'a spot is a light',
    shot: darkScene({ prt_l: light('spot', at(0, 0, 4)) }),
    tells: [],
  },
  {
    name: 'lit by a panel only',
    why: 'an area light is a light',
    shot: darkScene({ prt_l: light('area', at(0, 0, 4)) }),
    tells: [],
  },
  { name: 'lit by a sky only', why: 'a sky is a light', shot: darkScene({ prt_l: light('sky') }), tells: [] },
  {
    name: 'a lamp of strength 0',
    why: 'it gives no light',
    shot: darkScene({ prt_l: light('point', { strength: 0 }) }),
    tells: ['light.none'],
  },
  {
    name: 'a lamp that is hidden throughout',
    why: 'it gives no light',
    shot: darkScene({ prt_l: light('point', { visible: 0 }) }),
    tells: ['light.none'],
  },
  {
    name: 'a lamp that comes on at frame 30',
    why: 'there is light from then on',
    shot: darkScene({ prt_l: { ...light('point'), tracks: { strength: linear([29, 0], [30, 8]) } } }),
    tells: [],
  },
  {
    name: 'a look that glows',
    why: 'it shines by itself',
    shot: darkScene({}, { lok_a: { ...paint, values: { glow: 2 } } }),
    tells: [],
  },
  {
    name: 'a look with its glow set to 0',
    why: 'it does not shine',
    shot: darkScene({}, { lok_a: { ...paint, values: { glow: 0 } } }),
    tells: ['light.none'],
  },
  {
    name: 'a sound without its file',
    why: 'it cannot be heard',
    shot: scene({}, { sounds: { snd_a: { name: 'organ', start: 1, values: {}, tracks: {}, links: {} } } }),
    tells: ['file.missing'],
  },
  {
    name: 'a sun of some size in a shot of one picture a frame',
    why: 'its shadow is hard',
    shot: scene({ prt_z: { ...hub('Soft sun', { values: { size: 4 } }), kind: 'sun' } }),
    tells: ['samples.one'],
  },
  {
    name: 'a sun of some size in a shot of eight pictures a frame',
    why: 'its shadow is soft',
    shot: withSamples(scene({ prt_z: { ...hub('Soft sun', { values: { size: 4 } }), kind: 'sun' } }), 8),
    tells: [],
  },
  {
    name: 'a sun whose size is 0',
    why: 'nothing is asked for',
    shot: scene({ prt_z: { ...hub('Hard sun', { values: { size: 0 } }), kind: 'sun' } }),
    tells: [],
  },
  {
    name: 'the f-number of a camera that does not take the shot',
    why: 'nobody sees through it',
    shot: scene({ prt_z: { ...hub('Other camera', { values: { aperture: 2 } }), kind: 'camera' } }),
    tells: [],
  },
  {
    name: 'transparency asked of MP4',
    why: 'H.264 keeps none',
    shot: scene({}),
    options: { film: { format: 'MP4', alpha: true, keepsAlpha: false } },
    tells: ['alpha.format'],
  },
  {
    name: 'transparency asked of WebM',
    why: 'VP9 keeps it',
    shot: scene({}),
    options: { film: { format: 'WebM', alpha: true, keepsAlpha: true } },
    tells: [],
  },
  // Keys.
  {
    name: 'keys beyond the range',
    why: 'their motion is not in the film',
    shot: scene({ prt_a: hub('A', { tracks: { 'location.x': linear([60, 0], [70, 1]) } }) }),
    tells: ['keys.outside-range'],
  },
  {
    name: 'one key before the range',
    why: 'a value that is meant to stand',
    shot: scene({ prt_a: hub('A', { tracks: { 'location.x': linear([-4, 2]) } }) }),
    tells: [],
  },
  {
    name: 'keys before the range and after it',
    why: 'the motion between them is in the film',
    shot: scene({ prt_a: hub('A', { tracks: { 'location.x': linear([-20, 0], [70, 1]) } }) }),
    tells: [],
  },
  {
    name: 'keys before the range that repeat',
    why: 'the cycle goes on',
    shot: scene({
      prt_a: hub('A', {
        tracks: { 'location.x': { ...linear([-20, 0], [-10, 1], [0, 0]), after: 'repeat' } },
      }),
    }),
    tells: [],
  },
  {
    name: 'two keys on one frame',
    why: 'one hides the other',
    shot: scene({ prt_a: hub('A', { tracks: { 'location.x': linear([5, 0], [5, 1]) } }) }),
    tells: ['keys.same-frame'],
  },
  {
    name: 'two keys half a frame apart',
    why: 'no frame shows both',
    shot: scene({ prt_a: hub('A', { tracks: { 'location.x': linear([5, 0], [5.4, 1]) } }) }),
    tells: ['keys.close'],
  },
  {
    name: 'a key between two frames, far from others',
    why: 'a curve may pass a key between frames',
    shot: scene({ prt_a: hub('A', { tracks: { 'location.x': linear([5.5, 0], [9, 1]) } }) }),
    tells: [],
  },
  {
    name: 'a switch between two frames',
    why: 'it shows a frame late',
    shot: scene({ prt_a: hub('A', { tracks: { visible: keyed('hold', [5.5, 0], [9, 1]) } }) }),
    tells: ['keys.between-frames'],
  },
  // Links.
  {
    name: 'a link to nobody',
    why: 'no such name',
    shot: link(scene({ prt_a: hub('A') }), 'prt_a/location.x', 'Nobody.location.x'),
    tells: ['link.error'],
  },
  {
    name: 'a link that reads a still channel',
    why: 'nothing can come of it',
    shot: link(scene({ prt_a: hub('A') }), 'prt_a/location.x', 'Camera.location.z'),
    tells: ['link.constant'],
  },
  {
    name: 'a link that reads the time',
    why: 'it moves',
    shot: link(scene({ prt_a: hub('A') }), 'prt_a/location.x', 'time * 1m/1s'),
    tells: [],
  },
  {
    name: 'a link that reads a dial',
    why: 'somebody turns the dial',
    shot: link(
      scene({ prt_a: hub('A') }, { dials: dial(linear([1, 3])) }),
      'prt_a/location.x',
      'dial.turns * 1m',
    ),
    tells: [],
  },
  {
    name: 'a link that reads the length of a path whose point moves',
    why: 'the path grows',
    shot: link(
      scene({
        prt_p: hub('Rail'),
        prt_1: hub('P1', { parent: 'prt_p' }),
        prt_2: hub('P2', { parent: 'prt_p', order: 1, tracks: { 'location.x': linear([1, 2], [48, 4]) } }),
        prt_f: hub('Cart', { follow: { path: 'prt_p', closed: false, turn: false } }),
        prt_a: hub('A'),
      }),
      'prt_a/location.x',
      'pathlength(Cart)',
    ),
    tells: [],
  },
  {
    name: 'a division by zero at frame 300 of 1,000',
    why: '1 / 0 is no number',
    shot: {
      ...link(scene({ prt_a: hub('A') }), 'prt_a/location.x', '1m / (frame - 300)'),
      setup: { ...scene({}).setup, last: 1000 },
    },
    tells: ['link.not-a-number'],
  },
  {
    name: 'a division that is guarded',
    why: 'the branch with 1 / 0 is not taken',
    shot: link(scene({ prt_a: hub('A') }), 'prt_a/location.x', 'if(frame == 20, 0m, 1m / (frame - 20))'),
    tells: [],
  },
  {
    name: 'a part that faces its own child',
    why: 'the child goes along: a loop',
    shot: scene({
      prt_a: hub('A', { aim: { target: 'prt_b', axis: 'z', up: 'y' } }),
      prt_b: hub('B', { parent: 'prt_a', values: at(2) }),
    }),
    tells: ['option.loop'],
  },
  {
    name: 'two parts that face each other',
    why: 'their places do not change by it',
    shot: scene({
      prt_a: hub('A', { aim: { target: 'prt_b', axis: 'z', up: 'y' } }),
      prt_b: hub('B', { values: at(2), aim: { target: 'prt_a', axis: 'z', up: 'y' } }),
    }),
    tells: [],
  },
  // What is seen.
  {
    name: 'hidden throughout',
    why: 'nobody sees it',
    shot: scene({ prt_b: solid('Box', 'shp_box', { values: { visible: 0 } }) }),
    tells: ['part.hidden'],
  },
  {
    name: 'shown at frames 502 to 504 of 1,000 only',
    why: 'it is seen for three frames',
    shot: scene(
      { prt_b: solid('Box', 'shp_box', { tracks: { visible: keyed('hold', [1, 0], [502, 1], [505, 0]) } }) },
      {},
      { last: 1000 },
    ),
    tells: [],
  },
  {
    name: 'of opacity 0 throughout',
    why: 'nobody sees it',
    shot: scene({ prt_b: solid('Glass', 'shp_box', { values: { opacity: 0 } }) }),
    tells: ['part.hidden'],
  },
  {
    name: 'hidden, in a tray that the film leaves out',
    why: 'it is not meant to be seen',
    shot: scene(
      { prt_b: solid('Box', 'shp_box', { values: { visible: 0 }, tray: 'try_a' }) },
      { trays: { try_a: { name: 'Help', order: 0, away: false, locked: false, out: true } } },
    ),
    tells: [],
  },
  {
    name: 'a box at x = 5.9',
    why: '35 mm takes 5.14 m to a side at 10 m; the box reaches 0.87 m',
    shot: scene({ prt_b: solid('Box', 'shp_box', { values: at(5.9) }) }),
    tells: [],
  },
  {
    name: 'a box at x = 6.3',
    why: 'beyond that',
    shot: scene({ prt_b: solid('Box', 'shp_box', { values: at(6.3) }) }),
    tells: ['part.out-of-picture'],
  },
  {
    name: 'a box behind the camera',
    why: 'not in front of it',
    shot: scene({ prt_b: solid('Box', 'shp_box', { values: at(0, 0, 40) }) }),
    tells: ['part.out-of-picture'],
  },
  {
    name: 'a box that comes in',
    why: 'it is seen at the end',
    shot: scene({ prt_b: solid('Box', 'shp_box', { tracks: { 'location.x': linear([1, 8], [20, 0]) } }) }),
    tells: [],
  },
  {
    name: 'a box that leaves in the last half second',
    why: 'an exit',
    shot: scene({ prt_b: solid('Box', 'shp_box', { tracks: { 'location.x': linear([20, 0], [48, 8]) } }) }),
    tells: [],
  },
  {
    name: 'a box that leaves and goes on for two seconds',
    why: 'nobody sees where it goes',
    shot: scene(
      { prt_b: solid('Box', 'shp_box', { tracks: { 'location.x': linear([1, 0], [10, 8], [96, 60]) } }) },
      {},
      { last: 96 },
    ),
    tells: ['part.leaves-picture'],
  },
  {
    name: 'a box that leaves and stands there',
    why: 'it is parked',
    shot: scene(
      { prt_b: solid('Box', 'shp_box', { tracks: { 'location.x': linear([1, 0], [10, 8]) } }) },
      {},
      { last: 96 },
    ),
    tells: [],
  },
  {
    name: 'one copy of a row in the picture',
    why: 'that one is seen',
    shot: scene({
      prt_r: repeat('Row', 'row', { values: { gap: 30, copies: 3 } }),
      prt_b: solid('Box', 'shp_box', { parent: 'prt_r' }),
    }),
    tells: [],
  },
  // Turning.
  {
    name: 'a gear of 24 teeth, 7 degrees a frame',
    why: 'half a tooth is 7.5 (sampling theorem)',
    shot: scene(turning('shp_gear', 7)),
    tells: [],
  },
  {
    name: 'a gear of 24 teeth, 10 degrees a frame',
    why: 'more than half a tooth',
    shot: scene(turning('shp_gear', 10)),
    tells: ['turn.looks-backwards'],
  },
  {
    name: 'a gear of 24 teeth, 15 degrees a frame',
    why: 'a whole tooth',
    shot: scene(turning('shp_gear', 15)),
    tells: ['turn.looks-still'],
  },
  {
    name: 'a plain shaft of 48 sides, a turn a frame',
    why: 'a plain round shaft looks the same at every angle',
    shot: scene(turning('shp_shaft', 360, 'y')),
    tells: [],
  },
  {
    name: 'a plain cone, 100 degrees a frame',
    why: 'round',
    shot: scene(turning('shp_cone', 100, 'y')),
    tells: [],
  },
  {
    name: 'a ball, 200 degrees a frame',
    why: 'round',
    shot: scene(turning('shp_ball', 200, 'x')),
    tells: [],
  },
  {
    name: 'a six-sided bar, 60 degrees a frame',
    why: 'a whole side',
    shot: scene(turning('shp_hex', 60, 'y')),
    tells: ['turn.looks-still'],
  },
  {
    name: 'a six-sided bar, 25 degrees a frame',
    why: 'less than half a side',
    shot: scene(turning('shp_hex', 25, 'y')),
    tells: [],
  },
  {
    name: 'a shaft with an arm on it, a turn a frame',
    why: '1,500 turns a minute at 25 frames a second',
    shot: scene({
      ...turning('shp_shaft', 360, 'y'),
      prt_m: solid('Arm', 'shp_bar', { parent: 'prt_t', values: at(0.6) }),
    }),
    tells: ['turn.looks-still'],
  },
  {
    name: 'a shaft with an arm on it, 40 degrees a frame',
    why: 'nine pictures a turn',
    shot: scene({
      ...turning('shp_shaft', 40, 'y'),
      prt_m: solid('Arm', 'shp_bar', { parent: 'prt_t', values: at(0.6) }),
    }),
    tells: [],
  },
  {
    name: 'twelve spokes below a hub, 30 degrees a frame',
    why: 'a spoke to the next: a wagon wheel',
    shot: scene(spokes(12, 30)),
    tells: ['turn.looks-still'],
  },
  {
    name: 'twelve spokes below a hub, 20 degrees a frame',
    why: 'more than half the way to the next',
    shot: scene(spokes(12, 20)),
    tells: ['turn.looks-backwards'],
  },
  {
    name: 'twelve spokes below a hub, 10 degrees a frame',
    why: 'less than half',
    shot: scene(spokes(12, 10)),
    tells: [],
  },
  {
    name: 'twelve spokes and a flag below a hub, 30 degrees a frame',
    why: 'the flag tells one turn from the next',
    shot: scene({ ...spokes(12, 30), prt_g: solid('Flag', 'shp_box', { parent: 'prt_h', values: at(1.8) }) }),
    tells: [],
  },
  {
    name: 'a ring that turns itself, a copy a frame',
    why: 'a wagon wheel',
    shot: scene({
      prt_r: repeat('Ring', 'ring', {
        values: { copies: 8, gap: 1 },
        tracks: { 'rotation.y': linear([1, 0], [48, 47 * 45]) },
      }),
      prt_s: solid('Lamp', 'shp_ball', { parent: 'prt_r' }),
    }),
    tells: ['turn.looks-still'],
  },
  {
    name: 'a pose that switches by 180 degrees',
    why: 'a cut, no turning',
    shot: scene({
      prt_b: solid('Box', 'shp_box', { tracks: { 'rotation.y': keyed('hold', [1, 0], [20, 190]) } }),
    }),
    tells: [],
  },
  // Gimbal lock.
  {
    name: 'pan while the tilt goes to 90',
    why: 'the outer and the inner turn fall together',
    shot: scene({
      prt_a: hub('Head', {
        rotationOrder: 'YXZ',
        tracks: { 'rotation.x': linear([1, 0], [40, 90]), 'rotation.y': linear([1, 0], [48, 80]) },
      }),
    }),
    tells: ['gimbal.lock'],
  },
  {
    name: 'pan while the tilt goes to 45',
    why: 'far from it',
    shot: scene({
      prt_a: hub('Head', {
        rotationOrder: 'YXZ',
        tracks: { 'rotation.x': linear([1, 0], [40, 45]), 'rotation.y': linear([1, 0], [48, 80]) },
      }),
    }),
    tells: [],
  },
  {
    name: 'tilt from 60 to 120 between two keys, while panning',
    why: 'it goes through 90 between the keys',
    shot: scene({
      prt_a: hub('Head', {
        rotationOrder: 'YXZ',
        tracks: { 'rotation.x': linear([1, 60], [8, 120]), 'rotation.y': linear([1, 0], [48, 80]) },
      }),
    }),
    tells: ['gimbal.lock'],
  },
  {
    name: 'tilt through 90 between keys, pan at rest',
    why: 'one turn alone is never locked',
    shot: scene({
      prt_a: hub('Head', {
        rotationOrder: 'YXZ',
        tracks: { 'rotation.x': linear([1, 60], [8, 120]), 'rotation.y': linear([20, 0], [48, 80]) },
      }),
    }),
    tells: [],
  },
  {
    name: 'stored at 90, both others keyed',
    why: 'locked throughout',
    shot: scene({
      prt_a: hub('Head', {
        rotationOrder: 'YXZ',
        values: { 'rotation.x': 90 },
        tracks: { 'rotation.z': linear([1, 0], [48, 50]), 'rotation.y': linear([1, 0], [48, 80]) },
      }),
    }),
    tells: ['gimbal.lock'],
  },
  {
    name: 'stood up at 90, turning about one axis',
    why: 'a wheel that faces us and rolls',
    shot: scene({
      prt_a: hub('Wheel', {
        values: { 'rotation.y': 90 },
        tracks: { 'rotation.z': linear([1, 0], [48, 200]) },
      }),
    }),
    tells: [],
  },
  {
    name: 'a linked tilt that comes to 90 while panning',
    why: 'links lock as keys do',
    shot: link(
      scene({
        prt_a: hub('Head', { rotationOrder: 'YXZ', tracks: { 'rotation.y': linear([1, 0], [48, 80]) } }),
      }),
      'prt_a/rotation.x',
      'frame * 2',
    ),
    tells: ['gimbal.lock'],
  },
  {
    name: 'outer and inner turn past 90, middle small',
    why: 'only the middle one locks',
    shot: scene({
      prt_a: hub('Head', {
        tracks: { 'rotation.x': linear([1, 0], [48, 170]), 'rotation.z': linear([1, 0], [48, 120]) },
      }),
    }),
    tells: [],
  },
  // Repeats.
  {
    name: 'a row without a gap',
    why: 'all copies in one place',
    shot: scene({
      prt_r: repeat('Row', 'row', { values: { gap: 0 } }),
      prt_b: solid('Box', 'shp_box', { parent: 'prt_r' }),
    }),
    tells: ['repeat.coincide'],
  },
  {
    name: 'copies that fan out',
    why: 'they part after the first frame',
    shot: scene({
      prt_r: repeat('Fan', 'row', { tracks: { gap: linear([1, 0], [48, 1]) } }),
      prt_b: solid('Box', 'shp_box', { parent: 'prt_r' }),
    }),
    tells: [],
  },
  {
    name: 'copies that part by their index',
    why: 'each goes its own way',
    shot: link(
      scene({
        prt_r: repeat('Fan', 'row', { values: { gap: 0 } }),
        prt_b: solid('Box', 'shp_box', { parent: 'prt_r' }),
      }),
      'prt_r/copy.location.y',
      'index * (frame - 1) * 1cm',
    ),
    tells: [],
  },
  {
    name: 'two of a ring of 3 that meet throughout',
    why: 'a span of 360 over 2 of 3 by its links',
    shot: link(
      scene({
        prt_r: repeat('Ring', 'ring', { values: { copies: 3 } }),
        prt_b: solid('Box', 'shp_box', { parent: 'prt_r' }),
      }),
      'prt_r/copy.scale.x',
      '1 + 0 * index * frame',
    ),
    tells: [],
  },
  {
    name: 'a step hub that hangs elsewhere',
    why: 'only a hub below the repeat sets its step',
    shot: scene({
      prt_h: hub('Step', { values: at(1, 1) }),
      prt_r: repeat('Row', 'row', {}, 'prt_h'),
      prt_b: solid('Box', 'shp_box', { parent: 'prt_r' }),
    }),
    tells: ['repeat.step'],
  },
  {
    name: 'a step hub below its repeat',
    why: 'as it should be',
    shot: scene({
      prt_r: repeat('Row', 'row', {}, 'prt_h'),
      prt_h: hub('Step', { parent: 'prt_r', values: at(1, 1) }),
      prt_b: solid('Box', 'shp_box', { parent: 'prt_r' }),
    }),
    tells: [],
  },
  {
    name: 'a thousand times a thousand copies',
    why: '100,000 are allowed',
    shot: scene({
      prt_r: repeat('Row', 'row', { values: { copies: 1000 } }),
      prt_s: repeat('Stack', 'stack', { parent: 'prt_r', values: { copies: 1000 } }),
    }),
    tells: ['repeat.many'],
  },
  {
    name: 'a hundred times a hundred copies',
    why: '10,000 are within bounds',
    shot: scene({
      prt_r: repeat('Row', 'row', { values: { copies: 100 } }),
      prt_s: repeat('Stack', 'stack', { parent: 'prt_r', values: { copies: 100 } }),
    }),
    tells: [],
  },
  // Rolling: way = radius x angle in radians.
  { name: 'a recipe that rolls', why: 'it writes way / radius', shot: rolling(''), tells: [] },
  {
    name: 'a rolling recipe whose link was changed to another radius',
    why: '0.36 m is not 0.35 m',
    shot: rolling('roll(Cart.location.x, 0.36m)'),
    tells: ['roll.slips'],
  },
  {
    name: 'a keyed wheel: one turn on pi metres',
    why: 'radius 0.5 m',
    shot: scene({
      prt_w: wheel({
        tracks: {
          'location.x': linear([1, -1], [48, -1 + ONE_TURN]),
          'rotation.y': linear([1, 0], [48, -360]),
        },
      }),
    }),
    tells: [],
  },
  {
    name: 'a keyed wheel: one turn on 2 metres',
    why: '1.14 m of slip',
    shot: scene({
      prt_w: wheel({
        tracks: { 'location.x': linear([1, -1], [48, 1]), 'rotation.y': linear([1, 0], [48, -360]) },
      }),
    }),
    tells: ['roll.slips'],
  },
  {
    name: 'a keyed wheel that rolls backwards',
    why: 'the wrong sign slips twice the way',
    shot: scene({
      prt_w: wheel({
        tracks: {
          'location.x': linear([1, -1], [48, -1 + ONE_TURN]),
          'rotation.y': linear([1, 0], [48, 360]),
        },
      }),
    }),
    tells: ['roll.slips'],
  },
  {
    name: 'a keyed wheel under a hub that goes',
    why: 'the hub carries it: way by the hub, turn by the wheel',
    shot: scene({
      prt_h: hub('Cart', { tracks: { 'location.x': linear([1, -1], [48, 1]) } }),
      prt_w: wheel({ parent: 'prt_h', tracks: { 'rotation.y': linear([1, 0], [48, -720]) } }),
    }),
    tells: ['roll.slips'],
  },
  {
    name: 'a keyed wheel under a hub that goes, matched',
    why: 'two metres are 229.18 degrees',
    shot: scene({
      prt_h: hub('Cart', { tracks: { 'location.x': linear([1, -1], [48, 1]) } }),
      prt_w: wheel({
        parent: 'prt_h',
        tracks: { 'rotation.y': linear([1, 0], [48, -(2 / 0.5) * (180 / Math.PI)]) },
      }),
    }),
    tells: [],
  },
  {
    name: 'a keyed wheel on a floor that is higher',
    why: 'the floor is the ground',
    shot: scene({
      prt_f: solid('Floor', 'shp_floor', { values: at(0, -0.9) }),
      prt_w: wheel({
        values: { 'location.y': 0.1 },
        tracks: { 'location.x': linear([1, -1], [48, 1]), 'rotation.y': linear([1, 0], [48, -360]) },
      }),
    }),
    tells: ['roll.slips'],
  },
  {
    name: 'a wheel that flies and spins',
    why: 'it touches nothing',
    shot: scene({
      prt_w: wheel({
        values: { 'location.y': 1.6 },
        tracks: { 'location.x': linear([1, -1], [48, 1]), 'rotation.y': linear([1, 0], [48, -720]) },
      }),
    }),
    tells: [],
  },
  {
    name: 'a pulley that spins in its place on the floor',
    why: 'it does not go anywhere',
    shot: scene({ prt_w: wheel({ tracks: { 'rotation.y': linear([1, 0], [48, -720]) } }) }),
    tells: [],
  },
  {
    name: 'a wheel pushed along its axle while it turns',
    why: 'no way in its rolling direction',
    shot: scene({
      prt_w: wheel({
        tracks: { 'location.z': linear([1, -1], [48, 1]), 'rotation.y': linear([1, 0], [48, -300]) },
      }),
    }),
    tells: [],
  },
  {
    name: 'a wheel matched in a group of twice the size',
    why: 'twice the radius, twice the way',
    shot: scene({
      prt_g: hub('Big', { values: { 'scale.x': 2, 'scale.y': 2, 'scale.z': 2 } }),
      prt_w: wheel({
        parent: 'prt_g',
        tracks: {
          'location.x': linear([1, -0.5], [48, -0.5 + ONE_TURN / 2]),
          'rotation.y': linear([1, 0], [48, -180]),
        },
      }),
    }),
    tells: [],
  },
  // Gears: ISO 54 (centre distance), ISO 53 (basic rack), ISO 21771 (mesh).
  {
    name: 'a gear pair 16/56, module 0.05, 1.8 m apart',
    why: '0.05 (16 + 56) / 2 = 1.8',
    shot: gears(),
    tells: [],
  },
  { name: 'the same 1.7 m apart', why: '1.8 is needed', shot: gears(1.7), tells: ['gear.distance'] },
  {
    name: 'the same with module 0.06',
    why: 'meshing gears share their module',
    shot: gears(1.8, 'shp_coarse'),
    tells: ['gear.module'],
  },
  {
    name: 'the same with a pressure angle of 25 degrees',
    why: 'meshing gears share their pressure angle',
    shot: gears(1.8, 'shp_steep'),
    tells: ['gear.pressure'],
  },
  {
    name: 'the same with 50 teeth',
    why: 'made for 56',
    shot: gears(1.8, 'shp_other'),
    tells: ['gear.teeth'],
  },
  {
    name: 'a pair in a group of twice the size',
    why: 'all lengths grow alike',
    shot: gears(1.8, 'shp_wheel', {
      parts: { prt_g: hub('Group', { values: { 'scale.x': 2, 'scale.y': 2, 'scale.z': 2 } }) },
      pinion: { parent: 'prt_g' },
      wheel: { parent: 'prt_g' },
    }),
    tells: [],
  },
  {
    name: 'a pair of which one gear is scaled',
    why: 'its module grows with it',
    shot: gears(1.8, 'shp_wheel', { wheel: { values: { ...at(1.8), 'scale.x': 1.2, 'scale.y': 1.2 } } }),
    tells: ['gear.module'],
  },
  {
    name: 'a pair that lies in a tilted group',
    why: 'a turn of both changes nothing',
    shot: gears(1.8, 'shp_wheel', {
      parts: { prt_g: hub('Group', { values: { 'rotation.x': 70, 'rotation.y': 33 } }) },
      pinion: { parent: 'prt_g' },
      wheel: { parent: 'prt_g' },
    }),
    tells: [],
  },
  {
    name: 'a pair linked by another ratio',
    why: '16/50 is not 16/56',
    shot: link(gears(), 'prt_w/rotation.z', 'mesh(Pinion.rotation.z, 16, 50)'),
    tells: ['gear.ratio'],
  },
  {
    name: 'a pair that turns the same way',
    why: 'outer gears turn against each other',
    shot: link(gears(), 'prt_w/rotation.z', 'Pinion.rotation.z * 16 / 56'),
    tells: ['gear.ratio'],
  },
  {
    name: 'a pair half a tooth out',
    why: 'tooth on tooth',
    shot: link(
      gears(),
      'prt_w/rotation.z',
      `(${recipe(gears()).driven[0] ? gears().parts.prt_w!.links['rotation.z']!.formula : ''}) + 180deg / 56`,
    ),
    tells: ['gear.phase'],
  },
  {
    name: 'a pair a whole tooth further',
    why: 'the next gap is as good',
    shot: link(
      gears(),
      'prt_w/rotation.z',
      `(${gears().parts.prt_w!.links['rotation.z']!.formula}) + 360deg / 56`,
    ),
    tells: [],
  },
  {
    name: 'a pair whose link has gone',
    why: 'the wheel stands while the pinion turns',
    shot: lost(gears(), 'prt_w/rotation.z'),
    tells: ['recipe.lost-link'],
  },
  {
    name: 'a pair that comes together before it turns',
    why: 'apart and at rest is no mesh yet',
    shot: gears(1.8, 'shp_wheel', {
      pinion: { tracks: { 'rotation.z': linear([24, 0], [48, 90]) } },
      wheel: { tracks: { 'location.x': linear([1, 3], [20, 1.8]) } },
    }),
    tells: [],
  },
  {
    name: 'a pair that parts while it turns',
    why: 'teeth leave their gaps',
    shot: gears(1.8, 'shp_wheel', { wheel: { tracks: { 'location.x': linear([20, 1.8], [48, 2.2]) } } }),
    tells: ['gear.distance'],
  },
  // The seam of a loop: the frame after the last is the first.
  {
    name: 'a way that does not come back',
    why: '3 m off',
    shot: scene({ prt_b: solid('Box', 'shp_box', { tracks: { 'location.x': linear([1, 0], [48, 3]) } }) }),
    options: loops,
    tells: ['loop.value'],
  },
  {
    name: 'a wheel at 0 on 1 and at 360 on 49 of a range of 48',
    why: 'frame 49 is frame 1: every frame turns alike',
    shot: scene({
      prt_b: solid('Wheel', 'shp_box', {
        tracks: { 'rotation.z': { ...linear([1, 0], [49, 360]), after: 'straight' } },
      }),
    }),
    options: loops,
    tells: [],
  },
  {
    name: 'a wheel at 0 on 1 and at 360 on 48',
    why: 'frame 48 shows what frame 1 shows: it stands for a frame',
    shot: scene({
      prt_b: solid('Flag', 'shp_bar', {
        values: { 'pivot.x': -0.5 },
        tracks: { 'rotation.z': { ...linear([1, 0], [48, 360]), after: 'straight' } },
      }),
    }),
    options: loops,
    tells: ['loop.value'],
  },
  {
    name: 'a swing that closes at frame 49',
    why: 'value and speed meet',
    shot: link(
      scene({ prt_b: solid('Bell', 'shp_box') }),
      'prt_b/rotation.z',
      '20deg * wave((frame - 1) / 48)',
    ),
    options: loops,
    tells: [],
  },
  {
    name: 'a triangle that closes with a corner',
    why: 'the speed changes its sign',
    shot: scene({
      prt_b: solid('Box', 'shp_box', { tracks: { 'location.x': linear([1, 0], [24, 3], [49, 0]) } }),
    }),
    options: loops,
    tells: ['loop.speed'],
  },
  {
    name: 'a cart round a closed path, 0 to 1',
    why: 'the end of a closed path is its start',
    shot: scene({
      prt_p: hub('Rail'),
      ...Object.fromEntries(
        [at(0), at(1), at(1, 1), at(0, 1)].map((values, i) => [
          `prt_${i}`,
          hub(`P${i}`, { parent: 'prt_p', order: i, values }),
        ]),
      ),
      prt_c: solid('Cart', 'shp_box', {
        follow: { path: 'prt_p', closed: true, turn: false },
        tracks: { along: { ...linear([1, 0], [49, 1]), after: 'straight' } },
      }),
    }),
    options: loops,
    tells: [],
  },
  {
    name: 'a cart along an open path, 0 to 1',
    why: 'it jumps back to the start',
    shot: scene({
      prt_p: hub('Rail'),
      ...Object.fromEntries(
        [at(0), at(1), at(1, 1)].map((values, i) => [
          `prt_${i}`,
          hub(`P${i}`, { parent: 'prt_p', order: i, values }),
        ]),
      ),
      prt_c: solid('Cart', 'shp_box', {
        follow: { path: 'prt_p', closed: false, turn: false },
        tracks: { along: { ...linear([1, 0], [49, 1]), after: 'straight' } },
      }),
    }),
    options: loops,
    tells: ['loop.value'],
  },
  {
    name: 'a dial that counts turns',
    why: 'what it turns looks the same after whole turns',
    shot: link(
      scene(
        { prt_b: solid('Wheel', 'shp_bar') },
        { dials: dial({ ...linear([1, 0], [49, 3]), after: 'straight' }) },
      ),
      'prt_b/rotation.z',
      'dial.turns * 1turn',
    ),
    options: loops,
    tells: [],
  },
  {
    name: 'a dial that counts half turns of a flag',
    why: 'the flag is half a turn off',
    shot: link(
      scene(
        { prt_b: solid('Flag', 'shp_bar', { values: { 'pivot.x': -0.5 } }) },
        { dials: dial({ ...linear([1, 0], [49, 2.5]), after: 'straight' }) },
      ),
      'prt_b/rotation.z',
      'dial.turns * 1turn',
    ),
    options: loops,
    tells: ['loop.value'],
  },
  {
    name: 'a gear that turns one tooth in the loop',
    why: 'every tooth looks like the next',
    shot: scene({
      prt_b: solid('Gear', 'shp_gear', {
        tracks: { 'rotation.z': { ...linear([1, 0], [49, 15]), after: 'straight' } },
      }),
    }),
    options: loops,
    tells: [],
  },
  {
    name: 'a ring of eight that turns by an eighth',
    why: 'every copy takes the place of the next',
    shot: scene({
      prt_h: hub('Carousel', {
        tracks: { 'rotation.y': { ...linear([1, 0], [49, 45]), after: 'straight' } },
      }),
      prt_r: repeat('Boats', 'ring', { parent: 'prt_h', values: { copies: 8, gap: 1 } }),
      prt_b: solid('Boat', 'shp_box', { parent: 'prt_r' }),
    }),
    options: loops,
    tells: [],
  },
  {
    name: 'a ring of eight that turns by a seventh',
    why: 'no copy takes the place of another',
    shot: scene({
      prt_h: hub('Carousel', {
        tracks: { 'rotation.y': { ...linear([1, 0], [49, 360 / 7]), after: 'straight' } },
      }),
      prt_r: repeat('Boats', 'ring', { parent: 'prt_h', values: { copies: 8, gap: 1 } }),
      prt_b: solid('Boat', 'shp_box', { parent: 'prt_r' }),
    }),
    options: loops,
    tells: ['loop.value'],
  },
  {
    name: 'a hub that carries nothing and goes on',
    why: 'nothing of it is seen',
    shot: scene({
      prt_h: hub('Counter', { tracks: { 'location.x': { ...linear([1, 0], [48, 9]), after: 'straight' } } }),
    }),
    options: loops,
    tells: [],
  },
];
