import { toast } from 'sonner';
import { fileKind, SOUND_BYTES } from '../../../core/format';
import {
  CUT,
  framesInReel,
  moveItem,
  putItem,
  putShot,
  putSound,
  ReelRefused,
  removeItem,
  spansOf,
  splitItem,
  strideOf,
  type Reel,
  type ShotItem,
  type Span,
  type TitleItem,
} from '../../../core/reel';
import { framesPerSecond } from '../../../core/time';
import type { ShotCard } from '../../../wire';
import { keepAsset } from '../shared/api';
import { chooseFile } from '../workbench/choose-file';
import { letteringOutline } from '../workbench/add/lettering';
import { factsOf, newItemId, newSoundId, type ReelSession } from './reel-session';

const TITLE_SECONDS = 2;
/** Letters of titles that nobody has chosen. */
export const TITLE_FONT = 'oswald';

/** Makes a change; what cannot be done is told. */
export function edit(session: ReelSession, make: (reel: Reel) => Reel, kind = ''): void {
  try {
    session.doc.change(make, kind);
  } catch (error) {
    if (!(error instanceof ReelRefused)) throw error;
    toast.error(error.message);
  }
}

/** Where something new goes: after what is chosen, else at the end. */
export function placeForNew(session: ReelSession): number {
  const at = session.reel.items.findIndex(({ id }) => id === session.choice.getState().id);
  return at < 0 ? session.reel.items.length : at + 1;
}

/** Chooses what has come, and goes there. */
function showNew(session: ReelSession, id: string): void {
  const span = spansOf(session.reel).find(({ item }) => item.id === id);
  if (!span) return;
  session.choose(id);
  session.goTo(span.start);
}

export function addShot(session: ReelSession, shot: ShotCard, at = placeForNew(session)): void {
  const id = newItemId();
  edit(session, (reel) => putShot(reel, factsOf(shot), id, at));
  showNew(session, id);
}

/** Letters of a title, line by line. @throws Error with the reason where a line cannot be lettered */
export async function lettered(text: string, font: string): Promise<TitleItem['lines']> {
  const lines: TitleItem['lines'][number][] = [];
  for (const line of text.split('\n').filter((each) => each.trim() !== '')) {
    const made = await letteringOutline(line, font);
    if (!made.ok) throw new Error(made.reason);
    lines.push({ text: made.text, outline: made.outline });
  }
  return lines;
}

export async function addTitle(session: ReelSession, text: string): Promise<void> {
  const at = placeForNew(session);
  const lines = text === '' ? [] : await lettered(text, TITLE_FONT);
  const id = newItemId();
  edit(session, (reel) => {
    const frames = Math.round(TITLE_SECONDS * framesPerSecond(reel.rate));
    const item: TitleItem = {
      ...{ id, kind: 'title', frames, join: CUT, lines },
      ...{ size: 0.1, ink: [0.86, 0.82, 0.7], ground: [0.004, 0.006, 0.01] },
    };
    return putItem(reel, text === '' ? { ...item, ground: [0, 0, 0] } : item, at);
  });
  showNew(session, id);
}

/** Brings a sound in; it begins at the playhead. */
export function addSoundFile(session: ReelSession): void {
  chooseFile('.wav,.mp3,.ogg,.flac,audio/*', (file) => {
    void (async () => {
      const bytes = new Uint8Array(await file.arrayBuffer());
      if (fileKind(bytes).kind !== 'sound' || bytes.length > SOUND_BYTES) {
        toast.error(`${file.name} is no WAV, MP3, OGG or FLAC of at most 200 MB.`);
        return;
      }
      const { hash: asset } = await keepAsset(bytes);
      const id = newSoundId();
      const name =
        file.name
          .replace(/\.[^.]+$/, '')
          .trim()
          .slice(0, 80) || 'Sound';
      const start = session.time.now.frame;
      edit(session, (reel) =>
        putSound(reel, id, { id, name, asset, start, from: 0, level: 1, fadeIn: 0, fadeOut: 0 }),
      );
      session.choose(id);
    })().catch((error: unknown) => toast.error(error instanceof Error ? error.message : String(error)));
  });
}

export const spanAt = (reel: Reel, frame: number): Span | undefined =>
  spansOf(reel).find(({ start, end }) => frame >= start && frame < end);

/** Frames of its shot for each frame of the reel. */
export function strideOfItem(session: ReelSession, item: ShotItem): number {
  const rate = session.insets.shotOf(item.shot)?.setup.rate ?? session.reel.rate;
  return strideOf(rate, session.reel.rate);
}

/** Cuts what is at the playhead in two. */
export function splitHere(session: ReelSession): void {
  const { reel } = session;
  const { frame } = session.time.now;
  const span = spanAt(reel, frame);
  if (!span) return;
  const { item } = span;
  const stride = item.kind === 'shot' ? strideOfItem(session, item) : 1;
  const id = newItemId();
  edit(session, (now) => splitItem(now, item, frame - span.start, stride, id));
  session.choose(id);
}

export function removeChosen(session: ReelSession): void {
  const { id } = session.choice.getState();
  if (id === null) return;
  edit(session, (reel) => (id.startsWith('snd_') ? putSound(reel, id, null) : removeItem(reel, id)));
}

/** Moves what is chosen one place on or back. */
export function moveChosen(session: ReelSession, by: 1 | -1): void {
  const { items } = session.reel;
  const at = items.findIndex(({ id }) => id === session.choice.getState().id);
  const to = at + by;
  if (at < 0 || to < 0 || to >= items.length) return;
  edit(session, (reel) => moveItem(reel, items[at]!.id, by > 0 ? to + 1 : to));
}

/** Goes to the cut before or after the playhead. */
export function goToCut(session: ReelSession, by: 1 | -1): void {
  const { frame } = session.time.now;
  const cuts = [...spansOf(session.reel).map(({ start }) => start), session.frames];
  const found = by > 0 ? cuts.find((cut) => cut > frame) : cuts.findLast((cut) => cut < frame);
  if (found !== undefined) session.goTo(found);
}

/** A shot's first and last frame as what they take of the reel. */
export function withRange(
  session: ReelSession,
  item: ShotItem,
  first: number,
  last: number,
): Partial<ShotItem> {
  const rate = session.insets.shotOf(item.shot)?.setup.rate ?? session.reel.rate;
  return { first, frames: framesInReel(first, Math.max(first, last), rate, session.reel.rate) };
}
