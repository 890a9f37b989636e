import { Midi } from '@tonejs/midi';

/** A note of a standard MIDI file. */
export interface Note {
  readonly seconds: number;
  /** 0 to 127; 60 is middle C. */
  readonly pitch: number;
  /** 0 to 1. */
  readonly strength: number;
}

export interface NoteTrack {
  readonly name: string;
  readonly notes: readonly Note[];
}

/**
 * Notes of a standard MIDI file (Standard MIDI File 1.0), track by track with its tempo map; tracks without notes are left
 * out.
 * @throws RangeError with the reason for a broken file
 */
export function readNotes(bytes: Uint8Array): NoteTrack[] {
  let midi: Midi;
  try {
    midi = new Midi(bytes);
  } catch (error) {
    throw new RangeError(
      `The MIDI file is broken: ${error instanceof Error ? error.message : String(error)}. Save it again in the program that made it.`,
      { cause: error },
    );
  }
  return midi.tracks
    .map((track, i) => ({
      name: track.name.trim() || track.instrument.name || `Track ${i + 1}`,
      notes: track.notes
        .map(({ time, midi: pitch, velocity }) => ({ seconds: time, pitch, strength: velocity }))
        .sort((a, b) => a.seconds - b.seconds),
    }))
    .filter(({ notes }) => notes.length > 0);
}
