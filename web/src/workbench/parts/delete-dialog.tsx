import { useSession, useSheets, useShot } from '../session';
import { removeNow } from './parts-actions';
import { DialogFrame, DialogTitle } from '../../ui/dialog-frame';

const LISTED = 12;

/** Names everything that reads the parts about to be deleted, and asks. */
export function DeleteDialog() {
  const session = useSession();
  const asking = useSheets((state) => state.asking);
  const shot = useShot((state) => state.shot);
  if (!asking) return null;
  const name =
    asking.ids.length === 1 ? (shot.parts[asking.ids[0]!]?.name ?? '') : `${asking.ids.length} parts`;
  const leave = (): void => session.sheets.ask(null);
  return (
    <DialogFrame onClose={leave} className="top-1/4 w-[420px] p-4" describedBy="delete-readers">
      <DialogTitle className="mb-2 truncate">Delete {name}?</DialogTitle>
      <div id="delete-readers">
        <p className="mb-1">
          {asking.readers.length === 1 ? 'This reads it' : `These ${asking.readers.length} read it`}; links
          among them go out of force and keep their own values:
        </p>
        <ul className="mb-3 max-h-44 list-inside list-disc overflow-y-auto text-ink-2">
          {asking.readers.slice(0, LISTED).map((reader) => (
            <li key={reader} className="truncate">
              {reader}
            </li>
          ))}
          {asking.readers.length > LISTED && <li>and {asking.readers.length - LISTED} more</li>}
        </ul>
      </div>
      <div className="flex justify-end gap-2">
        <button type="button" className="btn" autoFocus onClick={leave}>
          Keep it
        </button>
        <button type="button" className="btn btn-alarm" onClick={() => removeNow(session, asking.ids)}>
          Delete
        </button>
      </div>
    </DialogFrame>
  );
}
