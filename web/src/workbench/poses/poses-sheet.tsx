import { X } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import { NAME_LIMIT } from '../../../../core/document';
import { KEPT_LIMIT, POSE_LIMITS, type OwnPose } from '../../../../wire';
import { DialogLeave, DialogTitle } from '../../ui/dialog-frame';
import { NumberBox } from '../../ui/number-box';
import { SearchField } from '../../ui/search-field';
import { Switch } from '../../ui/switch';
import { useChoice, useSession, useTime } from '../session';
import { useKept } from '../use-kept';
import { chosenPose, putPose } from './put-pose';

/** Poses beyond these are looked for by name. */
const SEARCH_FROM = 9;

/** Poses that the project keeps: a click keys one at the playhead, on all that it names, on the chosen parts, or by a share. */
export default function PosesSheet() {
  const session = useSession();
  const chosen = useChoice((state) => state.chosen);
  const frame = useTime((state) => state.frame);
  const { own, remove } = useKept('poses');
  const [find, setFind] = useState('');
  const [share, setShare] = useState(100);
  const [mirrored, setMirrored] = useState(false);
  const [only, setOnly] = useState(false);
  const found = own.filter((each) => each.name.toLowerCase().includes(find.trim().toLowerCase()));
  const put = ({ name, pose }: OwnPose): void => {
    const options = { share: share / 100, mirrored, only: only ? chosen : null };
    if (putPose(session, name, pose, options)) session.sheets.show(null);
  };
  return (
    <>
      <div className="flex items-center">
        <DialogTitle>Poses</DialogTitle>
        <DialogLeave className="ml-auto">Close</DialogLeave>
      </div>
      <KeepPose names={own.map((each) => each.name)} />
      <div className="flex items-center gap-4 border-t border-line pt-3">
        <b>Put in at frame {Math.round(frame * 100) / 100}</b>
        <label
          className="flex items-center gap-1.5"
          title="How far from what is there to the pose: 100 is the pose itself"
        >
          by
          <NumberBox
            label="Share in per cent"
            value={share}
            min={1}
            max={100}
            onValue={setShare}
            className="w-14"
          />
          %
        </label>
        <Switch
          label="Mirrored"
          title="What is left goes to what is right, by name"
          on={mirrored}
          onChange={setMirrored}
        />
        <Switch
          label="Only the chosen parts"
          title="With all that hangs from them"
          on={only && chosen.length > 0}
          onChange={(on) =>
            chosen.length > 0 ? setOnly(on) : toast('Choose the parts first that are to be posed.')
          }
        />
        {own.length > SEARCH_FROM && (
          <SearchField
            label="Find a pose"
            placeholder="Find a pose..."
            className="input-field ml-auto h-[24px] w-36"
            value={find}
            onChange={setFind}
          />
        )}
      </div>
      {found.length > 0 ? (
        <ul className="grid min-h-0 grid-cols-5 gap-2 overflow-y-auto" aria-label="Poses of the project">
          {found.map((each) => (
            <li key={each.name} className="group relative">
              <button
                type="button"
                className="flex w-full flex-col items-center gap-1 rounded-md border border-line bg-field p-1.5 hover:border-teal"
                onClick={() => put(each)}
                title={`Key "${each.name}" at this frame: ${each.pose.parts.length} parts`}
              >
                <PosePicture name={each.name} picture={each.pose.picture} mirrored={mirrored} />
                <span className="line-clamp-2 w-full text-center leading-tight">{each.name}</span>
              </button>
              <button
                type="button"
                className="absolute right-1 top-1 rounded bg-raised p-0.5 text-ink-2 opacity-0 hover:text-now focus-visible:opacity-100 group-hover:opacity-100"
                aria-label={`Remove the pose ${each.name} from the project`}
                onClick={() => remove(each.name)}
              >
                <X size={12} aria-hidden="true" />
              </button>
            </li>
          ))}
        </ul>
      ) : (
        <p className="py-2 text-ink-2">
          {own.length > 0
            ? 'No pose is called so.'
            : 'None yet. Choose the topmost part of a figure, pose it, and keep the pose here: it serves every shot of the project, on parts of the same names.'}
        </p>
      )}
    </>
  );
}

/** The row that keeps the pose of what is chosen. */
function KeepPose({ names }: { names: readonly string[] }) {
  const session = useSession();
  const chosen = useChoice((state) => state.chosen);
  const { keep } = useKept('poses');
  const [name, setName] = useState('');
  const typed = name.trim();
  const replaces = names.includes(typed);
  const top = session.shot.parts[chosen.at(-1) ?? '']?.name;
  const store = (): void => {
    if (typed === '') return;
    const pose = chosenPose(session);
    if (pose.parts.length > POSE_LIMITS.parts)
      toast.error(
        `These are ${pose.parts.length} parts, a pose has at most ${POSE_LIMITS.parts}: choose a part further down.`,
      );
    else if (!replaces && names.length >= KEPT_LIMIT)
      toast.error(`A project keeps ${KEPT_LIMIT} poses: remove one that is no longer used.`);
    else {
      keep({ name: typed, pose });
      setName('');
    }
  };
  if (top === undefined)
    return <p className="text-ink-2">Choose a part to keep its pose, with that of all below it.</p>;
  return (
    <form
      className="flex items-center gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        store();
      }}
    >
      <span className="min-w-0 truncate">
        Keep the pose of <b>{chosen.length === 1 ? top : `${chosen.length} parts`}</b> as
      </span>
      <input
        autoFocus
        aria-label="Name of the pose"
        className="input-field h-[24px] min-w-0 flex-1"
        maxLength={NAME_LIMIT}
        placeholder="A name, such as Look out"
        value={name}
        onChange={(event) => setName(event.target.value)}
      />
      <button type="submit" className="btn" disabled={typed === ''}>
        {replaces ? 'Replace' : 'Keep'}
      </button>
    </form>
  );
}

/** The picture of a pose, cut out of flat pieces. */
function PosePicture({
  name,
  picture,
  mirrored,
}: {
  name: string;
  picture: OwnPose['pose']['picture'];
  mirrored: boolean;
}) {
  const { size } = POSE_LIMITS;
  return (
    <svg
      role="img"
      aria-label={`Picture of ${name}`}
      viewBox={`-8 -8 ${size + 16} ${size + 16}`}
      className="h-[92px] w-[92px] rounded"
    >
      <g transform={mirrored ? `translate(${size} 0) scale(-1 1)` : undefined}>
        {picture.map(({ colour, points }, i) => (
          <polygon
            key={i}
            points={points.join(' ')}
            fill={colour}
            stroke="var(--color-ink)"
            strokeOpacity="0.35"
            strokeWidth="1.5"
            strokeLinejoin="round"
          />
        ))}
      </g>
    </svg>
  );
}
