import { BrokenMedia, run } from './run';

/** What a file of sound says of itself. */
export interface SoundFacts {
  readonly seconds: number;
  readonly channels: number;
  /** Samples per second. */
  readonly rate: number;
}

/**
 * What a file of sound is.
 * @throws BrokenMedia for one that is none or cannot be read; NoDecoder without ffmpeg
 */
export async function probeSound(path: string): Promise<SoundFacts> {
  const args = ['-v', 'error', '-select_streams', 'a:0', '-show_entries'];
  const out = await run(
    'ffprobe',
    [...args, 'stream=channels,sample_rate,duration:format=duration', '-of', 'json', path],
    65_536,
  );
  const { streams = [], format } = JSON.parse(out.toString()) as {
    streams?: { channels?: number; sample_rate?: string; duration?: string }[];
    format?: { duration?: string };
  };
  const [stream] = streams;
  if (!stream?.channels) throw new BrokenMedia('there is no sound in it');
  const seconds = Number(stream.duration ?? format?.duration);
  if (!Number.isFinite(seconds) || seconds <= 0) throw new BrokenMedia('it has no length');
  return { seconds, channels: stream.channels, rate: Number(stream.sample_rate) };
}

/**
 * Samples of a file of sound, -1 to 1, resampled. Two channels become one by their mean, one becomes two alike; of more than
 * two, ffmpeg makes two first.
 * @param most seconds that are read at most
 * @throws BrokenMedia; NoDecoder
 */
export async function decodeSound(
  path: string,
  channels: 1 | 2,
  rate: number,
  most: number,
): Promise<Float32Array<ArrayBuffer>[]> {
  const { channels: stored } = await probeSound(path);
  const read = Math.min(2, stored);
  const bytes = await run(
    'ffmpeg',
    [
      ...['-v', 'error', '-nostdin', '-i', path, '-map', '0:a:0', '-t', String(most)],
      // From one channel to two, or from two to one, ffmpeg would change how loud it is.
      ...(stored > 2 ? ['-ac', '2'] : []),
      ...['-ar', String(rate), '-f', 'f32le', 'pipe:1'],
    ],
    (most + 1) * rate * read * 4,
  );
  const count = Math.floor(bytes.length / 4 / read);
  const all = new Float32Array(Uint8Array.from(bytes.subarray(0, count * read * 4)).buffer);
  if (read === 1) return Array.from({ length: channels }, () => all);
  const sides = [0, 1].map((side) => {
    const own = new Float32Array(count);
    for (let i = 0; i < count; i++) own[i] = all[i * 2 + side]!;
    return own;
  });
  if (channels === 2) return sides;
  const [left, right] = sides as [Float32Array<ArrayBuffer>, Float32Array<ArrayBuffer>];
  for (let i = 0; i < count; i++) left[i] = (left[i]! + right[i]!) / 2;
  return [left];
}

/** Rate at which sounds are mixed for films, samples per second. */
export const MIX_RATE = 48_000;
