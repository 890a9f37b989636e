import { Search } from 'lucide-react';
import { useState } from 'react';
import { SearchField } from '../../ui/search-field';
import { Chip, Chips } from '../../ui/chips';
import { useSession, useChoice, useSheets } from '../session';
import { DialsColumn } from './dials-column';
import { LinksMap, type MapFocus } from './links-map';
import { openRecipe } from './link-commands';
import { RecipePanel } from './recipe-panel';

const FOCI: readonly (readonly [MapFocus, string, string])[] = [
  ['all', 'All', 'Everything that is linked'],
  ['up', 'What drives it', 'Only what the chosen value depends on'],
  ['down', 'What it drives', 'Only what depends on the chosen value'],
];

/** Links of the shot: dials and recipes beside the map of what drives what. */
export default function LinksEditor() {
  const session = useSession();
  const recipe = useSheets((state) => state.recipe);
  const channel = useChoice((state) => state.channel);
  const [focus, setFocus] = useState<MapFocus>('all');
  const [find, setFind] = useState('');
  return (
    <div className="flex min-h-0 flex-1" role="group" aria-label="Links" id="links">
      {recipe ? <RecipePanel key={recipe.id ?? recipe.kind ?? 'list'} /> : <DialsColumn />}
      <div className="relative min-w-0 flex-1" data-testid="links-map">
        <div className="absolute left-2 top-2 z-10 flex items-center gap-1.5">
          <Chips label="Show">
            {FOCI.map(([key, words, title]) => (
              <Chip
                key={key}
                on={focus === key}
                title={title}
                disabled={key !== 'all' && channel === null}
                onClick={() => setFocus(key)}
              >
                {words}
              </Chip>
            ))}
          </Chips>
          <label className="flex h-[28px] items-center gap-1 rounded-[7px] border border-line bg-raised px-1.5">
            <Search size={12} aria-hidden="true" className="text-ink-3" />
            <SearchField
              label="Find in the map"
              placeholder="Find in the map"
              className="w-28 bg-transparent outline-none"
              value={find}
              onChange={setFind}
            />
          </label>
          {!recipe && (
            <button type="button" className="btn h-[24px]" onClick={() => openRecipe(session, null)}>
              Recipe...
            </button>
          )}
        </div>
        <LinksMap focus={focus} find={find} />
      </div>
    </div>
  );
}
