import { ROTATION_ORDERS } from '../../../../core/transform';
import { partDefinition, REPEAT_PATTERNS } from '../../../../core/document';
import { addPart, apply, compose, setAim, setFollow, setRepeat } from '../../../../core/edit';
import { useSession, useShot } from '../session';
import { CameraForm } from './camera-form';
import { JointForm } from './joint-form';
import { PartSelect } from './part-select';

const AXIS_WORDS = [
  ['x', 'its x'],
  ['y', 'its y'],
  ['z', 'its z'],
  ['-x', 'its -x'],
  ['-y', 'its -y'],
  ['-z', 'its -z'],
] as const;

const LABEL = 'w-[82px] flex-none truncate text-ink-2';
const SELECT = 'input-field h-[22px] min-w-0 flex-1 px-1';

/** Choices of a part that are no values over time: order of its turns, what it faces, its path, its copies. */
export function PartOptions({ id }: { id: string }) {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const part = shot.parts[id];
  if (!part) return null;
  return (
    <div className="mt-1 border-t border-line-soft">
      <h3 className="flex h-6 items-center px-2.5 text-xs font-bold">Options</h3>
      <div className="grid gap-1 px-2.5">
        <label className="flex items-center gap-1.5">
          <span className={LABEL}>Turns in order</span>
          <select
            className={SELECT}
            value={part.rotationOrder}
            title="Which axis turns first"
            onChange={(event) =>
              session.edit(() => ({
                label: `Change the order of turns of ${part.name}`,
                patches: [
                  {
                    path: ['parts', id, 'rotationOrder'],
                    before: part.rotationOrder,
                    after: event.target.value,
                  },
                ],
              }))
            }
          >
            {ROTATION_ORDERS.map((order) => (
              <option key={order}>{order}</option>
            ))}
          </select>
        </label>
        <FacesField id={id} />
        <PathField id={id} />
        <JointForm id={id} />
        <CameraForm id={id} />
        <CopiesForm id={id} />
      </div>
    </div>
  );
}

/** The part that it faces, and with which of its axes. */
function FacesField({ id }: { id: string }) {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const part = shot.parts[id]!;
  return (
    <label className="flex items-center gap-1.5">
      <span className={LABEL}>Faces</span>
      <PartSelect
        shot={shot}
        value={part.aim?.target ?? null}
        none="nothing"
        fits={(other) => other !== id}
        onChoose={(target) =>
          session.edit((current) =>
            setAim(
              current,
              id,
              target === null
                ? null
                : { axis: partDefinition(part.kind).faces, up: 'y', ...part.aim, target },
            ),
          )
        }
      />
      {part.aim && (
        <select
          aria-label="Axis that faces it"
          className="input-field h-[22px] w-[62px] px-1"
          value={part.aim.axis}
          onChange={(event) =>
            session.edit((current) => {
              const axis = event.target.value as (typeof AXIS_WORDS)[number][0];
              const up =
                axis.at(-1) === part.aim!.up.at(-1) ? (axis.at(-1) === 'y' ? 'z' : 'y') : part.aim!.up;
              return setAim(current, id, { ...part.aim!, axis, up });
            })
          }
        >
          {AXIS_WORDS.map(([axis, words]) => (
            <option key={axis} value={axis}>
              {words}
            </option>
          ))}
        </select>
      )}
    </label>
  );
}

/** The path that it runs along. */
function PathField({ id }: { id: string }) {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const part = shot.parts[id]!;
  let known: ReadonlySet<string | null> | null = null;
  const parents = (): ReadonlySet<string | null> =>
    (known ??= new Set(Object.values(shot.parts).map((entry) => entry.parent)));
  return (
    <>
      <label className="flex items-center gap-1.5">
        <span className={LABEL}>On the path</span>
        <PartSelect
          shot={shot}
          value={part.follow?.path ?? null}
          none="none"
          title="A smooth path through the parts below the one chosen here"
          fits={(other) => other !== id && parents().has(other)}
          onChoose={(path) =>
            session.edit((current) =>
              setFollow(
                current,
                id,
                path === null ? null : { closed: false, turn: false, ...part.follow, path },
              ),
            )
          }
        />
      </label>
      {part.follow && (
        <div className="flex gap-3 pl-[88px]">
          {(['closed', 'turn'] as const).map((option) => (
            <label key={option} className="flex items-center gap-1.5">
              <input
                type="checkbox"
                className="accent-teal"
                checked={part.follow![option]}
                onChange={(event) =>
                  session.edit((current) =>
                    setFollow(current, id, { ...part.follow!, [option]: event.target.checked }),
                  )
                }
              />
              {option === 'closed' ? 'closed' : 'turns with it'}
            </label>
          ))}
        </div>
      )}
    </>
  );
}

/** How the copies of a repeat lie, and what sets the step from one to the next. */
function CopiesForm({ id }: { id: string }) {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const part = shot.parts[id]!;
  if (!part.repeat) return null;
  return (
    <>
      <label className="flex items-center gap-1.5">
        <span className={LABEL}>Copies lie in a</span>
        <select
          className={SELECT}
          value={part.repeat.pattern}
          onChange={(event) =>
            session.edit((current) =>
              setRepeat(current, id, {
                pattern: event.target.value as (typeof REPEAT_PATTERNS)[number],
              }),
            )
          }
        >
          {REPEAT_PATTERNS.map((pattern) => (
            <option key={pattern}>{pattern}</option>
          ))}
        </select>
      </label>
      <label className="flex items-center gap-1.5">
        <span className={LABEL}>Step set by</span>
        <PartSelect
          shot={shot}
          value={part.repeat.step}
          none="its gap"
          title="A hub below the repeat whose place is the step from one copy to the next"
          fits={(_, entry) => entry.parent === id && entry.kind === 'hub'}
          onChoose={(step) => session.edit((current) => setRepeat(current, id, { step }))}
        />
      </label>
      <p className="pl-[88px] text-xs text-ink-2">
        A hub directly below {part.name} can set it.{' '}
        <button
          type="button"
          className="font-semibold text-teal underline"
          onClick={() =>
            session.edit((current) => {
              const made = addPart(current, {
                kind: 'hub',
                name: `${part.name} step`,
                parent: id,
                values: { 'location.x': 1 },
              });
              const step = setRepeat(apply(current, made.change), id, { step: made.id });
              return { ...compose(made.change, step), label: `Let a hub set the step of ${part.name}` };
            })
          }
        >
          Make one
        </button>
      </p>
    </>
  );
}
