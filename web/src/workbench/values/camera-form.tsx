import { PROJECTIONS, partDefinition, type Projection } from '../../../../core/document';
import { focusOn, setProjection } from '../../../../core/edit';
import { useSession, useShot } from '../session';
import { OptionRow, wordsOf } from './option-row';
import { PartSelect } from './part-select';

const WORDS: Record<Projection, string> = {
  parallel: 'with parallel lines',
  pixels: 'pixel for pixel at depth 0',
};

/** How a camera sees, and on what it is focused. */
export function CameraForm({ id }: { id: string }) {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const part = shot.parts[id];
  if (part?.kind !== 'camera') return null;
  const label = 'w-[82px] flex-none truncate text-ink-2';
  return (
    <>
      <OptionRow
        label="Sees"
        title="Pixel for pixel: a layer of 100 pixels at depth 0 is 100 pixels wide in the picture"
        value={part.projection ?? ''}
        choices={[['', 'through its lens'], ...wordsOf(PROJECTIONS, WORDS)]}
        onChoose={(next) => session.edit((now) => setProjection(now, id, next === '' ? undefined : next))}
      />
      <label className="flex items-center gap-1.5">
        <span className={label}>Focus on</span>
        <PartSelect
          shot={shot}
          value={null}
          none="a part..."
          title="Links the distance of focus to a part; the f-number says how much is blurred"
          fits={(other, entry) => other !== id && partDefinition(entry.kind).role !== 'backdrop'}
          onChoose={(target) => {
            if (target !== null) session.edit((now) => focusOn(now, id, target));
          }}
        />
      </label>
    </>
  );
}
