import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { createWriteStream } from 'node:fs';
import { Zip, ZipPassThrough } from 'fflate';
import type { FilmQuality } from '../core/film';
import type { Rate } from '../core/time';
import { LastingError } from './lasting-error';

/** Pictures of a film in order, as PNG. */
export type Pictures = AsyncIterable<{ frame: number; picture: Buffer }>;

// Both halves are needed for true colours: the matrix in the pixels and the tags that name it.
const BT709 = 'scale=out_color_matrix=bt709:out_range=tv';
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

/** Constant rate factors of the encoders: lower is finer. */
const CRF: Record<'mp4' | 'webm', Record<FilmQuality, string>> = {
  mp4: { best: '12', high: '18', small: '26' },
  webm: { best: '15', high: '24', small: '36' },
};

/** AAC in MP4, Opus in WebM. */
const SOUND_CODEC: Record<'mp4' | 'webm', string[]> = {
  mp4: ['-c:a', 'aac', '-b:a', '192k'],
  webm: ['-c:a', 'libopus', '-b:a', '160k'],
};

function encoderFor(format: 'mp4' | 'webm', alpha: boolean, quality: FilmQuality): string[] {
  if (format === 'mp4')
    return [
      '-vf',
      BT709,
      '-c:v',
      'libx264',
      '-preset',
      'veryfast',
      '-crf',
      CRF.mp4[quality],
      '-pix_fmt',
      'yuv420p',
      ...BT709_TAGS,
      '-movflags',
      '+faststart',
    ];
  const pixels = alpha ? 'yuva420p' : 'yuv420p';
  return [
    '-vf',
    `${BT709},format=${pixels}`,
    '-c:v',
    'libvpx-vp9',
    '-pix_fmt',
    pixels,
    '-crf',
    CRF.webm[quality],
    '-b:v',
    '0',
    '-deadline',
    'good',
    '-cpu-used',
    '5',
    '-row-mt',
    '1',
    ...(alpha ? ['-auto-alt-ref', '0'] : []),
    ...BT709_TAGS,
  ];
}

/**
 * Writes a film file. Every picture is one frame, exactly; the rate is the exact fraction.
 * @param sound a file of sound as long as the film, heard with it
 * @throws Error with what ffmpeg said when it fails
 */
export async function assembleFilm(
  pictures: Pictures,
  rate: Rate,
  format: 'mp4' | 'webm',
  alpha: boolean,
  path: string,
  quality: FilmQuality = 'high',
  sound: string | null = null,
): Promise<void> {
  const args = [
    '-hide_banner',
    '-loglevel',
    'error',
    '-y',
    '-f',
    'image2pipe',
    '-c:v',
    'png',
    '-framerate',
    `${rate.num}/${rate.den}`,
    '-i',
    'pipe:0',
    ...(sound === null ? [] : ['-i', sound, '-map', '0:v:0', '-map', '1:a:0']),
    ...encoderFor(format, alpha, quality),
    ...(sound === null ? [] : SOUND_CODEC[format]),
    '-fps_mode',
    'passthrough',
    path,
  ];
  const ffmpeg = spawn('ffmpeg', args, { stdio: ['pipe', 'ignore', 'pipe'] });
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
    for await (const { picture } of pictures) {
      if (ffmpeg.exitCode !== null) break;
      if (!ffmpeg.stdin.write(picture)) await Promise.race([once(ffmpeg.stdin, 'drain'), ended]);
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
  for await (const { frame, picture } of pictures) {
    const entry = new ZipPassThrough(frameFileName(shot, frame));
    zip.add(entry);
    entry.push(picture, true);
    if (file.writableNeedDrain) await once(file, 'drain');
  }
  zip.end();
  await once(file, 'close');
  if (failure) throw failure as Error;
}
