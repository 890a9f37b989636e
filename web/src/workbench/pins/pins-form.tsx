import { FlipHorizontal2, Trash2 } from 'lucide-react';
import { useMemo, useState } from 'react';
import { PIN_KINDS, channelsOf, childrenOf, type PinKind, type Shot } from '../../../../core/document';
import {
  addPin,
  pinsAsFormulas,
  pinsOf,
  removePin,
  roleOf,
  setPinnedRole,
  turnPairOver,
  type PinnedRole,
} from '../../../../core/edit';
import { explainFailure } from '../../../../core/evaluate';
import { PINNED_PATHS } from '../../../../core/formula';
import { Chip, Chips } from '../../ui/chips';
import { snapshot } from '../actions/values';
import { useChoice, useSession, useShot } from '../session';
import { ValueRow } from '../values/value-row';
import type { Row } from '../values/rows';
import { mobilityWords, KIND_WORDS, ROLE_WORDS, stateOfPinned } from './pin-words';

/** Stands for what the part hangs from in the list of what it can be joined to. */
const GROUND = 'ground';
const ROLES: readonly PinnedRole[] = ['stands', 'drives', 'follows'];

/** Fields of a pin, with what the point of each end is called. */
function rowsOfPin(shot: Shot, id: string): Row[] {
  const pin = shot.pins[id]!;
  const name = (part: string | null): string =>
    part === null ? 'the ground' : (shot.parts[part]?.name ?? part);
  const rows: { label: string; group: 'Pin'; cells: Row['cells'][number][] }[] = [];
  for (const spec of channelsOf(shot, id)) {
    const cell = { spec, addresses: [`${id}/${spec.path}`] };
    const end = spec.path.startsWith('at.') ? name(pin.a) : spec.path.startsWith('on.') ? name(pin.b) : null;
    const label = end === null ? spec.label : `On ${end}`;
    if (spec.axis === 'y') rows.at(-1)!.cells.push(cell);
    else rows.push({ label, group: 'Pin', cells: [cell] });
  }
  return rows;
}

/** The pins of a part: what it has to do with its linkage, how it is found, and the points that are joined. */
export function PinsForm({ id }: { id: string }) {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const pins = useMemo(() => pinsOf(shot, id), [shot, id]);
  const rows = useMemo(() => new Map(pins.map((pin) => [pin, rowsOfPin(shot, pin)])), [shot, pins]);
  const part = shot.parts[id];
  if (!part) return null;
  const role = roleOf(shot, id);
  const lost = PINNED_PATHS.map((path) => `${id}/${path}`).find((address) =>
    session.evaluator.hasFailed(address),
  );
  const failure = lost === undefined ? null : explainFailure(session.evaluator, lost);
  const found = stateOfPinned(shot, id);
  const state = failure ? { words: failure.message, fine: false } : found;
  const count = mobilityWords(shot, id);
  return (
    <div className="mt-1 border-t border-line-soft" data-testid="pins-form">
      <h3 className="flex h-6 items-center px-2.5 text-xs font-bold">Pins</h3>
      <div className="grid gap-1 px-2.5">
        {pins.length > 0 && (
          <>
            <RoleChips id={id} role={role} />
            {state.words && (
              <p
                className={`rounded px-1.5 py-1 leading-snug ${state.fine ? 'text-ink-2' : 'bg-brass-wash text-ink'}`}
                data-testid="pinned-state"
              >
                {state.words}
              </p>
            )}
            {count && (
              <p
                className="px-1.5 text-ink-3"
                title="Ways to move after Gruebler and Kutzbach: three for each moving part, less what its joints take"
              >
                {count}
              </p>
            )}
          </>
        )}
      </div>
      {pins.map((pin) => (
        <OnePin key={pin} id={pin} part={id} rows={rows.get(pin)!} />
      ))}
      <JoinIt id={id} />
      {role !== 'stands' && (
        <button
          type="button"
          className="mx-2.5 mt-1 font-semibold text-teal hover:underline"
          title="Each bar gets formulas that find it from those before it: nothing is hidden, and they can be changed"
          onClick={() => session.edit((now) => pinsAsFormulas(now, snapshot(session), id))}
        >
          Write the linkage as formulas
        </button>
      )}
    </div>
  );
}

/** What it has to do with its linkage. */
function RoleChips({ id, role }: { id: string; role: PinnedRole }) {
  const session = useSession();
  return (
    <div className="flex flex-wrap items-center gap-1.5">
      <Chips label="In its linkage it">
        {ROLES.map((one) => (
          <Chip
            key={one}
            on={role === one}
            title={ROLE_WORDS[one][1]}
            onClick={() =>
              one !== role && session.edit((now) => setPinnedRole(now, snapshot(session), id, one))
            }
          >
            {ROLE_WORDS[one][0]}
          </Chip>
        ))}
      </Chips>
      {role === 'follows' && (
        <button
          type="button"
          className="flex h-[26px] items-center gap-1 rounded-[7px] border border-line bg-raised px-2 text-[11.5px] font-semibold hover:bg-field"
          title="Its joint on the other side: bars fit together in two ways"
          onClick={() => session.edit((now) => turnPairOver(now, snapshot(session), id))}
        >
          <FlipHorizontal2 size={13} aria-hidden="true" /> Other side
        </button>
      )}
    </div>
  );
}

/** A new pin, where the turning point of the part lies now. */
function JoinIt({ id }: { id: string }) {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const [to, setTo] = useState<string | null>(null);
  const [kind, setKind] = useState<PinKind>('pin');
  const part = shot.parts[id]!;
  const siblings = useMemo(
    () => childrenOf(shot, part.parent).filter((other) => other !== id),
    [shot, part, id],
  );
  const join = (): void => {
    if (to === null) return;
    const holder = to === GROUND ? null : to;
    session.edit((now) => {
      const evaluator = snapshot(session);
      const pivot = (['x', 'y'] as const).map((axis) => evaluator.number(`${id}/pivot.${axis}`)) as [
        number,
        number,
      ];
      const here = (['x', 'y'] as const).map(
        (axis, i) => evaluator.number(`${id}/location.${axis}`) + pivot[i]!,
      ) as [number, number];
      return addPin(now, evaluator, {
        kind,
        a: id,
        at: pivot,
        b: holder,
        on: pointOn(evaluator, holder, here),
      }).change;
    });
    setTo(null);
  };
  return (
    <div className="mt-1 grid grid-cols-[minmax(0,1fr)] gap-1 px-2.5">
      <label className="flex items-center gap-1.5">
        <span className="w-[82px] flex-none truncate text-ink-2">Join it to</span>
        <select
          className="input-field h-[22px] min-w-0 flex-1 px-1"
          value={to ?? ''}
          title="What its turning point is joined to, where it lies now; the points can be changed after that. Or click both points in the view (Y)"
          onChange={(event) => setTo(event.target.value || null)}
        >
          <option value="">choose, or pick in the view (Y)</option>
          <option value={GROUND}>
            the ground{part.parent === null ? '' : `: ${shot.parts[part.parent]!.name}`}
          </option>
          {siblings.map((other) => (
            <option key={other} value={other}>
              {shot.parts[other]!.name}
            </option>
          ))}
        </select>
      </label>
      {to !== null && (
        <div className="flex items-center gap-1.5">
          <Chips label="Join by">
            {PIN_KINDS.map((one) => (
              <Chip key={one} on={kind === one} title={KIND_WORDS[one][1]} onClick={() => setKind(one)}>
                {KIND_WORDS[one][0]}
              </Chip>
            ))}
          </Chips>
          <button
            type="button"
            className="ml-auto h-[26px] rounded-[7px] bg-teal px-2.5 font-semibold text-on-teal hover:bg-teal-strong"
            onClick={join}
          >
            Join
          </button>
        </div>
      )}
    </div>
  );
}

/** Where a point of what both hang from lies on a part. */
function pointOn(
  evaluator: ReturnType<typeof snapshot>,
  part: string | null,
  [x, y]: readonly [number, number],
): [number, number] {
  if (part === null) return [x, y];
  const number = (path: string): number => evaluator.number(`${part}/${path}`);
  const turn = ((number('rotation.z') + number('rest.z')) * Math.PI) / 180;
  const [dx, dy] = [
    x - number('location.x') - number('pivot.x'),
    y - number('location.y') - number('pivot.y'),
  ];
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  return [
    number('pivot.x') + (c * dx + s * dy) / (number('scale.x') || 1),
    number('pivot.y') + (c * dy - s * dx) / (number('scale.y') || 1),
  ];
}

function OnePin({ id, part, rows }: { id: string; part: string; rows: readonly Row[] }) {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  useShot((state) => state.tick);
  useChoice((state) => state.channel);
  const pin = shot.pins[id];
  if (!pin) return null;
  const other = pin.a === part ? pin.b : pin.a;
  const name = other === null ? 'the ground' : (shot.parts[other]?.name ?? other);
  return (
    <div
      className="mt-1 border-l-2 border-teal/40 pl-0.5"
      role="group"
      aria-label={`${KIND_WORDS[pin.kind][0]} with ${name}`}
    >
      <div className="flex h-6 items-center gap-1 px-2 font-semibold">
        {KIND_WORDS[pin.kind][0]} with {name}
        <button
          type="button"
          className="ml-auto rounded p-0.5 text-ink-2 hover:bg-line-soft"
          aria-label={`Take away the ${pin.kind} with ${name}`}
          title="Take this away"
          onClick={() => session.edit((now) => removePin(now, snapshot(session), id))}
        >
          <Trash2 size={13} aria-hidden="true" />
        </button>
      </div>
      {rows.map((row) => (
        <ValueRow
          key={row.label}
          row={row}
          partName={`${KIND_WORDS[pin.kind][0]} with ${name}`}
          inFormulas={false}
        />
      ))}
    </div>
  );
}
