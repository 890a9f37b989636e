import { X } from 'lucide-react';
import { useState, type ReactNode } from 'react';
import {
  addressOf,
  channelAt,
  ownerName,
  splitAddress,
  tableOf,
  usersOf,
  type Shot,
} from '../../../../core/document';
import { channelName } from '../../../../core/edit';
import {
  applyFound,
  changeTrouble,
  UNKNOWNS,
  type Answer,
  type Found,
  type Question,
} from '../../../../core/find';
import { writtenName } from '../../../../core/formula';
import { DialogLeave, DialogTitle } from '../../ui/dialog-frame';
import { useChoice, useSession, useShot } from '../session';
import { ValuePick } from '../values/value-pick';
import { goalOf, questionOf, rowFor, unitFor, unitOfMeasure, type FindForm, type Row } from './find-form';
import { useFind } from './find-run';

/** Five digits, a true minus. */
const digits = (value: number): string => String(Number(value.toPrecision(6))).replace('-', '−');

const FIELD = 'input-field h-[24px] px-1.5';

/** Asks for the values by which a number becomes what is wanted. */
export default function FindSheet() {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const plan = useShot((state) => state.plan);
  const chosen = useChoice((state) => state.chosen);
  const channel = useChoice((state) => state.channel);
  const [form, setForm] = useState<FindForm>(() => ({
    formula: channel === null ? '' : formulaFor(session.shot, channel),
    when: 'frame',
    frame: String(Math.round(session.time.now.frame)),
    from: String(session.shot.setup.first),
    to: String(session.shot.setup.last),
    want: 'is',
    target: '0',
    rows: [],
  }));
  const set = (change: Partial<FindForm>): void => setForm((now) => ({ ...now, ...change }));
  const search = useFind();
  const question = questionOf(shot, form);
  const goal = form.formula.trim() === '' ? null : goalOf(shot, form.formula);
  const unit = goal && goal.trouble === null ? unitOfMeasure(shot, goal).unit : '';
  const searching = search.share !== null;
  return (
    <form
      className="flex min-h-0 flex-1 flex-col gap-3"
      onSubmit={(event) => {
        event.preventDefault();
        if (typeof question !== 'string' && !searching) search.start(plan, question);
      }}
    >
      <div className="flex items-center">
        <DialogTitle>Find a value</DialogTitle>
        <DialogLeave className="ml-auto">Close</DialogLeave>
      </div>
      <Line label="The number">
        <input
          aria-label="The number, as a formula"
          aria-invalid={goal !== null && goal.trouble !== null}
          autoFocus
          spellCheck={false}
          className={`${FIELD} num min-w-0 flex-1`}
          placeholder="Hammer.rotation.z, distance(A, B), speed(Boat.location.x) ..."
          value={form.formula}
          onChange={(event) => set({ formula: event.target.value })}
        />
      </Line>
      <MeasureLines form={form} unit={unit} onChange={set} />
      <Line label="By changing">
        <ul className="flex flex-col gap-1.5" aria-label="What may be changed">
          {form.rows.map((row) => (
            <RowFields
              key={row.address}
              row={row}
              onChange={(next) =>
                set({ rows: form.rows.map((other) => (other.address === row.address ? next : other)) })
              }
              onRemove={() => set({ rows: form.rows.filter((other) => other.address !== row.address) })}
            />
          ))}
          {form.rows.length < UNKNOWNS && (
            <li className="flex items-center gap-1.5">
              <AddRow
                part={chosen.at(-1) ?? null}
                taken={form.rows.map(({ address }) => address)}
                onAdd={(address) => set({ rows: [...form.rows, rowFor(shot, address)] })}
              />
            </li>
          )}
        </ul>
      </Line>
      <div className="flex items-center gap-3">
        <span role="alert" className="min-w-0 flex-1 text-now">
          {search.failed ??
            (typeof question === 'string' && (form.formula !== '' || form.rows.length > 0) ? question : '')}
        </span>
        {searching && (
          <>
            <span role="status" className="num text-ink-2">
              {Math.round(search.share * 100)} %
            </span>
            <button type="button" className="btn" onClick={search.cancel}>
              Cancel
            </button>
          </>
        )}
        <button type="submit" className="btn btn-strong" disabled={typeof question === 'string' || searching}>
          Find
        </button>
      </div>
      {search.found && search.of && <Answers found={search.found} of={search.of} />}
    </form>
  );
}

/** At which frames the number is taken, and what it is to be. */
function MeasureLines({
  form,
  unit,
  onChange,
}: {
  form: FindForm;
  unit: string;
  onChange(change: Partial<FindForm>): void;
}) {
  const number = (label: string, value: string, onText: (text: string) => void, wide = 'w-20') => (
    <input
      aria-label={label}
      className={`${FIELD} num ${wide} text-right`}
      value={value}
      onChange={(event) => onText(event.target.value)}
    />
  );
  return (
    <>
      <Line label="Taken">
        <select
          aria-label="When"
          className={FIELD}
          value={form.when}
          onChange={(event) => onChange({ when: event.target.value as FindForm['when'] })}
        >
          <option value="frame">at frame</option>
          <option value="most">its most over frames</option>
          <option value="least">its least over frames</option>
        </select>
        {form.when === 'frame' ? (
          number('Frame', form.frame, (frame) => onChange({ frame }))
        ) : (
          <>
            {number('First frame', form.from, (from) => onChange({ from }))} to{' '}
            {number('Last frame', form.to, (to) => onChange({ to }))}
          </>
        )}
      </Line>
      <Line label="Is to be">
        <select
          aria-label="Is to be"
          className={FIELD}
          value={form.want}
          onChange={(event) => onChange({ want: event.target.value as FindForm['want'] })}
        >
          <option value="is">this</option>
          <option value="least">as small as it can</option>
          <option value="most">as large as it can</option>
        </select>
        {form.want === 'is' && (
          <>
            {number('Wanted', form.target, (target) => onChange({ target }), 'w-28')}
            <span className="text-ink-2">{unit}</span>
          </>
        )}
      </Line>
    </>
  );
}

function Line({ label, children }: { label: string; children: ReactNode }) {
  return (
    <div className="flex items-start gap-2">
      <span className="w-20 flex-none pt-1 font-semibold">{label}</span>
      <span className="flex min-w-0 flex-1 flex-wrap items-center gap-2">{children}</span>
    </div>
  );
}

/** How a channel is written in a formula: by its dial, its part, or a part that has its shape or look. */
function formulaFor(shot: Shot, address: string): string {
  const { owner, path } = splitAddress(address);
  if (tableOf(owner) === 'dials') return `dial.${ownerName(shot, owner)}`;
  const part = tableOf(owner) === 'parts' ? owner : usersOf(shot, owner)[0];
  return part === undefined ? '' : `${writtenName(ownerName(shot, part))}.${path}`;
}

function RowFields(props: { row: Row; onChange(row: Row): void; onRemove(): void }) {
  const { row, onChange, onRemove } = props;
  const shot = useShot((state) => state.shot);
  const channel = channelAt(shot, row.address);
  const name = channel ? channelName(shot, row.address) : 'gone';
  const limit = (label: string, end: 'least' | 'most') => (
    <input
      aria-label={`${name}, ${label}`}
      className="input-field num h-[22px] w-20 px-1 text-right"
      value={row[end]}
      onChange={(event) => onChange({ ...row, [end]: event.target.value })}
    />
  );
  return (
    <li className="flex items-center gap-1.5">
      <b className="w-52 truncate" title={name}>
        {name}
      </b>
      from {limit('least', 'least')} to {limit('most', 'most')}
      <span className="w-6 text-ink-2">{channel && unitFor(shot, channel.spec.quantity).unit}</span>
      {channel?.spec.whole && <span className="text-ink-3">whole</span>}
      <button
        type="button"
        aria-label={`Leave out ${name}`}
        className="rounded p-0.5 text-ink-3 hover:bg-line-soft hover:text-now"
        onClick={onRemove}
      >
        <X size={13} aria-hidden="true" />
      </button>
    </li>
  );
}

function AddRow(props: { part: string | null; taken: readonly string[]; onAdd(address: string): void }) {
  const { part, taken, onAdd } = props;
  const shot = useShot((state) => state.shot);
  const free = (address: string): boolean =>
    !taken.includes(address) && changeTrouble(shot, address) === null;
  const dials = Object.entries(shot.dials).filter(([id]) => free(`${id}/value`));
  return (
    <>
      <ValuePick part={part} fits={(channel) => free(addressOf(channel))} onPick={onAdd} />
      {dials.length > 0 && (
        <select
          aria-label="A dial"
          className="input-field h-[22px] w-28 px-1"
          value=""
          onChange={(event) => onAdd(`${event.target.value}/value`)}
        >
          <option value="">or a dial...</option>
          {dials.map(([id, dial]) => (
            <option key={id} value={id}>
              {dial.name}
            </option>
          ))}
        </select>
      )}
    </>
  );
}

/** What was found, beside what is now. */
function Answers({ found, of }: { found: Found; of: Question }) {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const goal = unitOfMeasure(shot, found);
  const [taken, setTaken] = useState<Answer | null>(null);
  const shown = (address: string, value: number): string => {
    const { unit, house } = unitFor(shot, channelAt(shot, address)?.spec.quantity ?? 'none');
    return `${digits(value / house)} ${unit}`;
  };
  const take = (answer: Answer): void => {
    if (session.edit((now) => applyFound(now, of.unknowns, answer.at))) setTaken(answer);
  };
  return (
    <section className="min-h-0 overflow-y-auto border-t border-line-soft pt-2" aria-label="What was found">
      <p className="mb-1 text-ink-2">
        Now it is{' '}
        <b className="num text-ink">
          {Number.isFinite(found.now) ? digits(found.now / goal.house) : 'no number'}
        </b>{' '}
        {goal.unit}. {found.tries} tries. {found.note}
      </p>
      {found.answers.length > 0 && (
        <table className="w-full">
          <thead>
            <tr className="text-left text-xs text-ink-3">
              {of.unknowns.map(({ address }) => (
                <th key={address} className="pr-3 font-medium">
                  {channelAt(shot, address) ? channelName(shot, address) : 'gone'}
                </th>
              ))}
              <th className="font-medium">makes it</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {found.answers.map((answer) => (
              <tr key={answer.at.join(' ')} className="border-t border-line-soft">
                {of.unknowns.map(({ address }, i) => (
                  <td key={address} className="num py-1 pr-3">
                    {shown(address, answer.at[i]!)}
                  </td>
                ))}
                <td className="num">
                  {digits(answer.value / goal.house)} {goal.unit}
                  {of.wanted.kind === 'is' && !answer.exact && (
                    <span className="ml-1.5 font-sans text-now">the nearest that there is</span>
                  )}
                </td>
                <td className="text-right">
                  <button
                    type="button"
                    className="btn h-[22px]"
                    disabled={taken === answer}
                    title="Gives the values that, in one step that can be undone"
                    onClick={() => take(answer)}
                  >
                    {taken === answer ? 'Taken' : 'Take'}
                  </button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}
