import { useState } from 'react';
import { toast } from 'sonner';
import { PICTURE_PLACES, type PicturePlace } from '../../../../core/document';
import { setPicture } from '../../../../core/edit';
import { keepPicture } from '../add/bring-in';
import { chooseFile } from '../choose-file';
import { useSession, useShot } from '../session';

const PLACE_WORDS: Record<PicturePlace, string> = {
  all: 'all over',
  right: 'right face',
  left: 'left face',
  top: 'top face',
  bottom: 'bottom face',
  front: 'front face',
  back: 'back face',
};

/** The pictures on a look: all over, or on single faces of a box. */
export function PictureForm({ id }: { id: string }) {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const [busy, setBusy] = useState(false);
  const part = shot.parts[id];
  const look = part?.look ? shot.looks[part.look] : null;
  if (!part?.look || !look) return null;
  const lookId = part.look;
  const isBox = shot.shapes[part.shape ?? '']?.kind === 'box';
  const places = PICTURE_PLACES.filter((place) => isBox || place === 'all');
  const put = async (place: PicturePlace, file: File): Promise<void> => {
    setBusy(true);
    try {
      const picture = await keepPicture(file);
      session.edit((current) => setPicture(current, lookId, place, picture));
    } catch (error) {
      toast.error(`${file.name}: ${error instanceof Error ? error.message : String(error)}`);
    } finally {
      setBusy(false);
    }
  };
  return (
    <div className="grid gap-1 px-2.5 pb-1">
      {places
        .filter((place) => look.pictures?.[place])
        .map((place) => {
          const picture = look.pictures![place]!;
          return (
            <div key={place} className="flex items-center gap-2">
              <img
                src={`/api/assets/${picture.asset}`}
                alt=""
                className="size-8 flex-none rounded border border-line object-cover"
              />
              <span className="min-w-0 flex-1 truncate" title={picture.file}>
                {picture.file}
                <span className="num block text-ink-3">
                  {picture.width}×{picture.height} px, {PLACE_WORDS[place]}
                </span>
              </span>
              <button
                type="button"
                className="text-teal hover:underline"
                aria-label={`Take the picture off: ${PLACE_WORDS[place]}`}
                onClick={() => session.edit((current) => setPicture(current, lookId, place, null))}
              >
                Take off
              </button>
            </div>
          );
        })}
      <label className="flex items-center gap-1.5">
        <span className="sr-only">Put a picture on this look</span>
        <select
          className="input-field h-[22px] min-w-0 flex-1 px-1"
          value=""
          disabled={busy}
          onChange={(event) => {
            const place = event.target.value as PicturePlace;
            chooseFile('image/png,image/jpeg,image/webp', (file) => void put(place, file));
          }}
        >
          <option value="" disabled>
            {busy ? 'Storing the picture...' : 'Put a picture on...'}
          </option>
          {places.map((place) => (
            <option key={place} value={place}>
              {PLACE_WORDS[place]}
            </option>
          ))}
        </select>
      </label>
    </div>
  );
}
