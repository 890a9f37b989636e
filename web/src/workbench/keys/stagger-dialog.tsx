import { useState } from 'react';
import { staggerParts } from '../../../../core/edit';
import { useSession, useChoice, useShot } from '../session';
import { DialogFrame, DialogLeave, DialogTitle } from '../../ui/dialog-frame';

const FRAMES_AT_MOST = 10_000;

/** Asks by how many frames each chosen part moves later than the one chosen before it. */
export function StaggerDialog({ onClose }: { onClose(): void }) {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const chosen = useChoice((state) => state.chosen).filter((id) => shot.parts[id]);
  const [text, setText] = useState('4');
  const frames = Number(text);
  const good = text.trim() !== '' && Number.isFinite(frames) && Math.abs(frames) <= FRAMES_AT_MOST;
  const run = (): void => {
    if (!good) return;
    session.edit((now) => staggerParts(now, chosen, frames));
    onClose();
  };
  return (
    <DialogFrame onClose={onClose} className="top-1/3 w-[360px] p-4">
      <DialogTitle className="mb-2">Stagger {chosen.length} parts</DialogTitle>
      <label className="flex items-center gap-2">
        Each moves later than the one chosen before it by
        <input
          autoFocus
          aria-label="Frames"
          aria-invalid={!good}
          className="input-field num w-16 flex-none"
          value={text}
          onChange={(event) => setText(event.target.value)}
          onFocus={(event) => event.target.select()}
          onKeyDown={(event) => {
            event.stopPropagation();
            if (event.key === 'Enter') run();
            if (event.key === 'Escape') onClose();
          }}
        />
        frames
      </label>
      <ol className="my-2 max-h-32 list-inside list-decimal overflow-y-auto text-ink-2">
        {chosen.map((id) => (
          <li key={id} className="truncate">
            {shot.parts[id]!.name}
          </li>
        ))}
      </ol>
      {!good && (
        <p role="alert" className="mb-2 text-now">
          "{text}" is no number of frames: -{FRAMES_AT_MOST} to {FRAMES_AT_MOST} is allowed.
        </p>
      )}
      <div className="flex justify-end gap-2">
        <DialogLeave />
        <button type="button" className="btn btn-strong" disabled={!good} onClick={run}>
          Stagger
        </button>
      </div>
    </DialogFrame>
  );
}
