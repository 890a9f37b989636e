import { partDefinition } from '../../../../core/document';
import { setGlowOf } from '../../../../core/edit';
import { useSession, useShot } from '../session';
import { PartSelect } from './part-select';

/** Whose glow a light follows. */
export function LightForm({ id }: { id: string }) {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const part = shot.parts[id];
  if (!part || !partDefinition(part.kind).light) return null;
  return (
    <label className="flex items-center gap-1.5 px-2.5 pb-1">
      <span className="w-[82px] flex-none truncate text-ink-2">Glow of</span>
      <PartSelect
        shot={shot}
        value={part.glowOf ?? null}
        none="shines by itself"
        title="Shines as a part glows: in the colours of its look, times its glow, and not while it is not shown"
        fits={(other, entry) => other !== id && entry.look !== null}
        onChoose={(target) => session.edit((now) => setGlowOf(now, id, target))}
      />
    </label>
  );
}
