import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import {
  FILM_FORMATS,
  FILM_QUALITIES,
  filmFormat,
  filmQuality,
  filmTrouble,
  nearestSide,
  type FilmFormat,
  type FilmQuality,
} from '../../../core/film';
import { REEL_FIRST, reelFrames } from '../../../core/reel';
import type { RenderJob } from '../../../wire';
import { RenderProgress } from '../renders/render-progress';
import { api } from '../shared/api';
import { formatLength } from '../shared/format';
import { DialogFrame, DialogLeave, DialogTitle } from '../ui/dialog-frame';
import { NumberBox } from '../ui/number-box';
import { ReelChecks } from './reel-checks';
import { useReel, useReelSession } from './reel-session';

const SCALES = [1, 0.5, 0.25];

/** The reel as one film: what it is to be, then its progress. */
export function ReelRender({ open, onClose }: { open: boolean; onClose(): void }) {
  return (
    <DialogFrame
      open={open}
      onClose={onClose}
      className="top-1/2 flex max-h-[92vh] w-[640px] -translate-y-1/2 flex-col"
    >
      {open && <Sheet />}
    </DialogFrame>
  );
}

interface FilmChoice {
  readonly format: FilmFormat;
  readonly quality: FilmQuality;
  readonly alpha: boolean;
}

function Sheet() {
  const session = useReelSession();
  const reel = useReel((state) => state.reel);
  const keeping = useReel((state) => state.keeping.state);
  const frames = reelFrames(reel);
  const [first, setFirst] = useState(REEL_FIRST);
  const [last, setLast] = useState(Math.max(1, frames));
  const [scale, setScale] = useState(1);
  const [{ format, quality, alpha }, setFilm] = useState<FilmChoice>({
    format: 'mp4',
    quality: 'high',
    alpha: false,
  });
  const [name, setName] = useState(session.opened.name);
  const [job, setJob] = useState<RenderJob | null>(null);
  const facts = filmFormat(format);
  const side = (pixels: number): number => nearestSide(pixels * scale, format);
  const request = {
    first,
    last,
    width: side(reel.width),
    height: side(reel.height),
    format,
    alpha: alpha && facts.alpha,
    quality,
    fileName: name.trim(),
  };
  const refusal =
    frames === 0
      ? 'The reel is empty: put a shot into it first.'
      : keeping !== 'kept'
        ? 'The last changes are on their way to the server.'
        : (filmTrouble(request)?.message ?? null);
  const start = useMutation({
    mutationFn: () => api.startReel(session.opened.id, request),
    onSuccess: setJob,
  });
  return (
    <>
      <div className="flex h-11 flex-none items-center border-b border-line-soft px-4">
        <DialogTitle>
          {job ? 'Rendering' : 'Render'} {session.opened.name}
        </DialogTitle>
        <DialogLeave className="ml-auto">Close</DialogLeave>
      </div>
      {job ? (
        <div className="min-h-0 overflow-y-auto p-4">
          <RenderProgress job={job} />
        </div>
      ) : (
        <form
          className="flex min-h-0 flex-col gap-4 overflow-y-auto p-4"
          onSubmit={(event) => {
            event.preventDefault();
            if (refusal === null) start.mutate();
          }}
        >
          <fieldset>
            <legend className="mb-1.5 font-bold">Frames of the reel</legend>
            <div className="flex items-center gap-2">
              <NumberBox label="First frame" value={first} min={REEL_FIRST} max={frames} onValue={setFirst} />
              to
              <NumberBox label="Last frame" value={last} min={REEL_FIRST} max={frames} onValue={setLast} />
              <span className="text-ink-2">{last >= first && formatLength(last - first + 1, reel.rate)}</span>
            </div>
          </fieldset>
          <fieldset>
            <legend className="mb-1.5 font-bold">Picture</legend>
            <div className="flex items-center gap-2">
              {SCALES.map((each) => (
                <button
                  key={each}
                  type="button"
                  aria-pressed={scale === each}
                  className={`btn h-6 ${scale === each ? 'bg-teal-wash' : ''}`}
                  onClick={() => setScale(each)}
                >
                  {each * 100} %
                </button>
              ))}
              <span className="num text-ink-2">
                {request.width}×{request.height}
              </span>
            </div>
          </fieldset>
          <FormatFields of={{ format, quality, alpha }} onChange={setFilm} />
          <label className="block">
            <span className="mb-1.5 block font-bold">File name</span>
            <input
              aria-label="File name"
              className="input-field h-[26px] w-full"
              value={name}
              onChange={(event) => setName(event.target.value)}
            />
          </label>
          <p className="leading-snug text-ink-2">
            {facts.sound
              ? 'With the sounds of its shots and those across them. '
              : 'This format has no sound. '}
            Frames that a film of one of its shots has drawn at this size are taken over. The film will be on
            the Renders page.
          </p>
          <ReelChecks />
          <div className="flex items-center justify-end gap-3">
            <span role="alert" className="text-now">
              {refusal ?? start.error?.message}
            </span>
            <button type="submit" className="btn btn-alarm" disabled={refusal !== null || start.isPending}>
              Render the reel
            </button>
          </div>
        </form>
      )}
    </>
  );
}

function FormatFields({ of, onChange }: { of: FilmChoice; onChange(next: FilmChoice): void }) {
  const { format, quality, alpha } = of;
  const facts = filmFormat(format);
  return (
    <fieldset>
      <legend className="mb-1.5 font-bold">Format</legend>
      <div className="flex items-center gap-2">
        <select
          aria-label="Format"
          className="input-field h-[26px]"
          value={format}
          onChange={(event) => onChange({ ...of, format: event.target.value as FilmFormat })}
        >
          {FILM_FORMATS.filter((each) => !filmFormat(each).still).map((each) => (
            <option key={each} value={each}>
              {filmFormat(each).name}: {filmFormat(each).words}
            </option>
          ))}
        </select>
        {facts.graded && (
          <select
            aria-label="Quality"
            className="input-field h-[26px]"
            value={quality}
            onChange={(event) => onChange({ ...of, quality: event.target.value as FilmQuality })}
          >
            {FILM_QUALITIES.map((each) => (
              <option key={each} value={each}>
                {filmQuality(each).name}: {filmQuality(each).words}
              </option>
            ))}
          </select>
        )}
      </div>
      {facts.alpha && (
        <label className="mt-2 flex items-center gap-2">
          <input
            type="checkbox"
            className="accent-teal"
            checked={alpha}
            onChange={(event) => onChange({ ...of, alpha: event.target.checked })}
          />
          Without background, transparent
        </label>
      )}
    </fieldset>
  );
}
