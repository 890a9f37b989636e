import { toast } from 'sonner';
import { readOtio, TimelineRefused, writeOtio, type TimelineShot } from '../../../core/format/otio';
import type { Reel, ReelItem } from '../../../core/reel';
import type { ShotCard } from '../../../wire';
import { saveFile } from '../shared/save-file';
import { chooseFile } from '../workbench/choose-file';
import { lettered, TITLE_FONT } from './reel-edits';
import { newItemId } from './reel-session';

/** Bytes of a timeline that are read. */
const MOST = 16 * 1024 * 1024;

/** Saves a reel as OpenTimelineIO. */
export function saveTimeline(reel: Reel, name: string, shots: readonly ShotCard[]): void {
  const text = writeOtio(reel, name, (id) => shots.find((shot) => shot.id === id) ?? null);
  saveFile(text, 'application/json', `${name}.otio`);
}

/** A timeline as a reel, its titles lettered. @throws TimelineRefused, Error with the reason */
export async function reelOfTimeline(
  text: string,
  shots: readonly ShotCard[],
): Promise<{ readonly name: string; readonly reel: Reel; readonly notes: readonly string[] }> {
  const known = new Map<string, TimelineShot>(shots.map((shot) => [shot.id, shot]));
  const { name, reel, unlettered, notes } = readOtio(text, known, newItemId);
  const told = [...notes];
  const items: ReelItem[] = [];
  for (const item of reel.items) {
    const title = unlettered.find(({ id }) => id === item.id);
    if (!title || item.kind !== 'title') items.push(item);
    else
      try {
        const lines = await lettered(title.text.split('\n').slice(0, 4).join('\n'), title.font ?? TITLE_FONT);
        items.push({ ...item, lines });
      } catch (error) {
        told.push(
          `The title "${title.text}" is without letters: ${error instanceof Error ? error.message : ''}`,
        );
        items.push(item);
      }
  }
  return { name, reel: { ...reel, items }, notes: told };
}

/** Has a timeline chosen and read; what it has that a reel has not is told. */
export function openTimeline(
  shots: readonly ShotCard[],
  take: (name: string, reel: Reel, notes: readonly string[]) => void,
): void {
  chooseFile('.otio,.json,application/json', (file) => {
    void (async () => {
      if (file.size > MOST) throw new TimelineRefused(`A timeline may have 16 MB, ${file.name} has more.`);
      const { name, reel, notes } = await reelOfTimeline(await file.text(), shots);
      take(name, reel, notes);
    })().catch((error: unknown) =>
      toast.error(`${file.name} cannot be read. ${error instanceof Error ? error.message : String(error)}`, {
        duration: 15_000,
      }),
    );
  });
}
