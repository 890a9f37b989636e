import { builderOf, RECIPES } from '../../../../core/recipe';
import { editBuilt } from '../links/link-commands';
import { useSession, useShot } from '../session';

/** Which recipe built the part, and the way back to its numbers. */
export function BuiltBy({ id }: { id: string }) {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const made = builderOf(shot, id);
  if (!made) return null;
  return (
    <p className="flex flex-none items-center gap-2 px-2.5 pt-1.5 text-ink-2">
      <span className="truncate">Built by {RECIPES.get(made.recipe.kind)?.label ?? made.recipe.kind}</span>
      <button
        type="button"
        className="ml-auto flex-none font-semibold text-teal hover:underline"
        title="Teeth, sizes and the rest that it was built to: its parts follow"
        onClick={() => editBuilt(session, id)}
      >
        Other numbers...
      </button>
    </p>
  );
}
