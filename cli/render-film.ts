import { copyFile, rm, writeFile } from 'node:fs/promises';
import type { Shot } from '../core/document';
import type { LoudnessTables } from '../core/evaluate';
import { filmFormat, type FilmFormat, type FilmQuality } from '../core/film';
import { assemble } from '../render/assemble';
import { Composer } from '../render/composer';
import { DrawingBrowser, type PictureSize } from '../render/drawing-browser';
import { loadScene } from '../render/film-loader';
import { FilmScenes } from '../render/film-scenes';
import { mixedSound } from '../render/mixed-sound';
import { pictureRaw, type Pictures } from '../render/raw-frame';
import { makeFolder } from '../render/work-folder';
import { loudnessBeside, readBeside } from './beside';
import type { FilmFiles } from './film-source';
import { Misuse } from './misuse';

interface Range {
  readonly first: number;
  readonly last: number;
}

/** How the pictures of a film are drawn, and what is made of them. */
interface FilmManner extends Omit<PictureSize, 'deep'> {
  readonly format: FilmFormat;
  readonly quality: FilmQuality;
}

/**
 * Draws a film and writes it to a file, or its pictures to one file each.
 * @param folder where the pictures and sounds of its shots lie
 * @throws Misuse when something that it shows cannot be read
 */
export async function writeFilm(
  files: FilmFiles,
  folder: string,
  range: Range,
  { width, height, alpha, samples, effects, format, quality }: FilmManner,
  out: string,
): Promise<void> {
  const work = makeFolder();
  const browser = await DrawingBrowser.open((hash) => readBeside(folder, hash, ...files.shots));
  try {
    const size = { width, height, alpha, samples, effects, deep: filmFormat(format).deep };
    const pictures = picturesOf(browser, files, size, range, (shot) => loudnessBeside(shot, folder, work));
    if (filmFormat(format).ending === 'zip') {
      for await (const picture of pictures) {
        const path = out.replace(/%0?(\d*)d/, (_, digits: string) =>
          String(picture.frame).padStart(Number(digits || 1), '0'),
        );
        await writeFile(path, await picture.png());
      }
    } else {
      const sound = async (): Promise<string | null> => {
        const loudness = await loudnessBeside(files.heard, folder, work);
        return mixedSound(files.heard, loudness, range, work, (hash) =>
          readBeside(folder, hash, ...files.shots),
        );
      };
      const { rate } = files;
      await assemble(pictures, { width, height, format, rate, alpha, quality, name: '', sound }, out);
    }
  } finally {
    await browser.close();
    await rm(work, { recursive: true, force: true });
  }
}

/** Draws the frames of a film; each is told, and drawn while the one before it is sent and written. */
async function* picturesOf(
  browser: DrawingBrowser,
  { source }: FilmFiles,
  size: PictureSize,
  { first, last }: Range,
  tablesOf: (shot: Shot) => Promise<LoudnessTables>,
): Pictures {
  const scenes = new FilmScenes(source, tablesOf);
  let loaded: string | null = null;
  const composer = new Composer(
    (frame) => scenes.at(frame),
    size,
    async ({ scene, frame }) => {
      if (loaded !== scene) {
        loaded = null;
        const ready = await scenes.scene(scene);
        await loadScene(browser, ready, size).catch((error: unknown) => {
          // What a shot shows and nobody can read is the caller's to bring: told in one line.
          const [line] = (error instanceof Error ? error.message : String(error)).split('\n');
          throw new Misuse(line!.replace(/^Error: /, ''));
        });
        loaded = scene;
      }
      return browser.drawAhead(frame);
    },
  );
  const frames = Array.from({ length: last - first + 1 }, (_, i) => first + i);
  let drawing = composer.frame(frames, first);
  for (const frame of frames) {
    const { picture } = await drawing;
    if (frame < last) drawing = composer.frame(frames, frame + 1);
    drawing.catch(() => undefined);
    const raw = await picture;
    process.stderr.write(`\rframe ${frame} (${frame - first + 1} of ${frames.length})`);
    yield pictureRaw(frame, raw);
  }
  process.stderr.write('\n');
}

/** Writes what is heard of a film, without its picture. @throws Misuse when nothing is heard */
export async function writeSound(
  { heard, shots }: FilmFiles,
  folder: string,
  range: Range,
  out: string,
): Promise<void> {
  const work = makeFolder();
  try {
    const loudness = await loudnessBeside(heard, folder, work);
    const sound = await mixedSound(heard, loudness, range, work, (hash) =>
      readBeside(folder, hash, ...shots),
    );
    if (sound === null) throw new Misuse('It has no sound that is heard.');
    await copyFile(sound, out);
  } finally {
    await rm(work, { recursive: true, force: true });
  }
}
