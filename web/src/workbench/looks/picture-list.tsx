import { useState } from 'react';
import { toast } from 'sonner';
import {
  PICTURE_MAPS,
  PICTURE_PLACES,
  type Picture,
  type PictureMap,
  type PicturePlace,
  type Shot,
} from '../../../../core/document';
import { setPicture, setPictureMap, type Change } from '../../../../core/edit';
import { keepPicture, PICTURE_FILES } from '../add/bring-in';
import { chooseFile } from '../choose-file';
import { useSession, useShot } from '../session';
import { VideoForm } from './video-form';

const PLACE_WORDS: Record<PicturePlace, string> = {
  all: 'all over',
  right: 'right face',
  left: 'left face',
  top: 'top face',
  bottom: 'bottom face',
  front: 'front face',
  back: 'back face',
};

const MAP_WORDS: Record<PictureMap, string> = {
  roughness: 'its roughness',
  metallic: 'its metal',
  normal: 'its slopes (normal map)',
  glow: 'its glow',
  opacity: 'its opacity',
};

/** What a picture can be put on: colours all over or on single faces of a box, or another property of the surface. */
type Where = PicturePlace | PictureMap;

const isMap = (where: Where): where is PictureMap => (PICTURE_MAPS as readonly string[]).includes(where);
const wordsOf = (where: Where): string => (isMap(where) ? MAP_WORDS[where] : PLACE_WORDS[where]);

function setOn(shot: Shot, look: string, where: Where, picture: Picture | null): Change {
  return isMap(where) ? setPictureMap(shot, look, where, picture) : setPicture(shot, look, where, picture);
}

function Small({ picture }: { picture: Picture }) {
  const source = `/api/assets/${picture.asset}`;
  const box = 'size-8 flex-none rounded border border-line object-cover';
  return picture.video ? (
    <video src={source} muted preload="metadata" className={box} aria-hidden="true" />
  ) : (
    <img src={source} alt="" className={box} />
  );
}

/** The pictures and videos on a look. */
export function PictureList({ id }: { id: string }) {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const [busy, setBusy] = useState(false);
  const part = shot.parts[id];
  const look = part?.look ? shot.looks[part.look] : null;
  if (!part?.look || !look) return null;
  const lookId = part.look;
  const isBox = shot.shapes[part.shape ?? '']?.kind === 'box';
  const places = PICTURE_PLACES.filter((place) => isBox || place === 'all');
  const all: readonly Where[] = [...places, ...PICTURE_MAPS];
  const on = (where: Where): Picture | undefined =>
    isMap(where) ? look.maps?.[where] : look.pictures?.[where];
  const put = async (place: Where, file: File): Promise<void> => {
    setBusy(true);
    try {
      const picture = await keepPicture(file, session.time.now.frame);
      session.edit((current) => setOn(current, lookId, place, picture));
    } catch (error) {
      toast.error(`${file.name}: ${error instanceof Error ? error.message : String(error)}`);
    } finally {
      setBusy(false);
    }
  };
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-1">
      {all
        .filter((place) => on(place))
        .map((place) => {
          const picture = on(place)!;
          const table = isMap(place) ? 'maps' : 'pictures';
          return (
            <div key={place} className="grid grid-cols-[minmax(0,1fr)] gap-1">
              <div className="flex items-center gap-2">
                <Small picture={picture} />
                <span className="min-w-0 flex-1 truncate" title={picture.file}>
                  {picture.file}
                  <span className="num block text-ink-3">
                    {picture.width}×{picture.height} px, {wordsOf(place)}
                  </span>
                </span>
                <button
                  type="button"
                  className="text-teal hover:underline"
                  aria-label={`Take the picture off: ${wordsOf(place)}`}
                  onClick={() => session.edit((current) => setOn(current, lookId, place, null))}
                >
                  Take off
                </button>
              </div>
              <VideoForm picture={picture} path={['looks', lookId, table, place]} look={lookId} />
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
            const place = event.target.value as Where;
            chooseFile(PICTURE_FILES, (file) => void put(place, file));
          }}
        >
          <option value="" disabled>
            {busy ? 'Storing it...' : 'Put a picture or video on...'}
          </option>
          {all.map((place) => (
            <option key={place} value={place}>
              {wordsOf(place)}
            </option>
          ))}
        </select>
      </label>
    </div>
  );
}
