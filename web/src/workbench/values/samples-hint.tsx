import { sampledChannels } from '../../../../core/document';
import { changeSetup } from '../../../../core/edit';
import { useSession, useShot } from '../session';

/** Enough for soft light and blur while one works. */
const ENOUGH = 16;

/** Says why a lamp's size, depth of focus or blur does not show: each frame is one picture. A click mends it. */
export function SamplesHint({ id }: { id: string }) {
  const session = useSession();
  const wanted = useShot(({ shot }) =>
    (shot.setup.samples ?? 1) > 1
      ? ''
      : sampledChannels(shot, id)
          .map(({ spec }) => spec.label)
          .join(', '),
  );
  if (wanted === '') return null;
  return (
    <p className="px-2.5 py-1 text-xs text-ink-2" role="status">
      {wanted}: not seen while each frame is one picture.{' '}
      <button
        type="button"
        className="font-semibold text-teal underline"
        onClick={() => session.edit((shot) => changeSetup(shot, { samples: ENOUGH }))}
      >
        Build frames up from {ENOUGH}
      </button>
    </p>
  );
}
