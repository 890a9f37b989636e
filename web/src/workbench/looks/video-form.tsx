import { VIDEO_AFTER, videoLength, videoPicture, type VideoAfter } from '../../../../core/film';
import type { Picture } from '../../../../core/document';
import { changeVideo, type VideoOptions } from '../../../../core/edit';
import { framesPerSecond } from '../../../../core/time';
import { useSession, useShot, useTime } from '../session';
import { ExactNumber, tidyNumber as tidy } from '../shaping/exact-number';
import { typedEdit } from '../shaping/typed-edit';
import { OptionRow, wordsOf } from '../values/option-row';

const AFTER_WORDS: Record<VideoAfter, string> = {
  hold: 'its last picture stays',
  loop: 'it plays again',
  back: 'it plays back and forth',
};

/** When a video begins, how fast it plays, what of it is shown and what follows. */
export function VideoForm({
  picture,
  path,
  look,
}: {
  picture: Picture;
  /** Where it stands in the document. */
  path: readonly string[];
  /** The look that it is on. */
  look: string | null;
}) {
  const session = useSession();
  const shotRate = useShot((state) => state.shot.setup.rate);
  const frame = useTime((time) => time.frame);
  const { video } = picture;
  if (!video) return null;
  const change = (options: VideoOptions): string | null =>
    typedEdit(session, (shot) => changeVideo(shot, path, options));
  const number = (
    label: string,
    value: number,
    unit: string,
    title: string,
    options: (value: number) => VideoOptions,
  ) => (
    <ExactNumber
      label={label}
      text={tidy(value)}
      unit={unit}
      title={title}
      className="w-[126px]"
      onNumber={(typed) => (typed === null ? 'A number is needed.' : change(options(typed)))}
    />
  );
  const shift = look ? session.evaluator.number(`${look}/video.shift`) : 0;
  const failure = session.assets.failures.get(picture.asset);
  const shown = videoPicture(video, frame, shotRate, shift) + 1;
  return (
    <div className="grid gap-1 pb-1" data-testid="video-form">
      {number(
        'Begins at',
        video.start,
        'f',
        'Frame of the shot at which the video begins to play',
        (start) => ({ start }),
      )}
      {number(
        'Speed',
        video.speed,
        '×',
        'Its own speed is 1, whatever the frame rates are; below 0 it plays backwards, at 0 only Video shift moves it',
        (speed) => ({ speed }),
      )}
      {number('First picture', video.from + 1, '', 'First picture of the video that is shown', (first) => ({
        from: first - 1,
      }))}
      {number('Last picture', video.to, '', 'Last picture of the video that is shown', (to) => ({ to }))}
      <OptionRow
        label="Then"
        title="What is shown when all of it has been shown"
        value={video.after}
        choices={wordsOf(VIDEO_AFTER, AFTER_WORDS)}
        onChoose={(after) => after !== '' && void change({ after })}
      />
      <p className="num pl-[88px] text-ink-3" title="The picture that is shown at this frame">
        shows {shown} of {video.pictures}, {tidy(framesPerSecond(video.rate))} a second
        {video.speed !== 0 && `, lasts ${tidy(videoLength(video, shotRate))} f`}
      </p>
      {failure !== undefined && (
        <p role="alert" className="text-now">
          {picture.file} cannot be shown: {failure}.
        </p>
      )}
    </div>
  );
}
