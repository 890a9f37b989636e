import { BrokenMedia, run } from './run';

/** Codings that the browsers which draw can decode. */
const CODINGS: ReadonlySet<string> = new Set(['h264', 'vp8', 'vp9', 'av1']);
/** What a moment may be off an even rate, seconds: WebM writes whole milliseconds. */
const UNEVEN_S = 0.0015;
/** Rate at which videos without an even one are counted, pictures per second. */
const COUNTED_RATE = 60;
/** Bytes of the list of packets: two hours at 60 a second. */
const LIST_BYTES = 32 * 1024 * 1024;

/** What a file of video says of itself. */
export interface VideoFacts {
  /** Size in which it is shown, pixels. */
  readonly width: number;
  readonly height: number;
  /** Whether it can be seen through. */
  readonly alpha: boolean;
  /** Pictures per second. */
  readonly rate: { readonly num: number; readonly den: number };
  readonly pictures: number;
}

interface Probed {
  readonly packets?: readonly { readonly pts_time?: string; readonly duration_time?: string }[];
  readonly streams?: readonly {
    readonly codec_name?: string;
    readonly width?: number;
    readonly height?: number;
    readonly sample_aspect_ratio?: string;
    readonly r_frame_rate?: string;
    readonly avg_frame_rate?: string;
    readonly tags?: { readonly alpha_mode?: string };
    readonly side_data_list?: readonly { readonly rotation?: number }[];
  }[];
}

function fraction(text: string | undefined, between: '/' | ':'): { num: number; den: number } | null {
  const [num, den] = (text ?? '').split(between).map(Number);
  return num && den && Number.isInteger(num) && Number.isInteger(den) ? { num, den } : null;
}

/**
 * What a file of video is. Where its pictures do not follow each other evenly, they are counted at 60 a second.
 * @throws BrokenMedia for one that is none, is cut off or is coded so that browsers do not show it; NoDecoder without ffmpeg
 */
export async function probeVideo(path: string): Promise<VideoFacts> {
  const entries = [
    'stream=codec_name,width,height,sample_aspect_ratio,r_frame_rate,avg_frame_rate',
    'stream_tags=alpha_mode',
    'stream_side_data=rotation',
    'packet=pts_time,duration_time',
  ].join(':');
  const out = await run(
    'ffprobe',
    ['-v', 'error', '-select_streams', 'v:0', '-show_entries', entries, '-of', 'json', path],
    LIST_BYTES,
  );
  const { packets = [], streams = [] } = JSON.parse(out.toString()) as Probed;
  const [stream] = streams;
  if (!stream?.width || !stream.height) throw new BrokenMedia('there is no video in it');
  if (!CODINGS.has(stream.codec_name ?? ''))
    throw new BrokenMedia(
      `it is coded as ${stream.codec_name ?? 'something unknown'}, which browsers do not show; allowed are H.264, VP8, VP9 and AV1`,
    );
  // Reads all of it: a file whose end is missing may have a complete table of contents.
  let said = '';
  await run(
    'ffmpeg',
    ['-v', 'error', '-nostdin', '-i', path, '-map', '0:v:0', '-c', 'copy', '-f', 'null', '-'],
    0,
    (text) => (said = text),
  );
  if (/partial file|ended prematurely/i.test(said)) throw new BrokenMedia('it is cut off');
  const moments = packets
    .map((packet) => Number(packet.pts_time))
    .filter((moment) => moment >= 0)
    .sort((a, b) => a - b);
  if (moments.length === 0) throw new BrokenMedia('there is no picture in it');
  const square = fraction(stream.sample_aspect_ratio, ':') ?? { num: 1, den: 1 };
  const shown = [Math.round((stream.width * square.num) / square.den), stream.height] as const;
  const turned = (stream.side_data_list ?? []).some(({ rotation = 0 }) => Math.abs(rotation) % 180 === 90);
  const alpha = stream.tags?.alpha_mode === '1';
  const size = { width: shown[turned ? 1 : 0], height: shown[turned ? 0 : 1], alpha };
  const even = [fraction(stream.r_frame_rate, '/'), fraction(stream.avg_frame_rate, '/')].find(
    (rate) =>
      rate !== null &&
      moments.every((moment, i) => Math.abs(moment - moments[0]! - (i * rate.den) / rate.num) < UNEVEN_S),
  );
  if (even) return { ...size, rate: even, pictures: moments.length };
  const length = moments.at(-1)! - moments[0]! + Number(packets.at(-1)!.duration_time ?? 1 / COUNTED_RATE);
  return {
    ...size,
    rate: { num: COUNTED_RATE, den: 1 },
    pictures: Math.max(1, Math.round(length * COUNTED_RATE)),
  };
}
