import { Crosshair, X } from 'lucide-react';
import { useEffect, useId, useMemo, useState } from 'react';
import { channelAt, channelsReachedFrom, type Shot } from '../../../../core/document';
import { channelName } from '../../../../core/edit';
import type { Role } from '../../../../core/recipe';
import { useSession, useChoice, useShot } from '../session';

const OFFERED = 1500;

/** Channel of a part that a role most likely means. */
export function likelyChannel(shot: Shot, id: string, kind: Role['kind']): string | null {
  if (kind === 'part') return id;
  const channels = channelsReachedFrom(shot, id).filter(
    ({ spec }) => spec.kind === 'number' && (kind === 'any' || spec.quantity === kind),
  );
  const linked = channels.find(({ owner, path }) => owner === id && path in shot.parts[id]!.links);
  const likely = channels.find(({ path }) => path === (kind === 'length' ? 'location.x' : 'rotation.z'));
  const found = linked ?? likely ?? channels[0];
  return found ? `${found.owner}/${found.path}` : null;
}

const fits = (shot: Shot, address: string, kind: Role['kind']): boolean => {
  const spec = channelAt(shot, address)?.spec;
  return spec?.kind === 'number' && (kind === 'any' || spec.quantity === kind);
};

/** What a role could be, by its name. */
function useOffered({ kind }: Role): ReadonlyMap<string, string> {
  const shot = useShot((state) => state.shot);
  return useMemo((): ReadonlyMap<string, string> => {
    const found = new Map<string, string>();
    for (const id of Object.keys(shot.parts)) {
      if (kind === 'part') found.set(shot.parts[id]!.name, id);
      else
        for (const { owner, path, spec } of channelsReachedFrom(shot, id))
          if (spec.kind === 'number' && (kind === 'any' || spec.quantity === kind)) {
            const address = `${owner}/${path}`;
            found.set(channelName(shot, address), address);
          }
      if (found.size > OFFERED) break;
    }
    if (kind !== 'part')
      for (const id of Object.keys(shot.dials))
        if (fits(shot, `${id}/value`, kind)) found.set(channelName(shot, `${id}/value`), `${id}/value`);
    return found;
  }, [shot, kind]);
}

/** What a recipe is made of: typed by name, or picked with a click on a row, a lane, the map or a part in the view. */
export function RoleField({
  role,
  value,
  picking,
  onPicking,
  onChange,
}: {
  role: Role;
  value: readonly string[];
  picking: boolean;
  onPicking(on: boolean): void;
  onChange(value: readonly string[]): void;
}) {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const channel = useChoice((state) => state.channel);
  const chosen = useChoice((state) => state.chosen);
  const [text, setText] = useState('');
  const [wrong, setWrong] = useState<string | null>(null);
  const list = useId();
  const offered = useOffered(role);
  const nameOf = (entry: string): string =>
    role.kind === 'part' ? (shot.parts[entry]?.name ?? 'gone') : channelName(shot, entry);

  const take = (...entries: readonly string[]): void => {
    setWrong(null);
    const fresh = entries.filter((entry) => !value.includes(entry));
    if (fresh.length === 0) return;
    onChange(role.many ? [...value, ...fresh] : fresh.slice(-1));
    if (!role.many) onPicking(false);
  };

  // While it picks, whatever is chosen next is taken: a value with a click on it, or a part with its likely one.
  useEffect(() => {
    if (!picking) return undefined;
    return session.choice.store.subscribe((state, before) => {
      if (state.channel !== before.channel && state.channel !== null) {
        if (role.kind === 'part') return;
        if (fits(session.shot, state.channel, role.kind)) take(state.channel);
        else setWrong(`${channelName(session.shot, state.channel)} is no ${role.kind}.`);
      } else if (state.chosen !== before.chosen && state.channel === null)
        take(...state.chosen.flatMap((id) => likelyChannel(session.shot, id, role.kind) ?? []));
    });
  });

  const keep = (): void => {
    const found = offered.get(text.trim());
    if (text.trim() === '') return;
    if (found === undefined) {
      setWrong(
        `There is no ${role.kind === 'part' ? 'part' : role.kind === 'any' ? 'value' : role.kind} called "${text.trim()}".`,
      );
      return;
    }
    setText('');
    take(found);
  };
  const fromChosen = (): void => {
    if (channel !== null && role.kind !== 'part' && fits(shot, channel, role.kind)) take(channel);
    else onChange(chosen.flatMap((id) => likelyChannel(shot, id, role.kind) ?? []).slice(role.many ? 0 : -1));
  };
  return (
    <div className="flex flex-col gap-0.5">
      <RoleHead
        role={role}
        picking={picking}
        onPicking={onPicking}
        onTake={chosen.length > 0 ? fromChosen : null}
      />
      <TakenEntries value={value} numbered={role.many === true} nameOf={nameOf} onChange={onChange} />
      {(role.many || value.length === 0) && (
        <input
          aria-label={role.label}
          aria-invalid={wrong !== null}
          list={list}
          className="input-field h-[21px] px-1.5 placeholder:text-ink-3"
          placeholder={picking ? 'click it...' : role.kind === 'part' ? 'name of a part' : 'name of a value'}
          value={text}
          onChange={(event) => {
            setText(event.target.value);
            setWrong(null);
            const found = offered.get(event.target.value);
            if (
              found !== undefined &&
              (event.nativeEvent as InputEvent).inputType === 'insertReplacementText'
            ) {
              setText('');
              take(found);
            }
          }}
          onBlur={keep}
          onKeyDown={(event) => {
            event.stopPropagation();
            if (event.key === 'Enter') keep();
          }}
        />
      )}
      <datalist id={list}>
        {[...offered.keys()].map((name) => (
          <option key={name} value={name} />
        ))}
      </datalist>
      {wrong !== null && (
        <p role="alert" className="text-now">
          {wrong}
        </p>
      )}
    </div>
  );
}

function RoleHead({
  role,
  picking,
  onPicking,
  onTake,
}: {
  role: Role;
  picking: boolean;
  onPicking(on: boolean): void;
  /** Takes what is chosen; `null` where nothing is. */
  onTake: (() => void) | null;
}) {
  return (
    <div className="flex items-center gap-1.5">
      <span className="font-semibold">
        {role.label}
        {role.optional && <span className="font-medium text-ink-3"> if wanted</span>}
      </span>
      <button
        type="button"
        className="ml-auto text-teal hover:underline disabled:text-ink-3"
        disabled={onTake === null}
        title="Take the chosen value, or the chosen parts in the order in which they were chosen"
        onClick={() => onTake?.()}
      >
        take chosen
      </button>
      <button
        type="button"
        aria-pressed={picking}
        aria-label={`Pick ${role.label.toLowerCase()}`}
        title="Pick with a click: a part in the view or the tree, a value's name, a lane, the map"
        className={`rounded p-0.5 ${picking ? 'bg-teal text-on-teal' : 'text-ink-2 hover:bg-line-soft'}`}
        onClick={() => onPicking(!picking)}
      >
        <Crosshair size={13} aria-hidden="true" />
      </button>
    </div>
  );
}

/** What has been taken for a role. */
function TakenEntries({
  value,
  numbered,
  nameOf,
  onChange,
}: {
  value: readonly string[];
  numbered: boolean;
  nameOf(entry: string): string;
  onChange(value: readonly string[]): void;
}) {
  return (
    <>
      {value.map((entry, i) => (
        <span key={entry} className="flex h-[21px] items-center gap-1 rounded bg-link-wash px-1.5 text-link">
          {numbered && <b className="num">{i + 1}</b>}
          <span className="truncate">{nameOf(entry)}</span>
          <button
            type="button"
            aria-label={`Take out ${nameOf(entry)}`}
            className="ml-auto"
            onClick={() => onChange(value.filter((other) => other !== entry))}
          >
            <X size={12} aria-hidden="true" />
          </button>
        </span>
      ))}
    </>
  );
}
