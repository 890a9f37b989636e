import { ChevronsDownUp, ChevronsUpDown, Filter } from 'lucide-react';
import { MenuButton } from '../../ui/menu';
import { SearchField } from '../../ui/search-field';
import { LANE_KINDS, type LaneKind } from '../state/time';

export const LANE_KIND_WORDS: Record<LaneKind, string> = {
  all: 'All lanes',
  moving: 'Only what has keys',
  linked: 'Only what is linked',
  chosen: 'Only lanes of the chosen parts',
  sounds: 'Only sounds',
  clips: 'Only clips, and what they move',
};

/** Over the names of the lanes: fold all, find one, show only some. */
export function LanesHead(props: {
  height: number;
  lanes: number;
  find: string;
  onFind(text: string): void;
  allFolded: boolean;
  canFold: boolean;
  onFold(): void;
  kind: LaneKind;
  onKind(kind: LaneKind): void;
}) {
  const { height, lanes, find, onFind, allFolded, canFold, onFold, kind, onKind } = props;
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
      <MenuButton
        label={`Which lanes are shown: ${LANE_KIND_WORDS[kind]}`}
        title={LANE_KIND_WORDS[kind]}
        className={`flex size-5 items-center justify-center rounded ${kind === 'all' ? 'text-ink-2 hover:bg-line-soft' : 'bg-teal text-on-teal'}`}
        align="start"
        entries={() =>
          LANE_KINDS.map((name) => ({
            label: LANE_KIND_WORDS[name],
            current: name === kind,
            run: () => onKind(name),
          }))
        }
      >
        <Filter size={11} aria-hidden="true" />
      </MenuButton>
    </div>
  );
}
