import { X } from 'lucide-react';
import { ANGLE_LIMIT, JOINT_AXES, type JointAxis, type JointLimit } from '../../../../core/document';
import { setJointLimit } from '../../../../core/edit';
import { NumberBox } from '../../ui/number-box';
import { useSession, useShot } from '../session';

/** Limits with which a joint begins, on both sides of where it is. */
const BEGINS = 60;

/** How far a part turns about each of its axes. */
export function JointForm({ id }: { id: string }) {
  const session = useSession();
  const part = useShot((state) => state.shot.parts[id]);
  if (!part) return null;
  const joint = part.joint ?? {};
  const set = (axis: JointAxis, limit: JointLimit | null): void =>
    void session.edit((shot) => setJointLimit(shot, id, axis, limit));
  const begin = (axis: JointAxis): void => {
    const now = Math.round(session.evaluator.number(`${id}/rotation.${axis}`));
    set(axis, { least: Math.min(0, now) - BEGINS, most: Math.max(0, now) + BEGINS });
  };
  const free = JOINT_AXES.filter((axis) => !joint[axis]);
  return (
    <>
      {JOINT_AXES.flatMap((axis) => {
        const limit = joint[axis];
        if (!limit) return [];
        const box = (end: 'least' | 'most') => (
          <NumberBox
            label={`${end === 'least' ? 'Least' : 'Most'} rotation ${axis.toUpperCase()}`}
            title={`${end === 'least' ? 'Least' : 'Most'} angle of its joint about ${axis}, degrees`}
            className="w-[46px] flex-none"
            digits={2}
            value={limit[end]}
            min={end === 'least' ? -ANGLE_LIMIT : limit.least}
            max={end === 'least' ? limit.most : ANGLE_LIMIT}
            onValue={(value) => set(axis, { ...limit, [end]: value })}
          />
        );
        return [
          <div key={axis} className="flex min-w-0 items-center gap-1">
            <span className="w-[83px] flex-none truncate text-ink-2">Turns about {axis}</span>
            {box('least')}
            <span className="text-ink-2">to</span>
            {box('most')}
            <select
              aria-label={`Beyond the limits about ${axis}`}
              title="Held: it does not turn further. Told: the checks say where it does."
              className="input-field h-[22px] w-0 min-w-[50px] flex-1 px-0"
              value={limit.held ? 'held' : 'told'}
              onChange={(event) => {
                const { least, most } = limit;
                set(axis, event.target.value === 'held' ? { least, most, held: true } : { least, most });
              }}
            >
              <option value="held">held</option>
              <option value="told">told</option>
            </select>
            <button
              type="button"
              className="flex-none rounded text-ink-2 hover:text-now"
              aria-label={`Let it turn freely about ${axis}`}
              title="Let it turn freely"
              onClick={() => set(axis, null)}
            >
              <X size={12} aria-hidden="true" />
            </button>
          </div>,
        ];
      })}
      {free.length > 0 && (
        <label className="flex items-center gap-1.5">
          <span className="w-[82px] flex-none truncate text-ink-2">Joint</span>
          <select
            className="input-field h-[22px] min-w-0 flex-1 px-1"
            value=""
            title="Limit how far the part turns about one of its axes"
            onChange={(event) => begin(event.target.value as JointAxis)}
          >
            <option value="">{free.length === 3 ? 'turns freely' : 'limit another axis...'}</option>
            {free.map((axis) => (
              <option key={axis} value={axis}>
                limit the turn about {axis}
              </option>
            ))}
          </select>
        </label>
      )}
    </>
  );
}
