import { useMutation } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { toast } from 'sonner';
import type { RenderJob } from '../../../../wire';
import { RenderProgress } from '../../renders/render-progress';
import { api } from '../../shared/api';
import { DialogFrame, DialogLeave, DialogTitle } from '../../ui/dialog-frame';
import { useSession, useShot } from '../session';
import { BeforeStart } from './before-start';
import { FilmFields } from './film-fields';
import { formOf, hereOf, refusalOf, requestOf } from './film-form';
import { FilmHere } from './here/film-here';
import { HereProgress } from './here/here-progress';
import { orderOf } from './here/session-order';

/**
 * Range, size and format before a render starts; then its progress and the finished film. A film that is drawn in this
 * browser goes on while the sheet is closed, and is found in it again.
 */
export function RenderSheet({ open, onOpenChange }: { open: boolean; onOpenChange(open: boolean): void }) {
  const [film, setFilm] = useState<Drawn | null>(null);
  useEffect(() => () => film?.film.close(), [film]);
  useEffect(() => {
    if (!film || open) return;
    return film.film.subscribe(() => {
      const now = film.film.snapshot();
      if (now.state === 'done') toast.success(`${film.name} is there: "Render..." shows it.`);
      if (now.state === 'failed') toast.error(`${film.name}: ${now.reason}`);
    });
  }, [film, open]);
  return (
    <DialogFrame
      open={open}
      onClose={() => onOpenChange(false)}
      className="top-1/2 flex max-h-[92vh] w-[760px] -translate-y-1/2 flex-col"
    >
      {open && <Sheet film={film} setFilm={setFilm} />}
    </DialogFrame>
  );
}

/** A film that is drawn in this browser, and its name. */
interface Drawn {
  readonly film: FilmHere;
  readonly name: string;
}

function Sheet({ film, setFilm }: { film: Drawn | null; setFilm(film: Drawn | null): void }) {
  const session = useSession();
  const setup = useShot((state) => state.shot.setup);
  const [form, setForm] = useState(() => formOf(setup, session.doc.now.name));
  const [job, setJob] = useState<RenderJob | null>(null);
  const refusal = refusalOf(form, setup);
  const start = useMutation({
    mutationFn: () => api.startRender(session.id, requestOf(form)),
    onSuccess: setJob,
  });
  return (
    <>
      <div className="flex h-11 flex-none items-center border-b border-line-soft px-4">
        <DialogTitle>
          {job || film ? 'Rendering' : 'Render'} {session.doc.now.name}
        </DialogTitle>
        <DialogLeave className="ml-auto">Close</DialogLeave>
      </div>
      {job ? (
        <div className="min-h-0 overflow-y-auto p-4">
          <RenderProgress job={job} />
        </div>
      ) : film ? (
        <div className="min-h-0 overflow-y-auto p-4">
          <HereProgress film={film.film} name={film.name} stays onLeave={() => setFilm(null)} />
        </div>
      ) : (
        <form
          className="grid min-h-0 grid-cols-[1fr_300px] overflow-hidden"
          onSubmit={(event) => {
            event.preventDefault();
            if (refusal !== null) return;
            if (form.here)
              setFilm({
                film: new FilmHere(() => orderOf(session, hereOf(form))),
                name: form.name.trim(),
              });
            else start.mutate();
          }}
        >
          <FilmFields form={form} set={(change) => setForm((now) => ({ ...now, ...change }))} />
          <BeforeStart
            form={form}
            trouble={refusal ?? start.error?.message ?? null}
            refused={refusal !== null}
            starting={start.isPending}
          />
        </form>
      )}
    </>
  );
}
