import { useState } from 'react';
import { BUILT_KINDS, RECIPE_GROUPS, type RecipeSpec } from '../../../../core/recipe';
import { SearchField } from '../../ui/search-field';
import { useSession } from '../session';

const meant = (spec: RecipeSpec, wanted: string): boolean =>
  wanted
    .toLowerCase()
    .split(/\s+/)
    .every((word) => `${spec.label} ${spec.help}`.toLowerCase().includes(word));

/** All recipes, in groups, to choose one. */
export function RecipeList({ onLeave }: { onLeave(): void }) {
  const session = useSession();
  const [find, setFind] = useState('');
  const groups = RECIPE_GROUPS.flatMap(([name, specs]) => {
    const found = specs.filter((spec) => meant(spec, find));
    return found.length > 0 ? [[name, found] as const] : [];
  });
  const open = (kind: string): void => session.sheets.useRecipe({ kind, roles: {}, settings: {} });
  return (
    <section className="flex w-[372px] flex-none flex-col border-r border-line" aria-label="Recipes">
      <h3 className="flex h-8 flex-none items-center gap-2 border-b border-line-soft px-2.5 font-bold">
        Recipes
        <SearchField
          label="Find a recipe"
          placeholder="Find: gear, cam, spring..."
          className="input-field h-[22px] min-w-0 flex-1 font-normal"
          value={find}
          onChange={setFind}
          onEnter={() => groups[0] && open(groups[0][1][0]!.kind)}
        />
        <button type="button" className="btn h-[22px]" onClick={onLeave}>
          Leave
        </button>
      </h3>
      <div className="min-h-0 flex-1 overflow-y-auto pb-1">
        {groups.map(([name, specs]) => (
          <section key={name} aria-label={name}>
            <h4 className="px-2.5 pt-1.5 text-xs font-bold text-ink-2">{name}</h4>
            <ul>
              {specs.map((spec) => (
                <li key={spec.kind}>
                  <button
                    type="button"
                    className="block w-full px-2.5 py-1 text-left hover:bg-field"
                    onClick={() => open(spec.kind)}
                  >
                    <b>{spec.label}</b>
                    {BUILT_KINDS.has(spec.kind) && <span className="text-ink-3"> · builds its parts</span>}
                    <span className="block text-ink-2">{spec.help}</span>
                  </button>
                </li>
              ))}
            </ul>
          </section>
        ))}
        {groups.length === 0 && <p className="p-2.5 text-ink-2">No recipe is about "{find}".</p>}
      </div>
    </section>
  );
}
