import { useMemo, useState } from 'react';
import { markBeats } from '../../../../core/edit';
import type { NoteTrack } from '../../../../core/format/midi';
import { framesPerSecond } from '../../../../core/time';
import { DialogFrame, DialogLeave, DialogTitle } from '../../ui/dialog-frame';
import { useSession, useSheets } from '../session';

const NAMES = ['C', 'C#', 'D', 'D#', 'E', 'F', 'F#', 'G', 'G#', 'A', 'A#', 'B'] as const;
/** A note's name; 60 is C4. */
const noteName = (pitch: number): string => `${NAMES[pitch % 12]}${Math.floor(pitch / 12) - 1}`;

/** Asks which notes of a MIDI file become beats. */
export function NotesDialog() {
  const notes = useSheets((state) => state.notes);
  const session = useSession();
  if (!notes) return null;
  return (
    <DialogFrame onClose={() => session.sheets.chooseNotes(null)} className="top-1/4 w-[400px] p-4">
      <NoteChoice file={notes.file} tracks={notes.tracks} />
    </DialogFrame>
  );
}

function NoteChoice({ file, tracks }: { file: string; tracks: readonly NoteTrack[] }) {
  const session = useSession();
  const [track, setTrack] = useState(0);
  const [pitch, setPitch] = useState<number | null>(null);
  const { frame } = session.time.now;
  const chosen = useMemo(() => tracks[track]?.notes ?? [], [tracks, track]);
  const pitches = useMemo(
    () => [...new Set(chosen.map((note) => note.pitch))].sort((a, b) => a - b),
    [chosen],
  );
  const rate = framesPerSecond(session.shot.setup.rate);
  const frames = useMemo(
    () => [
      ...new Set(
        chosen
          .filter((note) => pitch === null || note.pitch === pitch)
          .map(({ seconds }) => Math.round((frame + seconds * rate) * 1000) / 1000),
      ),
    ],
    [chosen, pitch, frame, rate],
  );
  return (
    <>
      <DialogTitle className="mb-2 truncate">Beats from {file}</DialogTitle>
      {tracks.length === 0 ? (
        <p className="text-ink-2">There are no notes in this file.</p>
      ) : (
        <div className="grid gap-1.5">
          <label className="flex items-center gap-2">
            <span className="w-16 flex-none text-ink-2">Track</span>
            <select
              className="input-field h-[24px] flex-1"
              value={track}
              onChange={(event) => {
                setTrack(Number(event.target.value));
                setPitch(null);
              }}
            >
              {tracks.map(({ name, notes }, i) => (
                <option key={i} value={i}>
                  {name}: {notes.length} notes
                </option>
              ))}
            </select>
          </label>
          <label className="flex items-center gap-2">
            <span className="w-16 flex-none text-ink-2">Pitch</span>
            <select
              className="input-field h-[24px] flex-1"
              value={pitch ?? ''}
              onChange={(event) => setPitch(event.target.value === '' ? null : Number(event.target.value))}
            >
              <option value="">all</option>
              {pitches.map((each) => (
                <option key={each} value={each}>
                  {noteName(each)} ({each})
                </option>
              ))}
            </select>
          </label>
          <p className="text-xs text-ink-3">
            Its first moment is at the playhead, frame {Math.round(frame)}.
          </p>
        </div>
      )}
      <div className="mt-3 flex justify-end gap-2">
        <DialogLeave />
        <button
          type="button"
          className="btn btn-strong"
          disabled={frames.length === 0}
          onClick={() => {
            if (session.edit((now) => markBeats(now, frames, false))) session.sheets.chooseNotes(null);
          }}
        >
          Mark {frames.length} beats
        </button>
      </div>
    </>
  );
}
