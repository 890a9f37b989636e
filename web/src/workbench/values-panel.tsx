import { ContextMenu, Popover } from 'radix-ui';
import { useState, type ReactNode } from 'react';
import {
  channelsReachedFrom,
  linkOf,
  trackOf,
  usersOf,
  type Channel,
  type ChannelGroup,
  type Value,
} from '../../../core/document';
import { channelLabel, resetValue, setLink } from '../../../core/edit';
import { writtenName } from '../../../core/formula';
import { colourFromHex, hexOfColour } from '../../../core/math';
import { useFormulaDraft } from './formula-draft';
import { NumberField } from './number-field';
import { Ring, RING_WORDS, ringOf, strongest } from './ring';
import { useSession, useSessionState } from './session';

type Filter = 'all' | 'moving' | 'linked';

interface Row {
  readonly label: string;
  readonly group: ChannelGroup;
  readonly channels: readonly Channel[];
}

function rowsOf(channels: readonly Channel[]): Row[] {
  const rows: { label: string; group: ChannelGroup; channels: Channel[] }[] = [];
  for (const channel of channels) {
    const last = rows.at(-1);
    if (
      channel.spec.axis &&
      last &&
      last.label === channel.spec.label &&
      last.channels[0]?.owner === channel.owner
    )
      last.channels.push(channel);
    else rows.push({ label: channel.spec.label, group: channel.spec.group, channels: [channel] });
  }
  return rows;
}

const KIND_WORDS = {
  solid: 'solid',
  hub: 'hub',
  repeat: 'repeat',
  camera: 'camera',
  sun: 'sun light',
  sky: 'sky light',
  point: 'point light',
} as const;

/** Everything that the chosen part has, in groups. */
export function ValuesPanel() {
  const session = useSession();
  const shot = useSessionState((state) => state.shot);
  const id = useSessionState((state) => state.chosen.at(-1) ?? null);
  const count = useSessionState((state) => state.chosen.length);
  const [filter, setFilter] = useState<Filter>('all');
  useSessionState((state) => state.tick);
  const part = id === null ? null : shot.parts[id];
  if (!part || id === null)
    return (
      <section className="panel flex flex-col" aria-label="Values">
        <h2 className="flex h-8 flex-none items-center border-b border-line-soft px-2.5 font-bold">Values</h2>
        <p className="p-4 leading-relaxed text-ink-2">
          Choose a part, in the tree or with a click in the view, and everything it has is listed here.
        </p>
      </section>
    );
  const channels = channelsReachedFrom(shot, id);
  const address = (channel: Channel): string => `${channel.owner}/${channel.path}`;
  const moving = channels.filter(
    (channel) => trackOf(shot, address(channel)) && !linkOf(shot, address(channel)),
  );
  const linked = channels.filter((channel) => linkOf(shot, address(channel)));
  const wanted = filter === 'all' ? channels : filter === 'moving' ? moving : linked;
  const rows = rowsOf(channels).filter((row) => row.channels.some((channel) => wanted.includes(channel)));
  const groups = [...new Set(rows.map((row) => row.group))];
  const shape = part.shape ? shot.shapes[part.shape] : null;
  const note = (group: ChannelGroup): string => {
    if (group === 'Place') return part.parent ? `in ${shot.parts[part.parent]?.name ?? ''}` : '';
    const shared = group === 'Shape' ? part.shape : group === 'Look' ? part.look : null;
    const users = shared ? usersOf(shot, shared).length : 0;
    return users > 1 ? `shared by ${users}` : '';
  };
  return (
    <section className="panel flex flex-col" aria-label="Values">
      <h2 className="flex h-8 flex-none items-center gap-2 border-b border-line-soft px-2.5 font-bold">
        <span className="truncate">{part.name}</span>
        <span className="truncate font-medium text-ink-3">
          {shape?.kind ?? KIND_WORDS[part.kind]}
          {count > 1 && `, last of ${count} chosen`}
        </span>
      </h2>
      <div className="flex flex-none gap-1 px-2.5 pt-1.5" role="group" aria-label="Filter">
        {(
          [
            ['all', 'All'],
            ['moving', `Moving ${moving.length}`],
            ['linked', `Linked ${linked.length}`],
          ] as const
        ).map(([key, words]) => (
          <button
            key={key}
            type="button"
            aria-pressed={filter === key}
            onClick={() => setFilter(key)}
            className={`h-5 rounded-full border px-2 text-xs font-semibold ${filter === key ? 'border-ink bg-ink text-white' : 'border-line bg-raised'}`}
          >
            {words}
          </button>
        ))}
      </div>
      <div className="min-h-0 flex-1 overflow-y-auto pb-3">
        {rows.length === 0 && (
          <p className="p-4 text-ink-2">
            {filter === 'moving' ? 'Nothing of this part is keyed.' : 'Nothing of this part is linked.'}
          </p>
        )}
        {groups.map((group, i) => (
          <div key={group} className={i > 0 ? 'mt-1 border-t border-line-soft' : ''}>
            <h3 className="flex h-6 items-center px-2.5 text-xs font-bold">
              {group}
              <span className="ml-auto font-medium text-ink-3">{note(group)}</span>
            </h3>
            {rows
              .filter((row) => row.group === group)
              .map((row) => (
                <ValueRow
                  key={row.channels.map(address).join()}
                  row={row}
                  partName={part.name}
                  session={session}
                />
              ))}
          </div>
        ))}
      </div>
    </section>
  );
}

function ValueRow({
  row,
  partName,
  session,
}: {
  row: Row;
  partName: string;
  session: ReturnType<typeof useSession>;
}) {
  const { shot, frame, loose, channel: active, plan } = session.state;
  const draft = useFormulaDraft();
  const addresses = row.channels.map((channel) => `${channel.owner}/${channel.path}`);
  const states = addresses.map((address) => ringOf(shot, address, frame, loose));
  const state = strongest(states);
  const failed = addresses.some(
    (address) => plan.linkOf.get(address)?.error || session.evaluator.hasFailed(address),
  );
  const first = row.channels[0]!;
  const name = `${partName} ${row.label.toLowerCase()}`;
  const { animatable, kind } = first.spec;
  const values = row.channels.map((channel, i) => session.valueNow(addresses[i]!, channel.spec));
  const set = (address: string, value: Value): void => void session.setChannels([[address, value]]);
  const pick = (channel: Channel): string => `${writtenName(partName)}.${channel.path}`;

  const toggle = (): void => {
    if (state === 'link' || state === 'link-over-keys') {
      session.store.setState({
        channel: addresses.find((address) => linkOf(shot, address)) ?? addresses[0]!,
      });
      draft.focusBar();
    } else if (state === 'key') session.unkeyNow(addresses);
    else session.keyNow(addresses);
  };

  let control: ReactNode;
  if (kind === 'colour')
    control = (
      <ColourControl
        name={name}
        value={values[0] as readonly [number, number, number]}
        onValue={(value) => set(addresses[0]!, value)}
      />
    );
  else if (kind === 'switch')
    control = (
      <label className="col-span-3 flex items-center gap-2">
        <input
          type="checkbox"
          className="accent-teal"
          checked={values[0] === 1}
          aria-label={name}
          onChange={(event) => set(addresses[0]!, event.target.checked ? 1 : 0)}
        />
        <span className="text-ink-2">{values[0] === 1 ? 'shown' : 'hidden'}</span>
      </label>
    );
  else
    control = (
      <>
        {row.channels.map((channel, i) => (
          <NumberField
            key={addresses[i]}
            shot={shot}
            address={addresses[i]!}
            spec={channel.spec}
            value={values[i] as number}
            label={`${partName} ${channelLabel(channel.spec)}`}
            linked={linkOf(shot, addresses[i]!) !== null}
            loose={addresses[i]! in loose}
            active={active === addresses[i]}
            onPreview={(value) => session.preview(value === null ? null : { [addresses[i]!]: value })}
            onValue={(value) => set(addresses[i]!, value)}
            onFormula={(text) => session.edit((current) => setLink(current, addresses[i]!, text))}
            onFocus={() => session.store.setState({ channel: addresses[i]! })}
          />
        ))}
        {row.channels.length === 1 && (
          <RowHelp
            channel={first}
            value={values[0] as number}
            loose={state === 'loose'}
            onValue={(value) => set(addresses[0]!, value)}
            onPreview={(value) => session.preview({ [addresses[0]!]: value })}
            linked={state.startsWith('link')}
          />
        )}
      </>
    );

  return (
    <ContextMenu.Root>
      <ContextMenu.Trigger asChild>
        <div
          className="grid h-[27px] grid-cols-[16px_66px_1fr_1fr_1fr] items-center gap-1 px-2.5"
          data-row={row.label}
        >
          <button
            type="button"
            disabled={!animatable}
            onClick={toggle}
            aria-label={`${name}: ${RING_WORDS[state]}`}
            title={
              animatable
                ? `${RING_WORDS[state]}${failed ? ', link out of force' : ''}`
                : 'describes how the part lies or is built: cannot be keyed'
            }
            className="flex items-center"
          >
            <Ring state={state} error={failed} />
          </button>
          <button
            type="button"
            title={draft.editing ? `Put ${pick(first)} into the formula` : first.spec.help}
            className="truncate text-left"
            onMouseDown={(event) => {
              if (!draft.editing) return;
              event.preventDefault();
              draft.insert(pick(first));
            }}
            onClick={() => !draft.editing && session.store.setState({ channel: addresses[0]! })}
          >
            {row.label}
          </button>
          {control}
        </div>
      </ContextMenu.Trigger>
      <ContextMenu.Portal>
        <ContextMenu.Content className="menu-surface">
          <ContextMenu.Item
            className="menu-item"
            disabled={!animatable || state.startsWith('link')}
            onSelect={() => session.keyNow(addresses)}
          >
            Key at this frame
          </ContextMenu.Item>
          <ContextMenu.Item
            className="menu-item"
            disabled={!states.includes('key')}
            onSelect={() => session.unkeyNow(addresses)}
          >
            Remove the key here
          </ContextMenu.Item>
          <ContextMenu.Item
            className="menu-item"
            disabled={state !== 'loose'}
            onSelect={() => session.dropLoose(addresses)}
          >
            Drop the unkeyed change
          </ContextMenu.Item>
          <ContextMenu.Separator className="my-1 h-px bg-line-soft" />
          {row.channels.map((channel, i) => (
            <ContextMenu.Item
              key={addresses[i]}
              className="menu-item"
              disabled={!animatable || kind === 'colour'}
              onSelect={() => {
                session.store.setState({ channel: addresses[i]! });
                draft.focusBar(true);
              }}
            >
              {linkOf(shot, addresses[i]!) ? 'Edit the link' : 'Link'} {channelLabel(channel.spec)}
            </ContextMenu.Item>
          ))}
          <ContextMenu.Item
            className="menu-item"
            disabled={!state.startsWith('link')}
            onSelect={() =>
              addresses
                .filter((address) => linkOf(session.state.shot, address))
                .forEach((address) => session.edit((current) => setLink(current, address, null)))
            }
          >
            Unlink
          </ContextMenu.Item>
          <ContextMenu.Item
            className="menu-item"
            disabled={state !== 'still'}
            onSelect={() =>
              addresses.forEach((address) => session.edit((current) => resetValue(current, address)))
            }
          >
            Reset
          </ContextMenu.Item>
        </ContextMenu.Content>
      </ContextMenu.Portal>
    </ContextMenu.Root>
  );
}

function RowHelp(props: {
  channel: Channel;
  value: number;
  loose: boolean;
  linked: boolean;
  onValue(value: number): void;
  onPreview(value: number): void;
}) {
  const { channel, value, loose, linked } = props;
  const { spec } = channel;
  if (loose) return <span className="col-span-2 truncate font-semibold text-now">changed, not keyed</span>;
  if (spec.max - spec.min <= 1 && spec.kind === 'number')
    return (
      <input
        type="range"
        aria-label={`${spec.label} slider`}
        className="col-span-2 h-1.5 w-full min-w-0 accent-key"
        min={spec.min}
        max={spec.max}
        step={0.005}
        value={value}
        disabled={linked}
        onChange={(event) => props.onPreview(Number(event.target.value))}
        onPointerUp={(event) => props.onValue(Number(event.currentTarget.value))}
        onKeyUp={(event) => props.onValue(Number(event.currentTarget.value))}
      />
    );
  return <span className="col-span-2 truncate pl-1 text-ink-3">{spec.unit ?? ''}</span>;
}

function ColourControl({
  name,
  value,
  onValue,
}: {
  name: string;
  value: readonly [number, number, number];
  onValue(value: [number, number, number]): void;
}) {
  const hex = hexOfColour(value);
  const [text, setText] = useState<string | null>(null);
  const take = (entry: string): void => {
    const colour = colourFromHex(entry);
    if (colour && hexOfColour(colour) !== hex) onValue(colour);
    setText(null);
  };
  return (
    <>
      <Popover.Root>
        <Popover.Trigger
          aria-label={`${name}: ${hex}`}
          className="h-[22px] rounded-[5px] border border-ink/30"
          style={{ background: hex }}
        />
        <Popover.Portal>
          <Popover.Content className="menu-surface p-2" sideOffset={4}>
            <input
              type="color"
              aria-label={`${name} picker`}
              defaultValue={hex}
              onBlur={(event) => take(event.target.value)}
              onInput={(event) => setText(event.currentTarget.value)}
              className="h-10 w-40"
            />
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
      <input
        aria-label={`${name} as hex`}
        className="input-field num col-span-2 h-[22px]"
        value={text ?? hex}
        aria-invalid={text !== null && colourFromHex(text) === null}
        onChange={(event) => setText(event.target.value)}
        onBlur={(event) => take(event.target.value)}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === 'Enter') take(event.currentTarget.value);
          if (event.key === 'Escape') setText(null);
        }}
      />
    </>
  );
}
