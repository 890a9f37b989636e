import { createHash } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { blankShot, type Inset, type Picture, type Shot } from '../document';
import {
  addMarker,
  addPart,
  addTray,
  apply,
  changeLook,
  changeSetup,
  changeVideo,
  keyChannels,
  changeTray,
  renamePart,
  setLink,
  setLocked,
  setPicture,
  setValues,
  videosOf,
  type Change,
} from '../edit';
import { compile, type Plan } from '../evaluate';
import { FrameMeaning } from './frame-meaning';

function meaning(shot: Shot, frame: number, inner: Record<string, Shot> = {}): string {
  const plans = new Map<string, Plan>(Object.entries(inner).map(([id, other]) => [id, compile(other)]));
  const hash = createHash('sha256');
  new FrameMeaning(compile(shot), (id) => plans.get(id) ?? null).of(
    frame,
    (piece) => void hash.update(piece).update('\n'),
  );
  return hash.digest('hex');
}

/** A crate that moves from frame 11 to 21 before a camera. */
function scene(setup: Partial<Shot['setup']> = {}): { shot: Shot; crate: string; camera: string } {
  let shot = blankShot(setup);
  const add = (made: { change: Change; id: string }): string => {
    shot = apply(shot, made.change);
    return made.id;
  };
  const camera = add(addPart(shot, { kind: 'camera', name: 'Camera', values: { 'location.z': 5 } }));
  const crate = add(addPart(shot, { kind: 'solid', name: 'Crate' }));
  shot = apply(shot, keyChannels(shot, 11, [[`${crate}/location.x`, 0]]));
  shot = apply(shot, keyChannels(shot, 21, [[`${crate}/location.x`, 2]]));
  return { shot, crate, camera };
}

describe('what a frame means', () => {
  it('is the same for frames that show the same, and another one where anything moves', () => {
    const { shot } = scene();
    const of = (frame: number): string => meaning(shot, frame);
    expect(of(1)).toBe(of(11));
    expect(of(21)).toBe(of(90));
    expect(new Set([of(11), of(12), of(13), of(20), of(21)]).size).toBe(5);
  });
  it('does not change by what is not seen: names, markers, locks, the range, what is put away in the view', () => {
    const { shot, crate } = scene();
    for (const change of [
      renamePart(shot, crate, 'Box'),
      addMarker(shot, 5, 'Strike').change,
      setLocked(shot, [crate], true),
      changeSetup(shot, { last: 40 }),
      keyChannels(shot, 15, [[`${crate}/location.y`, 0]]),
    ]) {
      const next = apply(shot, change);
      expect(next, change.label).not.toEqual(shot);
      expect(meaning(next, 15), change.label).toBe(meaning(shot, 15));
    }
  });
  it('knows what a tray puts away in the view from what it leaves out of the picture', () => {
    const { shot, crate } = scene();
    const made = addTray(shot, 'Spare', [crate]);
    const kept = apply(shot, made.change);
    expect(meaning(kept, 5)).toBe(meaning(shot, 5));
    expect(meaning(apply(kept, changeTray(kept, made.id, { away: true })), 5)).toBe(meaning(shot, 5));
    expect(meaning(apply(kept, changeTray(kept, made.id, { out: true })), 5)).not.toBe(meaning(shot, 5));
  });
  it('changes at the frames alone that an edit changes', () => {
    const { shot, crate } = scene();
    const later = apply(shot, keyChannels(shot, 31, [[`${crate}/location.x`, 5]]));
    // The way to the key before it bends to meet what follows.
    for (const frame of [1, 5, 11, 21]) expect(meaning(later, frame)).toBe(meaning(shot, frame));
    for (const frame of [22, 30, 31, 90]) expect(meaning(later, frame)).not.toBe(meaning(shot, frame));
  });
  it('changes with every value, with how things are built, and with what the shot does to all pictures', () => {
    const { shot, crate, camera } = scene();
    const { shape, look } = shot.parts[crate]!;
    const edits: Change[] = [
      setValues(shot, [[`${crate}/rotation.y`, 3]]),
      setValues(shot, [[`${shape!}/width`, 3]]),
      setValues(shot, [[`${look!}/roughness`, 0.1]]),
      setValues(shot, [[`${camera}/lens`, 70]]),
      setValues(shot, [[`${crate}/visible`, 0]]),
      // Clear varnish of none asks for another program, which may draw other bits.
      setValues(shot, [[`${look!}/coat`, 0]]),
      setLink(shot, `${crate}/rotation.x`, 'frame'),
      changeLook(shot, look!, { twoSided: true }),
      changeSetup(shot, { tones: 'aces' }),
      changeSetup(shot, { background: [1, 0, 0] }),
      addPart(shot, { kind: 'hub', name: 'Hub' }).change,
    ];
    const all = edits.map((change) => meaning(apply(shot, change), 15));
    expect(new Set([meaning(shot, 15), ...all]).size).toBe(edits.length + 1);
  });
  it('goes by the number of the frame where each frame is laid out differently', () => {
    const built = scene({ samples: 8 });
    expect(meaning(built.shot, 1)).not.toBe(meaning(built.shot, 2));
    const { shot, camera } = scene();
    expect(meaning(shot, 1)).toBe(meaning(shot, 2));
    const grainy = apply(shot, setValues(shot, [[`${camera}/grain`, 0.1]]));
    expect(meaning(grainy, 1)).not.toBe(meaning(grainy, 2));
  });
  it('counts what moves while the shutter is open', () => {
    const { shot, crate, camera } = scene({ samples: 8 });
    const open = apply(shot, setValues(shot, [[`${camera}/shutter`, 180]]));
    // From frame 21 on it goes on, whether that is seen at 21 or not.
    const change = keyChannels(shot, 22, [[`${crate}/location.x`, 9]]);
    expect(meaning(apply(shot, change), 21)).toBe(meaning(shot, 21));
    const changed = keyChannels(open, 22, [[`${crate}/location.x`, 9]]);
    expect(meaning(apply(open, changed), 21)).not.toBe(meaning(open, 21));
  });
  it('goes by the picture that a video shows', () => {
    const { shot, crate } = scene();
    const film: Picture = {
      ...{ asset: 'a'.repeat(64), width: 8, height: 8, alpha: false, file: 'wave.mp4' },
      video: { rate: { num: 12, den: 1 }, pictures: 20, start: 31, speed: 1, from: 0, to: 20, after: 'hold' },
    };
    const shown = apply(shot, setPicture(shot, shot.parts[crate]!.look!, 'all', film));
    const of = (frame: number): string => meaning(shown, frame);
    expect(of(25)).toBe(of(31));
    // Twelve pictures a second in 24 frames.
    expect(of(32)).toBe(of(31));
    expect(of(33)).not.toBe(of(31));
    expect(of(80)).toBe(of(90));
    const slow = apply(shown, changeVideo(shown, videosOf(shown)[0]!.path, { speed: 0.5 }));
    expect(meaning(slow, 41)).not.toBe(of(41));
  });
  it('goes by what a shot in the shot shows at the time, and by nothing of it where it is not seen', () => {
    const { shot: other, crate } = scene();
    const outer = scene();
    const inset: Inset = { shot: 'inner', name: 'Inner', start: 31, speed: 1, plays: 'once', until: null };
    const shown = apply(outer.shot, addPart(outer.shot, { kind: 'shot', name: 'Inner', inset }).change);
    const of = (inner: Shot, frame: number): string => meaning(shown, frame, { inner });
    expect(of(other, 32)).toBe(of(other, 40));
    expect(of(other, 45)).not.toBe(of(other, 46));
    // Its frame 25 is seen at frame 55.
    const later = apply(other, keyChannels(other, 24, [[`${crate}/location.x`, 7]]));
    expect(of(later, 51)).toBe(of(other, 51));
    expect(of(later, 55)).not.toBe(of(other, 55));
    expect(of(later, 25)).toBe(of(other, 25));
  });
  it('tells copies of a repeat by their places and looks', () => {
    const { shot, crate } = scene();
    const made = addPart(shot, { kind: 'repeat', name: 'Row', values: { copies: 3 } });
    let row = apply(shot, made.change);
    row = { ...row, parts: { ...row.parts, [crate]: { ...row.parts[crate]!, parent: made.id } } };
    const bent = apply(row, setLink(row, `${made.id}/copy.location.y`, 'index * index * 0.1'));
    const glowing = apply(row, setLink(row, `${made.id}/copy.glow`, 'index'));
    expect(new Set([row, bent, glowing].map((one) => meaning(one, 5))).size).toBe(3);
  });
});
