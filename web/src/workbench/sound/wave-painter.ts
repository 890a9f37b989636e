import type { Shot, Sound } from '../../../../core/document';
import { pieceOf } from '../../../../core/evaluate';
import { beatFrames } from '../../../../core/edit';
import { endOf, fadeAt, peakColumns, secondsPlayed } from '../../../../core/sound';
import { framesPerSecond } from '../../../../core/time';
import { SOUND_READ_RATE } from '../../../../wire';
import { themed } from '../../shared/theme';
import type { TimeScale } from '../timeline/time-scale';

/** Where on the screen a sound lies, and what is known of it. */
export interface WavePicture {
  readonly shot: Shot;
  readonly sound: Sound;
  readonly seconds: number;
  readonly peaks: Int8Array | null;
  readonly samples: number;
  readonly scale: TimeScale;
  readonly width: number;
  readonly height: number;
}

/** Frames over which a sound is heard. */
export function spanOf(shot: Shot, sound: Sound, seconds: number): { from: number; to: number } {
  const fps = framesPerSecond(shot.setup.rate);
  return { from: sound.start, to: sound.start + endOf(shot, sound, seconds) * fps };
}

/** Draws the strip of a sound: its wave as loud as its fades leave it, and the beats that lie in it. */
export function paintWave(g: CanvasRenderingContext2D, p: WavePicture): void {
  const { shot, sound, seconds, peaks, samples, scale, width, height } = p;
  g.fillStyle = themed('field');
  g.fillRect(0, 0, width, height);
  const span = spanOf(shot, sound, seconds);
  const [x0, x1] = [scale.x(span.from), scale.x(span.to)];
  g.globalAlpha = sound.muted ? 0.4 : 1;
  g.fillStyle = themed('teal-wash');
  g.beginPath();
  g.roundRect(x0, 2, Math.max(2, x1 - x0), height - 4, 4);
  g.fill();
  if (peaks && samples > 0) {
    const fps = framesPerSecond(shot.setup.rate);
    const piece = pieceOf(sound);
    const plays = secondsPlayed(piece, seconds);
    const perPixel = 1 / scale.perFrame / fps;
    const ends = endOf(shot, sound, seconds);
    const middle = height / 2;
    const tall = height / 2 - 4;
    g.fillStyle = themed('teal');
    const [left, right] = [Math.max(0, Math.floor(x0)), Math.min(width, Math.ceil(x1))];
    for (let x = left; x < right; x++) {
      const since = (x - x0) * perPixel;
      const within = piece.loop && plays > 0 ? since % plays : since;
      const at = (piece.from + within) * SOUND_READ_RATE;
      const [low = 0, high = 0] = peakColumns(peaks, samples, at, perPixel * SOUND_READ_RATE, 1);
      const share = fadeAt(sound, since, ends);
      const top = middle - Math.max(0.5, high * share * tall);
      g.fillRect(x, top, 1, Math.max(1, middle - low * share * tall - top));
    }
  }
  g.strokeStyle = themed('teal');
  g.lineWidth = 1;
  g.beginPath();
  g.roundRect(x0 + 0.5, 2.5, Math.max(2, x1 - x0 - 1), height - 5, 4);
  g.stroke();
  g.fillStyle = themed('brass');
  for (const frame of beatFrames(shot)) {
    const x = scale.x(frame);
    if (x >= 0 && x <= width) g.fillRect(Math.round(x), 0, 1, height);
  }
  g.globalAlpha = 1;
}
