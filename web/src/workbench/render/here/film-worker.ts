import {
  AudioSample,
  AudioSampleSource,
  BufferTarget,
  canEncodeAudio,
  canEncodeVideo,
  CanvasSource,
  Mp4OutputFormat,
  Output,
  QUALITY_HIGH,
  WebMOutputFormat,
  type AudioCodec,
  type VideoCodec,
} from 'mediabunny';
import { compile, Evaluator } from '../../../../../core/evaluate';
import { Assets, createRenderer, Film, largestSide, Picture } from '../../../../../draw';
import { readAsset } from '../../../shared/api';
import { bitRate, codecsOf, type FilmAnswer, type FilmHereOf, type FilmOrder } from './order';

/* Draws a film as the render machines do and encodes it, beside the page. One film, then it is ended. */

/** Seconds from one picture that stands by itself to the next. */
const WHOLE_PICTURE_EVERY = 2;
const SOUND_PIECE = 48_000;

const scope = self as unknown as {
  onmessage: ((event: MessageEvent<FilmOrder>) => void) | null;
  postMessage(answer: FilmAnswer, handed?: Transferable[]): void;
};

/** The first codec that this browser has for a film. @throws Error when it has none */
async function videoCodec({ format, width, height }: FilmHereOf): Promise<VideoCodec> {
  for (const codec of codecsOf(format)) if (await canEncodeVideo(codec, { width, height })) return codec;
  throw new Error(
    `This browser cannot encode ${format === 'mp4' ? 'H.264' : codecsOf(format).join(' or ').toUpperCase()} at ${width}×${height}. Choose another format or size, or the render machines.`,
  );
}

async function audioCodec(format: FilmHereOf['format'], rate: number): Promise<AudioCodec | null> {
  const codecs: AudioCodec[] = format === 'webm' ? ['opus'] : ['aac', 'opus'];
  for (const codec of codecs)
    if (await canEncodeAudio(codec, { numberOfChannels: 2, sampleRate: rate })) return codec;
  return null;
}

/** Writes which frame it is into the corner of a picture. */
function writeNumber(
  to: OffscreenCanvasRenderingContext2D,
  frame: number,
  height: number,
  { plate, ink }: FilmOrder['colours'],
): void {
  const size = Math.max(11, Math.round(height / 12));
  const text = String(frame);
  to.font = `700 ${size}px ui-monospace, monospace`;
  to.textBaseline = 'middle';
  const width = to.measureText(text).width + size;
  to.fillStyle = plate;
  to.fillRect(0, 0, width, size * 1.5);
  to.fillStyle = ink;
  to.fillText(text, size / 2, size * 0.8);
}

async function make({ of, shot, loudness, inner, colours, sound }: FilmOrder): Promise<void> {
  const { first, last, width, height, format, quality, samples, effects, numbers } = of;
  const { num, den } = shot.setup.rate;
  const codec = await videoCodec(of);
  const plan = compile(shot, loudness);
  const inside = new Map(inner.map((entry) => [entry.id, compile(entry.shot, entry.loudness)]));
  const canvas = new OffscreenCanvas(width, height);
  const renderer = createRenderer(canvas, { alpha: true, preserve: true });
  const most = largestSide(renderer);
  if (Math.max(width, height) > most)
    throw new Error(
      `This browser draws at most ${most} pixels along a side: choose a smaller size, or have render machines draw it.`,
    );
  renderer.setSize(width, height, false);
  const film = new Film(renderer);
  const assets = new Assets(readAsset);
  for (const each of [plan, ...inside.values()]) await assets.ready(each.shot);
  const picture = new Picture(assets);
  picture.setInner((id) => inside.get(id) ?? null);
  picture.setPlan(plan);
  const evaluator = new Evaluator(plan);

  const laid = numbers ? new OffscreenCanvas(width, height).getContext('2d', { alpha: false })! : null;
  const target = new BufferTarget();
  const output = new Output({
    format: format === 'webm' ? new WebMOutputFormat() : new Mp4OutputFormat({ fastStart: 'in-memory' }),
    target,
  });
  const video = new CanvasSource(laid?.canvas ?? canvas, {
    codec,
    bitrate: bitRate({ width, height, quality, format }, num / den),
    keyFrameInterval: WHOLE_PICTURE_EVERY,
  });
  output.addVideoTrack(video, { frameRate: num / den });
  const heard = sound && (await audioCodec(format, sound.rate));
  const audio = heard ? new AudioSampleSource({ codec: heard, bitrate: QUALITY_HIGH }) : null;
  if (audio) output.addAudioTrack(audio);
  await output.start();

  let soundAt = 0;
  /** Sound goes in beside the pictures, so that neither waits for the other. */
  const addSound = async (until: number): Promise<void> => {
    if (!audio || !sound) return;
    const end = Math.min(sound.sides[0].length, Math.ceil(until * sound.rate));
    while (soundAt < end) {
      const count = Math.min(SOUND_PIECE, end - soundAt);
      const data = new Float32Array(count * 2);
      for (const [side, values] of sound.sides.entries())
        data.set(values.subarray(soundAt, soundAt + count), side * count);
      const sample = new AudioSample({
        data,
        format: 'f32-planar',
        numberOfChannels: 2,
        sampleRate: sound.rate,
        timestamp: soundAt / sound.rate,
      });
      await audio.add(sample);
      sample.close();
      soundAt += count;
    }
  };

  for (let frame = first; frame <= last; frame++) {
    evaluator.evaluate(frame);
    picture.update(evaluator);
    await assets.settled();
    const [failed] = assets.failures;
    if (failed) throw new Error(`A file cannot be shown: ${failed[1]}`);
    film.draw(picture, {
      evaluator,
      aspect: width / height,
      effects,
      ...(samples === null ? {} : { samples }),
    });
    if (laid) {
      laid.drawImage(canvas, 0, 0);
      writeNumber(laid, frame, height, colours);
    }
    const at = ((frame - first) * den) / num;
    await addSound(at + den / num);
    await video.add(at, den / num);
    scope.postMessage({ drawn: frame - first + 1 });
  }
  await output.finalize();
  scope.postMessage(
    {
      film: target.buffer!,
      type: format === 'webm' ? 'video/webm' : 'video/mp4',
      ending: format === 'webm' ? 'webm' : 'mp4',
      soundless: sound && !heard ? 'This browser can encode no sound: the film has none.' : null,
    },
    [target.buffer!],
  );
}

scope.onmessage = ({ data }) => {
  make(data).catch((error: unknown) =>
    scope.postMessage({ failed: error instanceof Error ? error.message : String(error) }),
  );
};
