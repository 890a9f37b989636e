import { MoreHorizontal, Plus } from 'lucide-react';
import { useState } from 'react';
import { channelAt, linkOf, type Dial } from '../../../../core/document';
import {
  addDial,
  changeDial,
  dialReaders,
  removeDial,
  setLink,
  type DialOptions,
} from '../../../../core/edit';
import { describeValue } from '../../shared/format';
import { MenuButton } from '../../ui/menu';
import { formulaDraft, useFormulaEditing } from '../formula/formula-draft';
import { Ring, RING_WORDS, ringOf } from '../fields/ring';
import { keyNow, unkeyNow } from '../actions/keying';
import { preview, setChannels, valueNow } from '../actions/values';
import { useSession, useChoice, useKeying, useShot, useTime } from '../session';
import { NumberField } from '../fields/number-field';

const QUANTITIES: readonly (readonly [Dial['quantity'], string])[] = [
  ['none', 'a number'],
  ['angle', 'an angle, degrees'],
  ['length', 'a length, metres'],
  ['time', 'a time, seconds'],
];

/** The dials of the shot: named values with a slider, that formulas read as dial.name. */
export function DialsColumn() {
  const shot = useShot((state) => state.shot);
  const [form, setForm] = useState<string | null>(null);
  const ids = Object.keys(shot.dials);
  return (
    <section className="flex w-[272px] flex-none flex-col border-r border-line" aria-label="Dials">
      <h3 className="flex h-8 flex-none items-center border-b border-line-soft px-2.5 font-bold">
        Dials <span className="ml-1.5 font-medium text-ink-3">{ids.length}</span>
        <button
          type="button"
          className="ml-auto flex items-center gap-0.5 rounded px-1 font-bold text-teal hover:bg-teal-wash"
          onClick={() => setForm('new')}
        >
          <Plus size={13} aria-hidden="true" /> Dial
        </button>
      </h3>
      <div className="min-h-0 flex-1 overflow-y-auto py-1">
        {form === 'new' && <DialForm onClose={() => setForm(null)} />}
        {ids.length === 0 && form === null && (
          <p className="p-3 leading-relaxed text-ink-2">
            A dial is a named value of the shot, like a speed or a brightness. Any formula reads it, as
            dial.speed: one dial then drives many.
          </p>
        )}
        {ids.map((id) =>
          form === id ? (
            <DialForm key={id} id={id} onClose={() => setForm(null)} />
          ) : (
            <DialRow id={id} key={id} onEdit={() => setForm(id)} />
          ),
        )}
      </div>
    </section>
  );
}

function DialRow({ id, onEdit }: { id: string; onEdit(): void }) {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const frame = useTime((state) => state.frame);
  const loose = useKeying((state) => state.loose);
  const current = useChoice((state) => state.channel === `${id}/value`);
  useShot((state) => state.tick);
  const editing = useFormulaEditing();
  const address = `${id}/value`;
  const dial = shot.dials[id]!;
  const { spec } = channelAt(shot, address)!;
  const value = valueNow(session, address, spec) as number;
  const linked = linkOf(shot, address) !== null;
  const state = ringOf(shot, address, frame, loose);
  const readers = dialReaders(shot, id);
  return (
    <div
      className={`grid grid-cols-[16px_1fr_76px_18px] items-center gap-x-1.5 px-2.5 py-1 ${current ? 'bg-teal-wash' : ''}`}
      data-testid={`dial-${dial.name}`}
    >
      <button
        type="button"
        aria-label={`${dial.name}: ${RING_WORDS[state]}`}
        title={`${RING_WORDS[state]}; click to key or remove the key here`}
        onClick={() =>
          state === 'key'
            ? unkeyNow(session, [address])
            : linked
              ? session.choice.showChannel(address)
              : keyNow(session, [address])
        }
      >
        <Ring state={state} />
      </button>
      <button
        type="button"
        className="truncate text-left font-semibold"
        title={
          editing
            ? `Put dial.${dial.name} into the formula`
            : `dial.${dial.name}, read by ${readers.length === 0 ? 'nothing yet' : readers.join(', ')}`
        }
        onMouseDown={(event) => {
          if (!editing) return;
          event.preventDefault();
          formulaDraft.insert(`dial.${dial.name}`);
        }}
        onClick={() => !editing && session.choice.showChannel(address)}
      >
        {dial.name}{' '}
        <span className="font-medium text-ink-3">{readers.length > 0 && `× ${readers.length}`}</span>
      </button>
      <NumberField
        shot={shot}
        addresses={[address]}
        spec={spec}
        values={[value]}
        label={`Dial ${dial.name}`}
        linked={linked}
        state={state}
        onUnlink={(values) => {
          if (session.edit((now) => setLink(now, address, null)))
            setChannels(session, [[address, values[0]!]]);
        }}
        loose={state === 'loose'}
        active={current}
        onPreview={(values) => preview(session, values ? { [address]: values[0]! } : null)}
        onValues={(values) => setChannels(session, [[address, values[0]!]])}
        onFormula={(text) => session.edit((now) => setLink(now, address, text))}
        onFocus={() => session.choice.showChannel(address)}
        wanted={false}
        onArrived={() => undefined}
      />
      <MenuButton
        label={`Menu of the dial ${dial.name}`}
        className="rounded text-ink-2 hover:bg-line-soft"
        entries={() => [
          { label: 'Name, unit and limits', run: onEdit },
          {
            label: `Remove${readers.length > 0 ? `; ${readers.length} ${readers.length === 1 ? 'link reads' : 'links read'} it` : ''}`,
            alarm: true,
            run: () => void session.edit((now) => removeDial(now, id)),
          },
        ]}
      >
        <MoreHorizontal size={14} aria-hidden="true" />
      </MenuButton>
      <input
        type="range"
        aria-label={`Slider of the dial ${dial.name}`}
        title={`${describeValue(spec, dial.min, shot.setup.unit)} to ${describeValue(spec, dial.max, shot.setup.unit)}`}
        className="col-span-3 col-start-2 h-3 w-full accent-key"
        min={dial.min}
        max={dial.max}
        step={(dial.max - dial.min) / 400}
        value={value}
        disabled={linked}
        onChange={(event) => preview(session, { [address]: Number(event.target.value) })}
        onPointerUp={(event) => setChannels(session, [[address, Number(event.currentTarget.value)]])}
        onKeyDown={(event) => event.stopPropagation()}
        onKeyUp={(event) => setChannels(session, [[address, Number(event.currentTarget.value)]])}
      />
    </div>
  );
}

/** Asks for the name, the unit and the limits of a dial. */
function DialForm({ id, onClose }: { id?: string; onClose(): void }) {
  const session = useSession();
  const dial = useShot((state) => (id === undefined ? undefined : state.shot.dials[id]));
  const [name, setName] = useState(dial?.name ?? '');
  const [quantity, setQuantity] = useState<Dial['quantity']>(dial?.quantity ?? 'none');
  const [min, setMin] = useState(String(dial?.min ?? 0));
  const [max, setMax] = useState(String(dial?.max ?? 1));
  const keep = (): void => {
    const options: DialOptions = { name, quantity, min: Number(min), max: Number(max) };
    const bad = [min, max].find((text) => text.trim() === '' || !Number.isFinite(Number(text)));
    const checked = bad === undefined ? options : { ...options, min: NaN };
    if (
      session.edit((now) => (id === undefined ? addDial(now, checked).change : changeDial(now, id, checked)))
    )
      onClose();
  };
  const limit = (label: string, text: string, set: (text: string) => void) => (
    <label className="flex items-center gap-1">
      {label}
      <input
        aria-label={label === 'from' ? 'Lower limit' : 'Upper limit'}
        className="input-field num h-[22px] w-16 px-1 text-right"
        value={text}
        onChange={(event) => set(event.target.value)}
      />
    </label>
  );
  return (
    <form
      className="m-1.5 flex flex-col gap-1.5 rounded-md border border-line bg-raised p-2"
      aria-label={id === undefined ? 'New dial' : 'Change the dial'}
      onSubmit={(event) => {
        event.preventDefault();
        keep();
      }}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === 'Escape') onClose();
      }}
    >
      <input
        autoFocus
        aria-label="Name of the dial"
        placeholder="Name, one word"
        className="input-field h-[22px] px-1.5 placeholder:text-ink-3"
        value={name}
        onChange={(event) => setName(event.target.value)}
      />
      <select
        aria-label="What it is"
        className="input-field h-[22px] px-1"
        value={quantity}
        onChange={(event) => setQuantity(event.target.value as Dial['quantity'])}
      >
        {QUANTITIES.map(([key, words]) => (
          <option key={key} value={key}>
            {words}
          </option>
        ))}
      </select>
      <div className="flex items-center gap-2">
        {limit('from', min, setMin)}
        {limit('to', max, setMax)}
      </div>
      <div className="flex justify-end gap-1.5">
        <button type="button" className="btn h-[22px]" onClick={onClose}>
          Leave
        </button>
        <button type="submit" className="btn btn-strong h-[22px]">
          Keep
        </button>
      </div>
    </form>
  );
}
