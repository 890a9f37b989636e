import { parentPort, workerData } from 'node:worker_threads';
import { fluxOf, loudnessOf, peakPyramid } from '../../core/sound';
import { decodeSound } from '../../decode';
import { SOUND_READ_RATE, SOUND_TAKEN_SECONDS } from '../../wire';
import type { SoundTables } from '../store/sounds';

/* A thread that works one sound out and ends: minutes of computing hold nobody up here. */

const { path } = workerData as { path: string };
const [samples] = await decodeSound(path, 1, SOUND_READ_RATE, SOUND_TAKEN_SECONDS + 60);
const flux = fluxOf(samples!, SOUND_READ_RATE);
const bytesOf = ({ buffer }: { buffer: ArrayBufferLike }): Uint8Array => new Uint8Array(buffer);
const tables: SoundTables = {
  samples: samples!.length,
  peaks: bytesOf(peakPyramid(samples!)),
  loudness: bytesOf(loudnessOf(samples!, SOUND_READ_RATE).power),
  flux: bytesOf(Float32Array.from(flux.values)),
  struck: flux.struck,
};
parentPort!.postMessage(tables);
