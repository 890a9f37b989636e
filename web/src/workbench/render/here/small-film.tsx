import { useEffect, useState } from 'react';
import { DialogFrame, DialogLeave, DialogTitle } from '../../../ui/dialog-frame';
import { useSession, useSheets } from '../../session';
import { FilmHere } from './film-here';
import { HereProgress } from './here-progress';
import { hereRefusal, orderTrouble, smallFilm } from './order';
import { orderOf } from './session-order';

/** A small film of the range with the number of each frame in it, made at once, for judging the timing. */
export function SmallFilm() {
  const session = useSession();
  const open = useSheets((state) => state.open === 'small-film');
  const close = (): void => session.sheets.show(null);
  return (
    <DialogFrame open={open} onClose={close} className="top-1/2 w-[600px] -translate-y-1/2">
      {open && (
        <>
          <div className="flex h-11 items-center border-b border-line-soft px-4">
            <DialogTitle>Small film with frame numbers</DialogTitle>
            <DialogLeave className="ml-auto">Close</DialogLeave>
          </div>
          <div className="p-4">
            <Making onLeave={close} />
          </div>
        </>
      )}
    </DialogFrame>
  );
}

function Making({ onLeave }: { onLeave(): void }) {
  const session = useSession();
  const [film, setFilm] = useState<FilmHere | null>(null);
  const { setup } = session.shot;
  const of = smallFilm(setup, { from: setup.first, to: setup.last });
  const refusal =
    hereRefusal({ format: of.format, alpha: false }) ??
    orderTrouble(of) ??
    (setup.camera === null ? 'The shot has no camera: add one first.' : null);
  useEffect(() => {
    if (refusal !== null) return;
    const made = new FilmHere(() => orderOf(session, of));
    setFilm(made);
    return () => made.close();
    // The shot as it was when the sheet was opened.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, [session]);
  if (refusal !== null)
    return (
      <p role="alert" className="text-now">
        {refusal}
      </p>
    );
  return film && <HereProgress film={film} name={`${session.doc.now.name} small`} onLeave={onLeave} />;
}
