import { toast } from 'sonner';
import { BACKGROUNDS, SURROUNDINGS, type Backdrop, type SurroundingsKind } from '../../../../core/document';
import { changeBackdrop } from '../../../../core/edit';
import { keepPicture } from '../add/bring-in';
import { chooseFile } from '../choose-file';
import { useSession, useShot } from '../session';

const SHOWS: Record<Backdrop['shows'], string> = {
  colour: 'a colour',
  gradient: 'a gradient',
  picture: 'a picture',
  surroundings: 'the surroundings',
};

const SURROUNDING_WORDS: Record<SurroundingsKind, string> = {
  plain: 'plain sky',
  workshop: 'workshop',
  quay: 'quay at dusk',
  tent: 'white tent',
  white: 'white all round',
};

/** What a backdrop shows, and what is mirrored. */
export function BackdropForm({ id }: { id: string }) {
  const session = useSession();
  const part = useShot((state) => state.shot.parts[id]);
  if (part?.kind !== 'backdrop') return null;
  const { shows, surroundings, picture }: Backdrop = {
    shows: 'colour',
    surroundings: 'plain',
    ...part.backdrop,
  };
  const change = (options: Partial<Backdrop>): void => {
    session.edit((shot) => changeBackdrop(shot, id, options));
  };
  const choosePicture = (): void =>
    chooseFile('image/png,image/jpeg,image/webp', (file) => {
      keepPicture(file).then(
        (kept) => change({ shows: 'picture', picture: kept }),
        (error: Error) => toast.error(`${file.name}: ${error.message}`),
      );
    });
  const label = 'w-[82px] flex-none truncate text-ink-2';
  const select = 'input-field h-[22px] min-w-0 flex-1 px-1';
  return (
    <div className="grid gap-1 px-2.5 pb-1">
      <label className="flex items-center gap-1.5">
        <span className={label}>Behind all</span>
        <select
          className={select}
          value={shows}
          onChange={(event) => {
            const next = event.target.value as Backdrop['shows'];
            if (next === 'picture' && !picture) choosePicture();
            else change({ shows: next });
          }}
        >
          {BACKGROUNDS.map((entry) => (
            <option key={entry} value={entry}>
              {SHOWS[entry]}
            </option>
          ))}
        </select>
      </label>
      {shows === 'picture' && picture && (
        <div className="flex items-center gap-2 pl-[88px]">
          <span className="min-w-0 flex-1 truncate" title={picture.file}>
            {picture.file}
          </span>
          <button type="button" className="text-teal hover:underline" onClick={choosePicture}>
            Another
          </button>
        </div>
      )}
      <label className="flex items-center gap-1.5">
        <span className={label}>Mirrored are</span>
        <select
          className={select}
          value={surroundings}
          title="Surroundings that light things and are mirrored by them"
          onChange={(event) => change({ surroundings: event.target.value as SurroundingsKind })}
        >
          {SURROUNDINGS.map((entry) => (
            <option key={entry} value={entry}>
              {SURROUNDING_WORDS[entry]}
            </option>
          ))}
        </select>
      </label>
    </div>
  );
}
