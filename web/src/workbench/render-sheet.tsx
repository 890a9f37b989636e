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
import type { RenderJob } from '../../../wire';
import { api } from '../shared/api';
import { formatLength } from '../shared/format';
import { RenderProgress } from '../renders/render-progress';
import { ProblemList } from './checks/problem-list';
import { useSession, useKeying, useShot } from './session';
import { DialogFrame, DialogLeave, DialogTitle } from '../ui/dialog-frame';

const SCALES = [1, 0.5, 0.25];
/** Range, size and format before a render starts; then its progress and the finished film. */
export function RenderSheet({ open, onOpenChange }: { open: boolean; onOpenChange(open: boolean): void }) {
  return (
    <DialogFrame
      open={open}
      onClose={() => onOpenChange(false)}
      className="top-1/2 flex max-h-[92vh] w-[760px] -translate-y-1/2 flex-col"
    >
      {open && <Sheet />}
    </DialogFrame>
  );
}

function Sheet() {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const kept = useShot((state) => state.kept);
  const loose = useKeying((state) => Object.keys(state.loose).length);
  const { setup } = shot;
  const [first, setFirst] = useState(String(setup.first));
  const [last, setLast] = useState(String(setup.last));
  const [width, setWidth] = useState(String(setup.width));
  const [height, setHeight] = useState(String(setup.height));
  const [format, setFormat] = useState<FilmFormat>('mp4');
  const [alpha, setAlpha] = useState(false);
  const [job, setJob] = useState<RenderJob | null>(null);
  const [quality, setQuality] = useState<FilmQuality>('high');
  const [name, setName] = useState(session.doc.now.name);
  const transparent = filmFormat(format).alpha;

  const numbers = { first: Number(first), last: Number(last), width: Number(width), height: Number(height) };
  const count = numbers.last - numbers.first + 1;
  const request = { ...numbers, format, alpha: alpha && transparent, fileName: name.trim() };
  const reason =
    filmTrouble(request)?.message ??
    (setup.camera === null ? 'The shot has no camera: add one first.' : null);

  const start = useMutation({
    mutationFn: () => api.startRender(session.id, { ...request, quality }),
    onSuccess: setJob,
  });

  return (
    <>
      <div className="flex h-11 flex-none items-center border-b border-line-soft px-4">
        <DialogTitle>
          {job ? 'Rendering' : 'Render'} {session.doc.now.name}
        </DialogTitle>
        <DialogLeave className="ml-auto">Close</DialogLeave>
      </div>
      {job ? (
        <div className="min-h-0 overflow-y-auto p-4">
          <RenderProgress job={job} />
        </div>
      ) : (
        <form
          className="grid min-h-0 grid-cols-[1fr_300px] overflow-hidden"
          onSubmit={(event) => {
            event.preventDefault();
            if (!reason) start.mutate();
          }}
        >
          <div className="flex flex-col gap-4 overflow-y-auto p-4">
            <fieldset>
              <legend className="mb-1.5 font-bold">Frames</legend>
              <div className="flex items-center gap-2">
                <input
                  aria-label="First frame"
                  className="input-field num w-20 text-right"
                  value={first}
                  onChange={(event) => setFirst(event.target.value)}
                />
                to
                <input
                  aria-label="Last frame"
                  className="input-field num w-20 text-right"
                  value={last}
                  onChange={(event) => setLast(event.target.value)}
                />
                <button
                  type="button"
                  className="btn h-6"
                  onClick={() => [setFirst(String(setup.first)), setLast(String(setup.last))]}
                >
                  All
                </button>
                <button
                  type="button"
                  className="btn h-6"
                  onClick={() => [
                    setFirst(String(Math.round(session.time.now.frame))),
                    setLast(String(Math.round(session.time.now.frame))),
                  ]}
                >
                  This one
                </button>
              </div>
              <p className="mt-1.5 text-ink-2">
                {count >= 1 && Number.isFinite(count) ? formatLength(count, setup.rate) : ' '}
              </p>
            </fieldset>
            <fieldset>
              <legend className="mb-1.5 font-bold">Size in pixels</legend>
              <div className="flex items-center gap-2">
                <input
                  aria-label="Width"
                  className="input-field num w-20 text-right"
                  value={width}
                  onChange={(event) => setWidth(event.target.value)}
                />
                ×
                <input
                  aria-label="Height"
                  className="input-field num w-20 text-right"
                  value={height}
                  onChange={(event) => setHeight(event.target.value)}
                />
                {SCALES.map((scale) => (
                  <button
                    key={scale}
                    type="button"
                    className="btn h-6"
                    onClick={() => [
                      setWidth(String(nearestSide(setup.width * scale, format))),
                      setHeight(String(nearestSide(setup.height * scale, format))),
                    ]}
                  >
                    {scale * 100} %
                  </button>
                ))}
              </div>
            </fieldset>
            <fieldset>
              <legend className="mb-1.5 font-bold">Format</legend>
              <div className="grid grid-cols-3 gap-2">
                {FILM_FORMATS.map((entry) => (
                  <label
                    key={entry}
                    className={`cursor-pointer rounded-md border px-3 py-2 ${format === entry ? 'border-teal bg-teal-wash' : 'border-line bg-raised'}`}
                  >
                    <input
                      type="radio"
                      name="format"
                      className="sr-only"
                      checked={format === entry}
                      onChange={() => setFormat(entry)}
                    />
                    <b className="block">{filmFormat(entry).name}</b>
                    <span className="text-xs text-ink-2">{filmFormat(entry).words}</span>
                  </label>
                ))}
              </div>
              <label className={`mt-2.5 flex items-center gap-2 ${transparent ? '' : 'text-ink-3'}`}>
                <input
                  type="checkbox"
                  className="accent-teal"
                  checked={alpha && transparent}
                  disabled={!transparent}
                  onChange={(event) => setAlpha(event.target.checked)}
                />
                Transparent background{!transparent && ': MP4 cannot, choose WebM or PNG frames'}
              </label>
            </fieldset>
            {filmFormat(format).graded && (
              <fieldset>
                <legend className="mb-1.5 font-bold">Quality</legend>
                <div className="flex gap-4">
                  {FILM_QUALITIES.map((entry) => (
                    <label key={entry} className="flex items-center gap-1.5">
                      <input
                        type="radio"
                        name="quality"
                        className="accent-teal"
                        checked={quality === entry}
                        onChange={() => setQuality(entry)}
                      />
                      <b>{filmQuality(entry).name}</b>
                      <span className="text-ink-2">{filmQuality(entry).words}</span>
                    </label>
                  ))}
                </div>
              </fieldset>
            )}
            <fieldset>
              <legend className="mb-1.5 font-bold">File name</legend>
              <div className="flex items-center gap-1.5">
                <input
                  aria-label="File name"
                  className="input-field w-64"
                  value={name}
                  onChange={(event) => setName(event.target.value)}
                />
                <span className="num text-ink-2">.{filmFormat(format).ending}</span>
              </div>
              <p className="mt-1.5 text-ink-2">
                The film is kept on the Renders page, plays there and is downloaded from there.
              </p>
            </fieldset>
          </div>
          <div className="flex flex-col overflow-hidden border-l border-line-soft bg-raised p-4">
            <h3 className="mb-1.5 font-bold">Before you start</h3>
            <div className="min-h-0 flex-1 overflow-y-auto">
              {kept.state === 'held' && (
                <p className="mb-2 text-now">
                  The server does not answer: edits made since are not in the film yet.
                </p>
              )}
              {loose > 0 && (
                <p className="mb-2 text-now">
                  {loose} {loose === 1 ? 'value is' : 'values are'} changed and not keyed: the film will not
                  show {loose === 1 ? 'it' : 'them'}.
                </p>
              )}
              <ProblemList />
            </div>
            {(reason ?? start.error) && (
              <p role="alert" className="mt-2 text-now">
                {reason ?? start.error?.message}
              </p>
            )}
            <button
              type="submit"
              className="btn btn-alarm mt-3 h-9"
              disabled={reason !== null || start.isPending}
            >
              {start.isPending ? 'Starting...' : 'Render'}
            </button>
          </div>
        </form>
      )}
    </>
  );
}
