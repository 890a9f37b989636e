import { ChevronDown, X } from 'lucide-react';
import { Popover } from 'radix-ui';
import { useState } from 'react';
import { READY_LOOKS } from '../../../../core/document';
import { keptLook, takeLook, type KeptLook } from '../../../../core/edit';
import { SearchField } from '../../ui/search-field';
import { useSession, useShot } from '../session';
import { useKept } from '../use-kept';
import { LookBall } from './look-ball';

const READY = READY_LOOKS as readonly KeptLook[];

/** The look of a part: a click opens those that are ready and those that the project keeps. */
export function LookGallery({ id }: { id: string }) {
  const look = useShot((state) => state.shot.looks[id]);
  const [open, setOpen] = useState(false);
  if (!look) return null;
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger
        className="flex h-[30px] min-w-0 items-center gap-2 rounded-[5px] border border-line bg-field px-1 text-left hover:border-teal"
        aria-label={`Look: ${look.name}`}
        title="Looks that are ready, and those that the project keeps"
      >
        <LookBall look={keptLook(look)} size={24} wait />
        <span className="min-w-0 flex-1 truncate">{look.name}</span>
        <ChevronDown size={13} aria-hidden="true" className="flex-none text-ink-3" />
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          className="menu-surface flex max-h-[min(560px,var(--radix-popover-content-available-height))] w-[344px] flex-col p-2.5"
          sideOffset={4}
          align="end"
          collisionPadding={8}
          onKeyDown={(event) => event.stopPropagation()}
        >
          <Choices id={id} onDone={() => setOpen(false)} />
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function Choices({ id, onDone }: { id: string; onDone(): void }) {
  const session = useSession();
  const look = useShot((state) => state.shot.looks[id])!;
  const { own, keep, remove } = useKept('looks');
  const [find, setFind] = useState('');
  const [name, setName] = useState<string | null>(null);
  const fits = (entry: KeptLook): boolean => entry.name.toLowerCase().includes(find.trim().toLowerCase());
  const mine = own.map((entry) => ({ ...entry.look, name: entry.name })).filter(fits);
  const ready = READY.filter(fits);
  const take = (from: KeptLook): void => {
    session.edit((shot) => takeLook(shot, id, from));
    onDone();
  };
  const tiles = (entries: readonly KeptLook[], removable: boolean) => (
    <div className="grid grid-cols-4 gap-1.5">
      {entries.map((entry) => (
        <div key={entry.name} className="group relative">
          <button
            type="button"
            className="flex w-full flex-col items-center gap-0.5 rounded border border-transparent p-1 hover:border-teal"
            onClick={() => take(entry)}
            title={entry.name}
          >
            <LookBall look={entry} size={62} />
            <span className="line-clamp-2 h-[26px] text-center text-[11px] leading-[1.15]">{entry.name}</span>
          </button>
          {removable && (
            <button
              type="button"
              className="absolute right-0 top-0 rounded bg-raised p-0.5 text-ink-2 opacity-0 hover:text-now focus-visible:opacity-100 group-hover:opacity-100"
              aria-label={`Remove the look ${entry.name} from the project`}
              onClick={() => remove(entry.name)}
            >
              <X size={12} aria-hidden="true" />
            </button>
          )}
        </div>
      ))}
    </div>
  );
  const store = (): void => {
    const text = (name ?? look.name).trim();
    if (text === '') return;
    keep({ name: text, look: { ...keptLook(look), name: text } as Parameters<typeof keep>[0]['look'] });
    setName(null);
  };
  return (
    <>
      <SearchField
        label="Find a look"
        placeholder="Find a look..."
        className="input-field h-[24px] flex-none"
        value={find}
        onChange={setFind}
      />
      <div className="mt-1.5 min-h-0 flex-1 overflow-y-auto">
        <h4 className="flex items-center text-xs font-bold text-ink-2">
          Kept with the project
          {name === null && (
            <button
              type="button"
              className="ml-auto font-semibold text-teal hover:underline"
              onClick={() => setName(look.name)}
            >
              Keep this look
            </button>
          )}
        </h4>
        {name !== null && (
          <form
            className="my-1 flex gap-1.5"
            onSubmit={(event) => {
              event.preventDefault();
              store();
            }}
          >
            <input
              autoFocus
              aria-label="Name of the look"
              className="input-field h-[24px] min-w-0 flex-1"
              maxLength={80}
              value={name}
              onChange={(event) => setName(event.target.value)}
              onKeyDown={(event) => {
                if (event.key !== 'Escape') return;
                event.preventDefault();
                setName(null);
              }}
            />
            <button type="submit" className="rounded bg-teal px-2 font-semibold text-on-teal">
              Keep
            </button>
          </form>
        )}
        {mine.length > 0 ? (
          tiles(mine, true)
        ) : (
          <p className="py-1 text-xs text-ink-2">
            {find
              ? 'None of them is called so.'
              : 'None yet. What is kept here serves every shot of the project.'}
          </p>
        )}
        <h4 className="mb-0.5 mt-2 text-xs font-bold text-ink-2">Ready</h4>
        {ready.length > 0 ? (
          tiles(ready, false)
        ) : (
          <p className="py-1 text-xs text-ink-2">None of them is called so.</p>
        )}
      </div>
    </>
  );
}
