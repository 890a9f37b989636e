import type { Shot } from '../core/document';
import { apply, makeClip, placeClip, putShowingOn } from '../core/edit';
import { letterOutline } from './letters';
import { lookingAt, ShotBuilder } from './shot-builder';
import { BEAT_FRAMES, organTune, TUNE_BEATS } from './tune';

const LAST = TUNE_BEATS * BEAT_FRAMES;
const ROWS = ['HARBOUR', 'ROUNDABOUT'] as const;
const STEP = 0.94;
const ROW_STEP = 1.55;
const THIN = 0.04;
const THICK = 0.7;
/** Frames over which a letter grows, and by which each begins after the one before. */
const GROWS = 20;
const LATER = 3;

/**
 * The fair's name over nothing: its letters grow in depth one after the other, all by one clip, and change their colours
 * on each beat of the organ, whose loudness makes them glow.
 */
export function lettering(): Shot {
  const b = new ShotBuilder(6043, { background: '#1d2a3c', last: LAST, exposure: 1 });
  const paints = [
    { name: 'Upper row', colours: ['#e9b44c', '#e2574c', '#4fb3b6', '#f1e6cc'] },
    { name: 'Lower row', colours: ['#4fb3b6', '#f1e6cc', '#e9b44c', '#e2574c'] },
  ].map(({ name, colours }) => {
    const look = b.look(name, colours[0]!, { roughness: 0.45 });
    b.keys(
      `${look}/colour`,
      Array.from({ length: TUNE_BEATS }, (_, i) => ({
        frame: 1 + i * BEAT_FRAMES,
        value: colours[i % colours.length]!,
        manner: 'hold' as const,
      })),
    );
    return look;
  });
  const sound = b.sound('Organ tune', organTune().hash, 1, { loop: true });
  for (const look of paints) b.link(`${look}/glow`, '1.6 * level("Organ tune", 60Hz, 4000Hz)');

  const name = b.hub('Name', { at: [0, 1.6, 0] });
  const letters: string[] = [];
  ROWS.forEach((row, r) => {
    const line = b.hub(r === 0 ? 'Upper line' : 'Lower line', { parent: name, at: [0, -r * ROW_STEP, 0] });
    [...row].forEach((letter, i) => {
      const shape = b.shape(
        'outline',
        { width: 0.8, height: 1.2, depth: THIN, bevel: 0.02 },
        { outline: letterOutline(letter) },
      );
      letters.push(
        b.solid(`${row[0]}${i + 1} ${letter}`, shape, paints[r]!, {
          parent: line,
          at: [(i - (row.length - 1) / 2) * STEP, 0, 0],
        }),
      );
    });
  });
  const first = letters[0]!;
  const depth = `${b.shapeOf(first)}/depth`;
  b.keys(depth, [
    { frame: 1, value: THIN, manner: 'back-out' },
    { frame: 1 + GROWS, value: THICK, manner: 'curve' },
  ]);
  b.keys(`${first}/rotation.y`, [
    { frame: 1, value: -35, manner: 'back-out' },
    { frame: 1 + GROWS, value: 0, manner: 'curve' },
  ]);
  b.change((shot, random) => {
    const made = makeClip(shot, [depth, `${first}/rotation.y`], 1, 1 + GROWS, 'Grow', random);
    let after = apply(shot, made.change);
    letters.slice(1).forEach((letter, i) => {
      const shown = placeClip(after, made.id, 1 + (i + 1) * LATER, { plays: 'hold' }, random);
      after = apply(after, shown.change);
      after = apply(after, putShowingOn(after, shown.id, letter));
    });
    return after;
  });
  b.marker('All grown', 1 + (letters.length - 1) * LATER + GROWS);
  b.beats(sound, TUNE_BEATS, BEAT_FRAMES);

  const from = [0.6, 1.5, 15] as const;
  const camera = b.camera('Camera', { at: from, turn: lookingAt(from, [0, 0.85, 0]), values: { lens: 38 } });
  b.keys(`${camera}/location.x`, [
    { frame: 1, value: -1.4 },
    { frame: LAST, value: 1.4 },
  ]);
  b.part('sun', 'Sun', { turn: [-38, 28, 0], at: [4, 6, 6], order: 'YXZ', values: { strength: 2.4 } });
  b.part('sky', 'Sky light', { at: [0, 5, 0], values: { strength: 0.9 } });
  return b.build();
}
