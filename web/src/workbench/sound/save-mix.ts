import { toast } from 'sonner';
import type { Plan } from '../../../../core/evaluate';
import { wavOf } from '../../../../core/format/wav';
import { mix, type Heard } from '../../../../core/sound';
import { saveFile } from '../../shared/save-file';
import type { Session } from '../session';

const TOAST = 'mix';
/** Seconds that are mixed at a time, so that the page stays awake. */
const PIECE_SECONDS = 10;

/**
 * Mixes what is heard from one frame to another, piece by piece.
 * @param told how far it has come, 0 to 1
 */
export async function mixed(
  plan: Plan,
  files: Readonly<Record<string, Heard>>,
  range: { readonly first: number; readonly last: number },
  rate: number,
  told: (share: number) => void = () => undefined,
): Promise<[Float32Array, Float32Array]> {
  const { num, den } = plan.shot.setup.rate;
  // Pieces are whole seconds, so that each has whole samples.
  const step = den === 1 ? num * PIECE_SECONDS : range.last - range.first + 1;
  const pieces: [Float32Array, Float32Array][] = [];
  for (let first = range.first; first <= range.last; first += step) {
    pieces.push(mix(plan, files, first, Math.min(range.last, first + step - 1), rate));
    told((first - range.first) / (range.last - range.first + 1));
    await new Promise((next) => setTimeout(next));
  }
  const joined = (side: 0 | 1): Float32Array => {
    const out = new Float32Array(pieces.reduce((sum, piece) => sum + piece[side].length, 0));
    let at = 0;
    for (const piece of pieces) {
      out.set(piece[side], at);
      at += piece[side].length;
    }
    return out;
  };
  return [joined(0), joined(1)];
}

/** Saves what is heard of the shot's range as a WAV file. */
export async function saveMix(session: Session): Promise<void> {
  const { name, shot } = session.doc.now;
  const heard = await session.heard.decoded();
  if (!heard) {
    toast('Nothing is heard in this shot: bring a sound in, or let one be heard.');
    return;
  }
  const wanted = await mixed(heard.plan, heard.files, shot.setup, heard.rate, (share) =>
    toast(`Mixing the sound: ${Math.round(share * 100)} %`, { id: TOAST }),
  );
  saveFile(wavOf(wanted, heard.rate), 'audio/wav', `${name}.wav`);
  toast(`Saved ${name}.wav, frames ${shot.setup.first} to ${shot.setup.last}.`, { id: TOAST });
}
