import { blankShot, type Shot } from '../document';
import { addPart, apply, type NewPart } from '../edit';
import type { Reel, TitleItem } from './schema';

/** Metres of the picture's height. */
const HEIGHT = 1;
/** From one line to the next, in heights of a capital. */
const LINE = 1.7;

/** A title as a shot: flat letters that shine by themselves, so that they have just the colour that was chosen. */
export function titleShot(title: TitleItem, { rate, width, height }: Reel): Shot {
  const random = counted();
  let shot: Shot = blankShot({
    rate,
    width,
    height,
    first: 0,
    last: title.frames - 1,
    background: title.ground,
    tones: 'none',
    exposure: 1,
  });
  const add = (spec: NewPart): void => {
    shot = apply(shot, addPart(shot, spec, random).change);
  };
  add({ kind: 'camera', name: 'Camera', values: { 'location.z': 5, width: (HEIGHT * width) / height } });
  const camera = shot.setup.camera!;
  shot = { ...shot, parts: { ...shot.parts, [camera]: { ...shot.parts[camera]!, projection: 'parallel' } } };
  // It mirrors nothing, so that no light but their own is on the letters.
  add({ kind: 'backdrop', name: 'Ground', values: { colour: title.ground, mirrored: 0 } });
  title.lines.forEach(({ text, outline }, line) =>
    add({
      kind: 'solid',
      name: `Line ${line + 1}`,
      values: { 'location.y': ((title.lines.length - 1) / 2 - line) * LINE * title.size },
      shape: { kind: 'lettering', values: { size: title.size, depth: 0 }, text, outline },
      look: { values: { colour: title.ink, glow: 1 } },
    }),
  );
  return shot;
}

/** Numbers for ids: the same title is the same shot. */
function counted(): () => number {
  let state = 1;
  return () => (state = (state * 16807) % 2147483647) / 2147483647;
}
