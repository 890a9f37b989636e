import { basename } from 'node:path';
import { parseArgs } from 'node:util';
import { loudnessOf } from '../core/sound';
import { BrokenMedia, decodeSound, NoDecoder } from '../decode';
import { SOUND_READ_RATE, SOUND_TAKEN_SECONDS } from '../wire';
import { Misuse } from './misuse';

/** Prints the loudness of a file of sound, for `sample --loudness`. */
export async function loudnessCommand(args: string[]): Promise<void> {
  const { values, positionals } = parseArgs({
    args,
    allowPositionals: true,
    options: { name: { type: 'string' } },
  });
  const [path] = positionals;
  if (!path) throw new Misuse('Name a file of sound, for example organ.wav.');
  const name = values.name ?? basename(path).replace(/\.[^.]+$/, '');
  let samples: Float32Array | undefined;
  try {
    [samples] = await decodeSound(path, 1, SOUND_READ_RATE, SOUND_TAKEN_SECONDS);
  } catch (error) {
    if (!(error instanceof BrokenMedia || error instanceof NoDecoder)) throw error;
    throw new Misuse(`${path}: ${error.message}`);
  }
  const { power, ...table } = loudnessOf(samples!, SOUND_READ_RATE);
  process.stdout.write(`${JSON.stringify({ [name]: { ...table, power: [...power] } })}\n`);
}
