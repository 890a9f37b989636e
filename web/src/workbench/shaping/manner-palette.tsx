import { Plus, X } from 'lucide-react';
import { memo, useDeferredValue, useEffect, useMemo, useState } from 'react';
import type { Shot } from '../../../../core/document';
import { stretchManner, stretchShape } from '../../../../core/edit';
import { useLatest } from '../../shared/use-latest';
import { useChoice, useSession, useShot, useTime } from '../session';
import { ownTile, recentManners, rememberManner, TILES, tilePath, type MannerTile } from './manner-tiles';
import { useKept } from '../use-kept';
import { stretchesMeant, stretchesWords } from './stretches';
import { keepTrial, tryOut } from './trial';

const TILE = { width: 30, height: 17 };

/** The one way in which all stretches move, or `null`. */
function mannerOfAll(
  shot: Shot,
  stretches: ReturnType<typeof stretchesMeant>,
): ReturnType<typeof stretchManner> {
  const [first, ...others] = stretches;
  const manner = first ? stretchManner(shot, first) : null;
  return others.every((other) => stretchManner(shot, other) === manner) ? manner : null;
}

/** Ways to move as small curves over the stretches that are meant: hovering shows one, a click keeps it. */
export const MannerPalette = memo(function MannerPalette({ addresses }: { addresses: readonly string[] }) {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  // The choice is seen on the plot at once, and here in the picture of the page after it.
  const chosenKeys = useDeferredValue(useChoice((state) => state.chosenKeys));
  const around = useTime((state) => (chosenKeys.length > 0 || state.playing ? null : state.frame));
  const stretches = useMemo(
    () => stretchesMeant(shot, chosenKeys, addresses, around ?? session.time.now.frame),
    [shot, chosenKeys, addresses, around, session],
  );
  const { own, keep, remove } = useKept('manners');
  const [recent, setRecent] = useState(recentManners);
  const [naming, setNaming] = useState(false);
  const inForce = useMemo(() => mannerOfAll(shot, stretches), [shot, stretches]);
  const mine = useMemo(() => own.map(ownTile), [own]);
  const known = new Map([...mine, ...TILES].map((tile) => [tile.id, tile]));
  const used = recent.flatMap((id) => known.get(id) ?? []);
  const usable = stretches.length > 0;
  useEffect(() => () => tryOut(session, null), [session]);

  const show = (tile: MannerTile | null): void =>
    tryOut(session, tile && usable ? (now) => tile.apply(now, stretches) : null);
  const take = (tile: MannerTile): void => {
    if (!keepTrial(session, (now) => tile.apply(now, stretches))) return;
    rememberManner(tile.id);
    setRecent(recentManners());
  };
  const actions = useLatest({ show, take, remove: (name: string) => remove(name) });
  const tiles = (list: readonly MannerTile[]) => (
    <div className="grid grid-cols-4 gap-1">
      {list.map((tile) => (
        <Tile
          key={tile.id}
          tile={tile}
          pressed={inForce === tile.id}
          disabled={!usable}
          onShow={actions.show}
          onTake={actions.take}
          onRemove={actions.remove}
        />
      ))}
    </div>
  );
  const shape = stretches.length === 1 ? stretchShape(shot, stretches[0]!) : null;
  return (
    <section
      aria-label="Ways to move"
      onKeyDown={(event) => {
        if (event.key !== 'Escape') return;
        show(null);
        (event.target as HTMLElement).blur();
        event.stopPropagation();
      }}
    >
      <div className="mb-1 flex items-center gap-1">
        <h4
          className="truncate font-semibold text-ink-2"
          title={inForce === 'own' ? 'It moves by its own handles' : undefined}
        >
          {stretchesWords(shot, stretches)}
          {inForce === 'own' && <span className="font-normal text-ink-3"> · own</span>}
        </h4>
        {shape?.points && !naming && (
          <button
            type="button"
            className="ml-auto flex h-5 flex-none items-center gap-0.5 rounded px-1 text-teal hover:bg-raised"
            title="Keep this shape with the project, under a name"
            onClick={() => setNaming(true)}
          >
            <Plus size={12} aria-hidden="true" /> Keep
          </button>
        )}
      </div>
      {naming && shape && (
        <NameField
          onClose={() => setNaming(false)}
          onName={(name) => {
            const [x1, y1, x2, y2] = shape.points ?? [0, 0, 1, 1];
            const within = (x: number): number => Math.max(0, Math.min(1, x));
            keep({
              name,
              shape: { manner: shape.manner, points: [within(x1), y1, within(x2), y2] },
            });
            setNaming(false);
          }}
        />
      )}
      {(mine.length > 0 || used.length > 0) && (
        <>
          <p className="mb-0.5 text-xs text-ink-3">{mine.length > 0 ? 'Own, and used last' : 'Used last'}</p>
          {tiles([...mine, ...used.filter((tile) => !tile.own)])}
          <p className="mb-0.5 mt-1.5 text-xs text-ink-3">All</p>
        </>
      )}
      {tiles(TILES)}
    </section>
  );
});

const Tile = memo(function Tile(props: {
  tile: MannerTile;
  pressed: boolean;
  disabled: boolean;
  onShow(tile: MannerTile | null): void;
  onTake(tile: MannerTile): void;
  onRemove(name: string): void;
}) {
  const { tile, pressed, disabled, onShow, onTake, onRemove } = props;
  const path = useMemo(() => tilePath(tile.at, TILE.width, TILE.height), [tile.at]);
  return (
    <span className="group relative">
      <button
        type="button"
        aria-pressed={pressed}
        disabled={disabled}
        title={
          disabled
            ? `${tile.words}: choose a key with which a stretch begins, or go to a frame between two keys`
            : tile.words
        }
        className={`flex w-full flex-col items-center rounded-md border pb-px pt-1 ${pressed ? 'border-teal bg-teal text-on-teal' : 'border-line bg-raised hover:bg-field'}`}
        onPointerEnter={() => onShow(tile)}
        onPointerLeave={() => onShow(null)}
        onFocus={(event) => event.currentTarget.matches(':focus-visible') && onShow(tile)}
        onBlur={() => onShow(null)}
        onClick={() => onTake(tile)}
      >
        <svg
          width={TILE.width + 4}
          height={TILE.height + 4}
          viewBox={`-2 -2 ${TILE.width + 4} ${TILE.height + 4}`}
          aria-hidden="true"
        >
          <path d={path} fill="none" stroke="currentColor" strokeWidth="1.6" strokeLinejoin="round" />
        </svg>
        <span className="w-full truncate text-center text-[9.5px] leading-[13px] tracking-tight">
          {tile.words}
        </span>
      </button>
      {tile.own && (
        <button
          type="button"
          aria-label={`Remove ${tile.words} from the project`}
          title={`Remove ${tile.words} from the project`}
          className="absolute -right-1 -top-1 hidden size-4 items-center justify-center rounded-full border border-line bg-raised text-now focus-visible:flex group-hover:flex"
          onClick={() => onRemove(tile.words)}
        >
          <X size={10} aria-hidden="true" />
        </button>
      )}
    </span>
  );
});

function NameField({ onName, onClose }: { onName(name: string): void; onClose(): void }) {
  const [name, setName] = useState('');
  return (
    <input
      autoFocus
      aria-label="Name of the way to move"
      placeholder="Name it, then Enter"
      className="input-field mb-1 h-[22px] w-full"
      value={name}
      onChange={(event) => setName(event.target.value)}
      onBlur={onClose}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === 'Enter' && name.trim()) onName(name.trim());
        if (event.key === 'Escape') onClose();
      }}
    />
  );
}
