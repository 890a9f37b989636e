import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { createWriteStream } from 'node:fs';
import { setPriority } from 'node:os';
import { writeFile } from 'node:fs/promises';
import { Zip, ZipPassThrough } from 'fflate';
import sharp from 'sharp';
import { filmFormat, type FilmFormat, type FilmQuality } from '../core/film';
import type { Rate } from '../core/time';
import { LastingError } from './lasting-error';
import type { Pictures } from './raw-frame';

/** Formats that are written by ffmpeg. */
export type MovingFormat = Exclude<FilmFormat, 'png' | 'png16' | 'still' | 'jpeg'>;

// Both halves are needed for true colours: the matrix in the pixels and the tags that name it.
const BT709 = 'scale=out_color_matrix=bt709:out_range=tv';
/** For an encoder that takes the names of the colours from the pictures. */
const NAMED_BT709 = 'setparams=colorspace=bt709:color_primaries=bt709:color_trc=bt709:range=tv';
const BT709_TAGS = [
  '-color_primaries',
  'bt709',
  '-color_trc',
  'bt709',
  '-colorspace',
  'bt709',
  '-color_range',
  'tv',
];

const MOVIE: readonly string[] = [...BT709_TAGS, '-movflags', '+faststart'];
const SOUND_AAC = ['-c:a', 'aac', '-b:a', '192k'];

/** Whether pictures of a format are wanted as numbers, not as they are stored. */
export const wantsNumbers = (format: FilmFormat): format is MovingFormat => format in ENCODINGS;

/** How far the encoder stands back: threads that draw wait for one another, and one held up holds up all. */
const NICE = 15;

/** Lets drawing come before a process, where the system allows that. */
function standBack(pid: number | undefined): void {
  try {
    if (pid !== undefined) setPriority(pid, NICE);
  } catch {
    // It has ended already, or may not be changed: it is as fast as it is.
  }
}

/** How a format is written by ffmpeg. */
interface Encoding {
  /** @param alpha what can be seen through is kept */
  readonly video: (quality: FilmQuality, alpha: boolean) => readonly string[];
  /** How its sound is written; missing where it has none. */
  readonly sound?: readonly string[];
}

/** Formats that are more than one picture; numbers of a quality are the encoders' own: lower is finer, but for WebP. */
const ENCODINGS: Record<MovingFormat, Encoding> = {
  mp4: {
    video: (quality) => [
      ...['-vf', BT709, '-c:v', 'libx264', '-preset', 'veryfast', '-pix_fmt', 'yuv420p'],
      ...['-crf', { best: '12', high: '18', small: '26' }[quality], ...MOVIE],
    ],
    sound: SOUND_AAC,
  },
  av1: {
    video: (quality) => [
      ...['-vf', BT709, '-c:v', 'libsvtav1', '-preset', '8', '-pix_fmt', 'yuv420p'],
      // This encoder takes the names of the colours by numbers of its own (ITU-T H.273).
      ...[
        '-svtav1-params',
        'color-primaries=1:transfer-characteristics=1:matrix-coefficients=1:color-range=0',
      ],
      ...['-crf', { best: '18', high: '28', small: '42' }[quality], ...MOVIE],
    ],
    sound: SOUND_AAC,
  },
  webm: {
    video: (quality, alpha) => {
      const pixels = alpha ? 'yuva420p' : 'yuv420p';
      return [
        ...['-vf', `${BT709},format=${pixels}`, '-c:v', 'libvpx-vp9', '-pix_fmt', pixels, '-b:v', '0'],
        ...['-crf', { best: '15', high: '24', small: '36' }[quality], '-deadline', 'good', '-cpu-used', '5'],
        ...['-row-mt', '1', ...(alpha ? ['-auto-alt-ref', '0'] : []), ...BT709_TAGS],
      ];
    },
    sound: ['-c:a', 'libopus', '-b:a', '160k'],
  },
  mov: {
    video: (_quality, alpha) => [
      ...[
        '-vf',
        `${BT709},format=${alpha ? 'yuva444p10le' : 'yuv444p10le'},${NAMED_BT709}`,
        '-c:v',
        'prores_ks',
      ],
      ...['-profile:v', '4444', '-vendor', 'apl0', ...(alpha ? ['-alpha_bits', '16'] : []), ...MOVIE],
    ],
    sound: ['-c:a', 'pcm_s16le'],
  },
  gif: {
    // A palette for each picture: none has to be kept until the last has come.
    video: (_quality, alpha) => [
      ...[
        '-vf',
        `split[a][b];[a]palettegen=stats_mode=single:reserve_transparent=${alpha ? 1 : 0}[p];[b][p]paletteuse=new=1:dither=sierra2_4a`,
      ],
      ...['-c:v', 'gif', '-loop', '0'],
    ],
  },
  webp: {
    video: (quality, alpha) => [
      ...['-vf', `format=${alpha ? 'bgra' : 'rgb24'}`, '-c:v', 'libwebp_anim', '-compression_level', '4'],
      ...['-quality', { best: '96', high: '86', small: '68' }[quality], '-loop', '0'],
    ],
  },
};

/**
 * Writes a film file. Every picture is one frame, exactly; the rate is the exact fraction.
 * @param sound a file of sound as long as the film, heard with it where the format has sound
 * @throws Error with what ffmpeg said when it fails
 */
export async function assembleFilm(
  pictures: Pictures,
  size: { readonly width: number; readonly height: number },
  rate: Rate,
  format: MovingFormat,
  alpha: boolean,
  path: string,
  quality: FilmQuality = 'high',
  sound: string | null = null,
): Promise<void> {
  const heard = ENCODINGS[format].sound ? sound : null;
  const args = [
    '-hide_banner',
    '-loglevel',
    'error',
    '-y',
    '-f',
    'rawvideo',
    '-pixel_format',
    'rgba',
    '-video_size',
    `${size.width}x${size.height}`,
    '-framerate',
    `${rate.num}/${rate.den}`,
    '-i',
    'pipe:0',
    ...(heard === null ? [] : ['-i', heard, '-map', '0:v:0', '-map', '1:a:0']),
    ...ENCODINGS[format].video(quality, alpha),
    ...(heard === null ? [] : ENCODINGS[format].sound!),
    '-fps_mode',
    'passthrough',
    path,
  ];
  const ffmpeg = spawn('ffmpeg', args, { stdio: ['pipe', 'ignore', 'pipe'] });
  standBack(ffmpeg.pid);
  let said = '';
  ffmpeg.stderr.on('data', (text: Buffer) => (said = (said + text.toString()).slice(-2000)));
  // A broken pipe shows in the exit code; without a listener it would end this process.
  ffmpeg.stdin.on('error', () => undefined);
  const ended = new Promise<number>((resolve, reject) => {
    ffmpeg.on('error', (error) =>
      reject(new LastingError(`ffmpeg could not be started: ${error.message}. Install Debian's ffmpeg.`)),
    );
    ffmpeg.on('close', (code) => resolve(code ?? -1));
  });
  ended.catch(() => undefined);
  try {
    for await (const picture of pictures) {
      if (ffmpeg.exitCode !== null) break;
      const { pixels } = await picture.raw();
      if (!ffmpeg.stdin.write(pixels)) await Promise.race([once(ffmpeg.stdin, 'drain'), ended]);
    }
    ffmpeg.stdin.end();
  } catch (error) {
    ffmpeg.kill('SIGKILL');
    throw error;
  }
  const code = await ended;
  if (code !== 0) throw new Error(`ffmpeg ended with ${code}: ${said.trim()}`);
}

/** Name of a frame's file: `Full ride_0001.png`, a minus sign before numbers below 0. */
export function frameFileName(shot: string, frame: number): string {
  const digits = String(Math.abs(frame)).padStart(4, '0');
  return `${shot.replace(/[^\p{L}\p{N} ._-]/gu, '_')}_${frame < 0 ? '-' : ''}${digits}.png`;
}

/** Writes numbered PNG frames into a zip file. PNG is packed already, so they are stored as they are. */
export async function assembleZip(pictures: Pictures, shot: string, path: string): Promise<void> {
  const file = createWriteStream(path);
  let failure: Error | null = null;
  const zip = new Zip((error, chunk, last) => {
    if (error) failure = error;
    else file.write(chunk);
    if (last) file.end();
  });
  try {
    for await (const picture of pictures) {
      const entry = new ZipPassThrough(frameFileName(shot, picture.frame));
      zip.add(entry);
      entry.push(await picture.png(), true);
      if (file.writableNeedDrain) await once(file, 'drain');
    }
  } catch (error) {
    file.destroy();
    throw error;
  }
  zip.end();
  await once(file, 'close');
  if (failure) throw failure as Error;
}

const JPEG_QUALITY: Record<FilmQuality, number> = { best: 97, high: 90, small: 75 };

/** Writes the one picture of a still. */
async function writeStill(
  pictures: Pictures,
  format: 'still' | 'jpeg',
  quality: FilmQuality,
  path: string,
): Promise<void> {
  for await (const picture of pictures) {
    const png = await picture.png();
    if (format === 'still') await writeFile(path, png);
    else await sharp(png).jpeg({ quality: JPEG_QUALITY[quality], chromaSubsampling: '4:4:4' }).toFile(path);
    return;
  }
}

/** What is written, beside its pictures. */
export interface Assembled {
  readonly width: number;
  readonly height: number;
  readonly format: FilmFormat;
  readonly rate: Rate;
  readonly alpha: boolean;
  readonly quality: FilmQuality;
  /** Name that numbered pictures have. */
  readonly name: string;
  /** Gives a file of the sound, or `null`; asked where the format has sound. */
  readonly sound: () => Promise<string | null>;
}

/** Writes a film of any format. @throws Error with what the encoder said when it fails */
export async function assemble(pictures: Pictures, of: Assembled, path: string): Promise<void> {
  const { format, rate, alpha, quality } = of;
  if (format === 'png' || format === 'png16') await assembleZip(pictures, of.name, path);
  else if (format === 'still' || format === 'jpeg') await writeStill(pictures, format, quality, path);
  else {
    const sound = filmFormat(format).sound ? await of.sound() : null;
    await assembleFilm(pictures, of, rate, format, alpha, path, quality, sound);
  }
}
