import { FRAME_LIMIT } from '../../../../core/document';
import { putSound, type ReelSound } from '../../../../core/reel';
import { NumberBox } from '../../ui/number-box';
import { edit } from '../reel-edits';
import { useReelSession, useReelSounds } from '../reel-session';
import { Head, Row } from './form-parts';

/** A sound that runs across the reel. */
export function SoundForm({ sound }: { sound: ReelSound }) {
  const session = useReelSession();
  const known = useReelSounds()[sound.asset];
  const seconds = known?.facts?.seconds ?? 3600;
  const change = (more: Partial<ReelSound>, kind: string): void =>
    edit(session, (reel) => putSound(reel, sound.id, { ...sound, ...more }), `${kind} ${sound.id}`);
  const number = (
    label: string,
    field: 'start' | 'from' | 'fadeIn' | 'fadeOut',
    words: string,
    min: number,
    max: number,
    digits: number,
  ) => (
    <Row label={label}>
      <NumberBox
        label={label}
        value={sound[field]}
        {...{ min, max, digits }}
        step={digits > 0 ? 0.1 : 1}
        onValue={(value) => change({ [field]: value }, field)}
      />
      <span className="text-ink-3">{words}</span>
    </Row>
  );
  return (
    <>
      <Head kind="sound" name={sound.name} />
      {known?.failed && (
        <p role="alert" className="px-2.5 pt-2 text-now">
          {known.failed}
        </p>
      )}
      <div className="py-1.5">
        {number('Begins at', 'start', 'frame of the reel', -FRAME_LIMIT, FRAME_LIMIT, 0)}
        {number('From', 'from', 's of the file', 0, Math.max(0, seconds - 0.01), 2)}
        <Row label="Length">
          <NumberBox
            label="Length of the sound"
            value={sound.length ?? Math.max(0.01, seconds - sound.from)}
            min={0.01}
            max={Math.max(0.01, seconds - sound.from)}
            digits={2}
            step={0.1}
            onValue={(length) => change({ length }, 'length')}
          />
          <span className="text-ink-3">s</span>
        </Row>
        <Row label="Level">
          <NumberBox
            label="Level"
            value={sound.level * 100}
            min={0}
            max={400}
            onValue={(percent) => change({ level: percent / 100 }, 'level')}
          />
          <span className="text-ink-3">%</span>
        </Row>
        {number('Rises over', 'fadeIn', 's', 0, 3600, 2)}
        {number('Falls over', 'fadeOut', 's', 0, 3600, 2)}
      </div>
    </>
  );
}
