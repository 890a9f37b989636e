import { ChevronsDownUp, ChevronsUpDown, Filter } from 'lucide-react';
import { SearchField } from '../../ui/search-field';

/** Over the names of the lanes: fold all, find one, only those of the chosen parts. */
export function LanesHead(props: {
  height: number;
  lanes: number;
  find: string;
  onFind(text: string): void;
  allFolded: boolean;
  canFold: boolean;
  onFold(): void;
  onlyChosen: boolean;
  onOnlyChosen(): void;
}) {
  const { height, lanes, find, onFind, allFolded, canFold, onFold, onlyChosen, onOnlyChosen } = props;
  const Fold = allFolded ? ChevronsUpDown : ChevronsDownUp;
  return (
    <div className="absolute inset-x-0 top-0 z-10 flex items-center gap-1 bg-head px-1.5" style={{ height }}>
      <button
        type="button"
        aria-label={allFolded ? 'Unfold all lanes' : 'Fold all lanes'}
        title={allFolded ? 'Unfold all' : 'Fold all'}
        disabled={!canFold}
        className="flex size-5 items-center justify-center rounded text-ink-2 hover:bg-line-soft"
        onClick={onFold}
      >
        <Fold size={12} aria-hidden="true" />
      </button>
      <SearchField
        label="Find a lane"
        placeholder={`${lanes} ${lanes === 1 ? 'lane' : 'lanes'}`}
        className="input-field h-[19px] min-w-0 flex-1 px-1.5"
        value={find}
        onChange={onFind}
      />
      <button
        type="button"
        aria-label="Only lanes of the chosen parts"
        title="Only lanes of the chosen parts"
        aria-pressed={onlyChosen}
        className={`flex size-5 items-center justify-center rounded ${onlyChosen ? 'bg-teal text-on-teal' : 'text-ink-2 hover:bg-line-soft'}`}
        onClick={onOnlyChosen}
      >
        <Filter size={11} aria-hidden="true" />
      </button>
    </div>
  );
}
