import { Lock, Plus } from 'lucide-react';
import { useState } from 'react';
import { addTray, changeTray, putIntoTray, removeTray, traysOf } from '../../../../core/edit';
import { toast } from 'sonner';
import { MenuOn, type MenuEntries } from '../../ui/menu';
import { choose } from '../actions/choosing';
import { useSession, useChoice, useShot, type Session } from '../session';
import { askedBefore } from '../tell-once';

const OPTIONS = [
  ['away', 'Put away: not in the view'],
  ['locked', 'Lock'],
  ['out', 'Leave out of the picture'],
] as const;

/** What can be done with a tray. */
function trayMenu(session: Session, id: string, rename: () => void): MenuEntries {
  const { shot } = session;
  const { chosen } = session.choice.now;
  const tray = shot.trays[id]!;
  return [
    {
      label: 'Put the chosen parts in',
      disabled: chosen.length === 0,
      run: () => session.edit((current) => putIntoTray(current, session.choice.now.chosen, id)),
    },
    {
      label: 'Take the chosen parts out',
      disabled: !chosen.some((part) => shot.parts[part]?.tray === id),
      run: () =>
        session.edit((current) =>
          putIntoTray(
            current,
            session.choice.now.chosen.filter((part) => current.parts[part]?.tray === id),
            null,
          ),
        ),
    },
    {
      label: 'Choose what is in it',
      run: () =>
        choose(
          session,
          Object.keys(shot.parts).filter((part) => shot.parts[part]!.tray === id),
        ),
    },
    'line',
    ...OPTIONS.map(([option, label]) => ({
      label,
      checked: tray[option],
      run: () => session.edit((current) => changeTray(current, id, { [option]: !tray[option] })),
    })),
    'line',
    { label: 'Rename', later: true, run: rename },
    {
      label: 'Take the tray away, keep its parts',
      alarm: true,
      run: () => session.edit((current) => removeTray(current, id)),
    },
  ];
}

/** Chips for the trays: a click puts one away or brings it back, its menu does the rest. */
export function Trays() {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const chosen = useChoice((state) => state.chosen);
  const [naming, setNaming] = useState<{ id: string | null; name: string } | null>(null);
  const trays = traysOf(shot);
  const keep = (): void => {
    if (!naming) return;
    const name = naming.name.trim();
    setNaming(null);
    if (name === '') return;
    session.edit((current) =>
      naming.id === null
        ? addTray(current, name, session.choice.now.chosen).change
        : changeTray(current, naming.id, { name }),
    );
  };
  const input = (
    <input
      autoFocus
      aria-label="Name of the tray"
      placeholder="Its name"
      className="input-field h-5 w-24 px-1.5"
      value={naming?.name ?? ''}
      onChange={(event) => naming && setNaming({ ...naming, name: event.target.value })}
      onBlur={keep}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === 'Enter') keep();
        if (event.key === 'Escape') setNaming(null);
      }}
    />
  );
  const putAway = (id: string): void => {
    const { away, out, name } = shot.trays[id]!;
    if (!session.edit((current) => changeTray(current, id, { away: !away }))) return;
    // Put away is for the view: whether the film goes along is asked once for each tray.
    if (away || out || askedBefore(`tray ${id}`)) return;
    toast(`${name} is out of the view. It is still in the film.`, {
      duration: 15_000,
      action: {
        label: 'Leave it out of the film too',
        onClick: () => session.edit((current) => changeTray(current, id, { out: true })),
      },
    });
  };
  const count = (id: string): number => Object.values(shot.parts).filter((part) => part.tray === id).length;
  return (
    <div className="flex flex-none flex-wrap gap-1 px-2 pb-1.5" role="group" aria-label="Trays">
      {trays.map((id) => {
        const tray = shot.trays[id]!;
        if (naming?.id === id) return <span key={id}>{input}</span>;
        return (
          <MenuOn key={id} entries={() => trayMenu(session, id, () => setNaming({ id, name: tray.name }))}>
            <button
              type="button"
              aria-pressed={!tray.away}
              title={`${count(id)} parts${tray.away ? ', put away: not in the view' : ''}${tray.locked ? ', locked' : ''}${tray.out ? ', left out of the picture' : ''}. Click to ${tray.away ? 'bring back' : 'put away'}; right click for more.`}
              className={`flex h-5 max-w-[120px] items-center gap-1 rounded-full border px-2 text-xs font-semibold ${tray.away ? 'border-dashed border-line text-ink-3 line-through' : 'border-line bg-raised'}`}
              onClick={() => putAway(id)}
            >
              <span className="truncate">{tray.name}</span>
              {tray.locked && <Lock size={9} aria-hidden="true" />}
              {tray.out && <span className="text-now">no film</span>}
            </button>
          </MenuOn>
        );
      })}
      {naming?.id === null ? (
        input
      ) : (
        <button
          type="button"
          className="flex h-5 items-center gap-0.5 rounded-full border border-dashed border-line px-1.5 text-xs text-ink-2 hover:border-teal hover:text-teal"
          title={
            chosen.length > 0
              ? `A new tray with the ${chosen.length} chosen parts in it`
              : 'A new, empty tray: a set of parts that can be put away, locked or left out of the picture'
          }
          onClick={() => setNaming({ id: null, name: '' })}
        >
          <Plus size={10} aria-hidden="true" /> Tray
        </button>
      )}
    </div>
  );
}
