import { toast } from 'sonner';
import { BACKGROUNDS, SURROUNDINGS, type Backdrop, type SurroundingsKind } from '../../../../core/document';
import { changeBackdrop } from '../../../../core/edit';
import { keepPicture, PICTURE_FILES } from '../add/bring-in';
import { chooseFile } from '../choose-file';
import { useSession, useShot } from '../session';
import { VideoForm } from '../looks/video-form';
import { OptionRow, wordsOf } from './option-row';

const SHOWS: Record<Backdrop['shows'], string> = {
  colour: 'a colour',
  gradient: 'a gradient',
  picture: 'a picture or video',
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
    chooseFile(PICTURE_FILES, (file) => {
      keepPicture(file, session.time.now.frame).then(
        (kept) => change({ shows: 'picture', picture: kept }),
        (error: Error) => toast.error(`${file.name}: ${error.message}`),
      );
    });
  return (
    <div className="grid gap-1 px-2.5 pb-1">
      <OptionRow
        label="Behind all"
        value={shows}
        choices={wordsOf(BACKGROUNDS, SHOWS)}
        onChoose={(next) => {
          if (next === 'picture' && !picture) choosePicture();
          else if (next !== '') change({ shows: next });
        }}
      />
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
      {shows === 'picture' && picture && (
        <VideoForm picture={picture} path={['parts', id, 'backdrop', 'picture']} look={null} />
      )}
      <OptionRow
        label="Mirrored are"
        title="Surroundings that light things and are mirrored by them"
        value={surroundings}
        choices={wordsOf(SURROUNDINGS, SURROUNDING_WORDS)}
        onChoose={(next) => next !== '' && change({ surroundings: next })}
      />
    </div>
  );
}
