import { X } from 'lucide-react';
import { LENGTH_LIMIT, PULLEY_LIMIT, type Shape } from '../../../../core/document';
import { setPulleys } from '../../../../core/edit';
import { METRES_PER_UNIT } from '../../../../core/formula';
import { pathLength, pulleyPath } from '../../../../core/mechanism';
import { formatNumber } from '../../shared/format';
import { NumberBox } from '../../ui/number-box';
import { useSession, useShot } from '../session';

type Pulleys = NonNullable<Shape['pulleys']>;

const NAMES = ['X', 'Y', 'radius'] as const;
/** A new pulley stands so many radii beside the last one. */
const BESIDE = 4;

/** What a belt or a chain runs round, and how long it is. */
export function PulleysForm({ shapeId, pulleys }: { shapeId: string; pulleys: Pulleys }) {
  const session = useSession();
  const unit = useShot((state) => state.shot.setup.unit);
  const per = METRES_PER_UNIT[unit];
  const set = (next: Pulleys): void => void session.edit((shot) => setPulleys(shot, shapeId, next));
  const put = (at: number, place: number, value: number): void =>
    set(
      pulleys.map((pulley, i) => {
        const next: [number, number, number] = [...pulley];
        if (i === at) next[place] = value;
        return next;
      }),
    );
  const add = (): void => {
    const [x, y, radius] = pulleys.at(-1)!;
    set([...pulleys, [x + Math.abs(radius) * BESIDE, y, Math.abs(radius)]]);
  };
  const path = pulleyPath(pulleys);
  return (
    <div className="flex flex-col gap-1 px-2.5 pb-1" role="group" aria-label="Pulleys">
      <div className="grid grid-cols-[14px_1fr_1fr_1fr_58px_14px] gap-1 text-ink-2">
        <span />
        <span className="text-right">x</span>
        <span className="text-right">y</span>
        <span className="text-right">radius</span>
        <span className="truncate">lies on it</span>
      </div>
      {pulleys.map((pulley, i) => (
        <div key={i} className="grid grid-cols-[14px_1fr_1fr_1fr_58px_14px] items-center gap-1">
          <span className="num text-ink-3">{i + 1}</span>
          {NAMES.map((name, place) => (
            <NumberBox
              key={name}
              label={`Pulley ${i + 1} ${name}`}
              title={place === 2 ? `Radius in ${unit}` : `Place in ${unit}`}
              className="w-0 min-w-full"
              digits={4}
              step={0.01 / per}
              value={(place === 2 ? Math.abs(pulley[2]) : pulley[place]!) / per}
              min={place === 2 ? 0.0001 : -LENGTH_LIMIT / per}
              max={LENGTH_LIMIT / per}
              onValue={(value) => put(i, place, value * per * (place === 2 && pulley[2] < 0 ? -1 : 1))}
            />
          ))}
          <select
            className="input-field h-[22px] w-full px-0"
            aria-label={`Side that lies on pulley ${i + 1}`}
            title="A crossed belt lies on its second pulley with its back; a tightener presses on the back"
            value={pulley[2] > 0 ? 'inside' : 'back'}
            onChange={() => put(i, 2, -pulley[2])}
          >
            <option>inside</option>
            <option>back</option>
          </select>
          {pulleys.length > 2 && (
            <button
              type="button"
              className="rounded text-ink-2 hover:text-now"
              aria-label={`Take pulley ${i + 1} out`}
              title="Take this pulley out"
              onClick={() => set(pulleys.filter((_, other) => other !== i))}
            >
              <X size={12} aria-hidden="true" />
            </button>
          )}
        </div>
      ))}
      <div className="flex items-center gap-2">
        <button
          type="button"
          className="btn h-[22px]"
          disabled={pulleys.length >= PULLEY_LIMIT}
          onClick={add}
        >
          Add a pulley
        </button>
        {path ? (
          <span className="text-ink-2">
            {formatNumber(pathLength(path) / per, 3)} {unit} round
          </span>
        ) : (
          <span role="alert" className="text-now">
            Two pulleys overlap: move them apart.
          </span>
        )}
      </div>
    </div>
  );
}
