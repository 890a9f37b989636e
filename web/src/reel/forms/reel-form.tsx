import { changeReelRate } from '../../../../core/reel';
import { COMMON_RATES, rateLabel } from '../../../../core/time';
import { NumberBox } from '../../ui/number-box';
import { edit } from '../reel-edits';
import { useReel, useReelSession } from '../reel-session';
import { Head, Row } from './form-parts';

/** The reel itself: its picture and its rate. */
export function ReelForm() {
  const session = useReelSession();
  const { rate, width, height } = useReel((state) => state.reel);
  const known = COMMON_RATES.some(({ rate: each }) => each.num === rate.num && each.den === rate.den);
  const side = (label: 'width' | 'height', value: number) => (
    <NumberBox
      label={`Picture ${label}`}
      value={value}
      min={16}
      max={8192}
      onValue={(next) => edit(session, (reel) => ({ ...reel, [label]: next }), label)}
    />
  );
  return (
    <>
      <Head kind="reel" name={session.opened.name} />
      <div className="py-1.5">
        <Row label="Picture">
          {side('width', width)}×{side('height', height)}
        </Row>
        <Row label="Rate">
          <select
            aria-label="Frames per second"
            className="input-field num h-[22px]"
            value={`${rate.num}/${rate.den}`}
            onChange={(event) => {
              const [num, den] = event.target.value.split('/').map(Number);
              edit(session, (reel) => changeReelRate(reel, { num: num!, den: den! }));
            }}
          >
            {!known && <option value={`${rate.num}/${rate.den}`}>{rateLabel(rate)}</option>}
            {COMMON_RATES.map(({ label, rate: each }) => (
              <option key={label} value={`${each.num}/${each.den}`}>
                {label}
              </option>
            ))}
          </select>
          <span className="text-ink-3">frames a second</span>
        </Row>
        <p className="px-2.5 pt-1.5 leading-snug text-ink-2">
          With another rate everything lasts as long as before. Click a shot, a title or a sound below to
          change it.
        </p>
      </div>
    </>
  );
}
