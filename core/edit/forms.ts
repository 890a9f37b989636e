import {
  FRAME_LIMIT,
  PULLEY_LIMIT,
  shotSchema,
  type Outline,
  type Owner,
  type Picture,
  type PicturePlace,
  type Shape,
  type Shot,
  type Track,
  OWNER_TABLES,
  retimedTrack,
} from '../document';
import { Draft, type Change } from './change';
import { demand } from './demand';
import { EditRefused } from './values';
import { videosOf } from './videos';

function demandShape(shot: Shot, id: string, kinds: readonly Shape['kind'][]): Shape {
  const shape = shot.shapes[id];
  if (!shape) throw new EditRefused('This shape is no longer in the shot.');
  if (!kinds.includes(shape.kind)) throw new EditRefused(`A ${shape.kind} cannot be changed so.`);
  return shape;
}

const shapeParts = shotSchema.shape.shapes.valueType.shape;

/** Gives a lathe another profile: from the bottom up, shares of its radius and height. */
export function setProfile(shot: Shot, id: string, profile: NonNullable<Shape['profile']>): Change {
  demandShape(shot, id, ['lathe']);
  demand(
    shapeParts.profile,
    profile,
    'A profile has 2 to 200 points, each between 0 and 1 of the radius and height.',
  );
  const draft = new Draft(shot);
  draft.set(['shapes', id, 'profile'], profile);
  return draft.change('Change the profile');
}

/** Gives a lettering another text: the text, its font, and the drawing of its letters. */
export function setText(shot: Shot, id: string, text: NonNullable<Shape['text']>, outline: Outline): Change {
  demandShape(shot, id, ['lettering']);
  demand(shapeParts.text, text, 'A lettering has at most 200 letters.');
  demand(shapeParts.outline, outline, 'This lettering has too many points: at most 30,000 are allowed.');
  const draft = new Draft(shot);
  draft.set(['shapes', id, 'text'], text);
  draft.set(['shapes', id, 'outline'], outline);
  return draft.change(`Write "${text.text.slice(0, 30)}"`);
}

/** Lets a belt or a chain run round other pulleys: x, y and radius of each, in the order in which it runs. */
export function setPulleys(shot: Shot, id: string, pulleys: NonNullable<Shape['pulleys']>): Change {
  const { kind } = demandShape(shot, id, ['belt', 'chain']);
  demand(
    shapeParts.pulleys,
    pulleys,
    `A ${kind} runs round 2 to ${PULLEY_LIMIT} pulleys, each with a radius that is not 0.`,
  );
  const draft = new Draft(shot);
  draft.set(['shapes', id, 'pulleys'], pulleys);
  return draft.change(`Change the way of the ${kind}`);
}

/** Gives an outline another drawing, in shares of its size. */
export function setOutline(shot: Shot, id: string, outline: Outline): Change {
  demandShape(shot, id, ['outline']);
  demand(shapeParts.outline, outline, 'This drawing has too many points: at most 30,000 are allowed.');
  const draft = new Draft(shot);
  draft.set(['shapes', id, 'outline'], outline);
  return draft.change('Change the drawing');
}

/** Puts a picture on a look, all over or on one face of a box; `null` takes it off. */
export function setPicture(shot: Shot, id: string, place: PicturePlace, picture: Picture | null): Change {
  const look = shot.looks[id];
  if (!look) throw new EditRefused('This look is no longer in the shot.');
  const draft = new Draft(shot);
  const { [place]: _old, ...rest } = look.pictures ?? {};
  const pictures = picture ? { ...rest, [place]: picture } : rest;
  draft.set(['looks', id, 'pictures'], Object.keys(pictures).length > 0 ? pictures : undefined);
  return draft.change(picture ? `Put a picture on ${look.name}` : `Take the picture off ${look.name}`);
}

/** Frames nearer than this to a whole one are whole. */
const WHOLE = 1e-9;

/**
 * Changes the frame rate. `frames`: everything stays at its frame and so runs faster or slower. `seconds`: everything
 * stays at its moment: keys, markers, sounds, videos, clips and the range move so that the shot lasts as long as before.
 */
export function changeRate(shot: Shot, rate: Shot['setup']['rate'], keep: 'frames' | 'seconds'): Change {
  const draft = new Draft(shot);
  const { first, last, rate: old } = shot.setup;
  const share = (rate.num * old.den) / (rate.den * old.num);
  draft.set(['setup', 'rate'], rate);
  if (keep === 'frames' || share === 1) return draft.change('Change the frame rate');
  const moved = (frame: number): number => {
    const next = first + (frame - first) * share;
    const whole = Math.round(next);
    return Math.max(-FRAME_LIMIT, Math.min(FRAME_LIMIT, Math.abs(next - whole) < WHOLE ? whole : next));
  };
  draft.set(['setup', 'last'], Math.max(first, first + Math.round((last - first + 1) * share) - 1));
  const retimed = (track: Track): Track => retimedTrack(track, moved, share);
  for (const table of OWNER_TABLES)
    for (const [id, owner] of Object.entries<Owner>(shot[table]))
      for (const [path, track] of Object.entries(owner.tracks))
        draft.set([table, id, 'tracks', path], retimed(track));
  for (const [id, { inset }] of Object.entries(shot.parts))
    if (inset) {
      draft.set(['parts', id, 'inset', 'start'], moved(inset.start));
      draft.set(['parts', id, 'inset', 'until'], inset.until === null ? null : moved(inset.until));
    }
  for (const [id, marker] of Object.entries(shot.markers))
    draft.set(['markers', id, 'frame'], moved(marker.frame));
  for (const [id, sound] of Object.entries(shot.sounds))
    draft.set(['sounds', id, 'start'], moved(sound.start));
  for (const { path, picture } of videosOf(shot))
    draft.set([...path, 'video', 'start'], moved(picture.video.start));
  for (const [id, clip] of Object.entries(shot.clips))
    draft.set(['clips', id], {
      ...clip,
      first: moved(clip.first),
      last: moved(clip.last),
      tracks: Object.fromEntries(
        Object.entries(clip.tracks).map(([address, track]) => [address, retimed(track)]),
      ),
    });
  for (const [id, placement] of Object.entries(shot.placements))
    draft.set(['placements', id], {
      ...placement,
      start: moved(placement.start),
      until: placement.until === null ? null : moved(placement.until),
    });
  return draft.change('Change the frame rate');
}
