import type { TakingApart } from '../../../../core/edit';
import { NumberBox } from '../../ui/number-box';

export const APART_ROW = 'flex items-center gap-2';
export const APART_LABEL = 'w-[110px] flex-none text-ink-2';

type Numbers = Pick<TakingApart, 'distance' | 'more' | 'first' | 'length' | 'stagger'>;

/** How far parts go, and when. Lengths are shown in the shot's unit. */
export function TakeApartNumbers(props: {
  options: Numbers;
  /** Metres in a unit. */
  per: number;
  unit: string;
  onChange(change: Partial<Numbers>): void;
}) {
  const { options, per, unit, onChange } = props;
  return (
    <>
      <div className={APART_ROW}>
        <span className={APART_LABEL}>How far</span>
        <NumberBox
          label="How far"
          value={options.distance / per}
          min={-1e6}
          max={1e6}
          digits={4}
          step={0.1}
          onValue={(value) => onChange({ distance: value * per })}
        />
        <span>{unit}, each</span>
        <NumberBox
          label="How much further each"
          value={options.more / per}
          min={-1e6}
          max={1e6}
          digits={4}
          step={0.1}
          onValue={(value) => onChange({ more: value * per })}
        />
        <span>{unit} further than the one before</span>
      </div>
      <div className={APART_ROW}>
        <span className={APART_LABEL}>When</span>
        <span>from frame</span>
        <NumberBox
          label="From frame"
          value={options.first}
          min={-1e6}
          max={1e6}
          onValue={(first) => onChange({ first })}
        />
        <span>for</span>
        <NumberBox
          label="Frames on the way"
          value={options.length}
          min={1}
          max={1e5}
          onValue={(length) => onChange({ length })}
        />
        <span>frames, each</span>
        <NumberBox
          label="Frames later each"
          value={options.stagger}
          min={0}
          max={1e5}
          onValue={(stagger) => onChange({ stagger })}
        />
        <span>later</span>
      </div>
    </>
  );
}
