import { useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { channelAt, linkOf } from '../../../core/document';
import { channelName, setLink } from '../../../core/edit';
import { explainFailure, momentOf, sample } from '../../../core/evaluate';
import {
  checkTyped,
  completeFormula,
  interpret,
  NameTable,
  textOfLink,
  typedValue,
  type FormulaError,
  type Proposal,
} from '../../../core/formula';
import { movingAddresses } from '../../../core/check';
import { describeValue, editableValue } from '../shared/format';
import { useFormulaDraft } from './formula-draft';
import { FormulaProposals, proposalId } from './formula-proposals';
import { Ring, ringOf } from './ring';
import { useSession, useSessionState } from './session';

/** Proposals shown at once; more are a letter away. */
const PROPOSALS_SHOWN = 10;

/**
 * The chosen channel's formula or value, its result at this frame and a plot over the range. A formula is written here
 * after `=`: names complete as they are typed, a mistake is underlined with the reason and fixes below. Tab takes a
 * proposal, Enter keeps, Escape leaves.
 */
export function FormulaBar() {
  const session = useSession();
  const shot = useSessionState((state) => state.shot);
  const plan = useSessionState((state) => state.plan);
  const address = useSessionState((state) => state.channel);
  const frame = useSessionState((state) => state.frame);
  const loose = useSessionState((state) => state.loose);
  useSessionState((state) => state.tick);
  const draft = useFormulaDraft();
  const input = useRef<HTMLInputElement>(null);
  // The channel that is being edited, which stays while other parts are chosen to pick references.
  const [edited, setEdited] = useState<{ address: string; text: string } | null>(null);
  // Where the caret was when something was typed last; null while no proposals are wanted.
  const [caret, setCaret] = useState<number | null>(null);
  const [picked, setPicked] = useState(-1);
  // Where the caret belongs once the text that was put in is there: before the next key is typed.
  const pendingCaret = useRef<number | null>(null);
  useLayoutEffect(() => {
    if (pendingCaret.current === null) return;
    input.current?.setSelectionRange(pendingCaret.current, pendingCaret.current);
    pendingCaret.current = null;
  });
  const shown = edited?.address ?? address;
  const channel = shown === null ? null : channelAt(shot, shown);
  const names = useMemo(() => new NameTable(shot), [shot]);
  const moving = useMemo(() => movingAddresses(plan), [plan]);

  const link = shown === null ? null : linkOf(shot, shown);
  const resting = link ? `= ${textOfLink(names, link)}` : '';

  const setDraftText = (text: string): void => {
    if (shown === null) return;
    setEdited({ address: shown, text });
    draft.setEditing(text.trimStart().startsWith('='));
  };
  const leave = (): void => {
    setEdited(null);
    setCaret(null);
    draft.setEditing(false);
  };

  useEffect(() => {
    if (draft.focus.count === 0) return;
    input.current?.focus();
    if (draft.focus.blank && !link) setDraftText('= ');
    // Only a new request counts, not the text that is there.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [draft.focus.count]);

  useEffect(() => {
    const field = input.current;
    if (draft.inserted.count === 0 || !field || edited === null) return;
    const [from, to] = [field.selectionStart ?? edited.text.length, field.selectionEnd ?? edited.text.length];
    const text = edited.text.slice(0, from) + draft.inserted.text + edited.text.slice(to);
    setDraftText(text);
    const caret = from + draft.inserted.text.length;
    pendingCaret.current = caret;
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [draft.inserted.count]);

  const plot = useMemo(() => {
    if (shown === null || !channel || channel.spec.kind === 'colour') return '';
    const { first, last } = plan.shot.setup;
    const step = Math.max(1, Math.ceil((last - first) / 96));
    const { values } = sample(plan, [shown], first, last, step);
    const low = Math.min(...values);
    const span = Math.max(...values) - low || 1;
    return Array.from(
      values,
      (value, i) =>
        `${((i / Math.max(1, values.length - 1)) * 64).toFixed(1)},${(16 - ((value - low) / span) * 14).toFixed(1)}`,
    ).join(' ');
  }, [plan, shown, channel]);

  if (shown === null || !channel)
    return (
      <div className="mx-1.5 flex h-[30px] flex-1 items-center rounded-[7px] border border-night-line bg-night px-3 text-[#a9b0b8]">
        Choose a value of a part to see or write its formula
      </div>
    );

  const { spec } = channel;
  const value = session.valueNow(shown, spec);
  const text =
    edited?.text ??
    (resting ||
      (typeof value === 'number'
        ? editableValue(spec, value, shot.setup.unit)
        : describeValue(spec, value, shot.setup.unit)));
  const offset = text.length - text.trimStart().length + (text.trimStart().startsWith('=') ? 1 : 0);
  const isFormula = text.trimStart().startsWith('=');
  const body = text.slice(offset);
  // Spaces after = belong to the bar, not to the formula.
  const lead = offset + (body.length - body.trimStart().length);

  let problem: FormulaError | null = null;
  let result = describeValue(spec, value, shot.setup.unit);
  if (edited && isFormula) {
    const checked = checkTyped(names, shown, text.slice(lead));
    if (!checked.ok) problem = checked.error;
    else
      result = describeValue(
        spec,
        interpret(checked.expression, momentOf(session.evaluator, shown)),
        shot.setup.unit,
      );
  } else if (!edited && link)
    problem = plan.linkOf.get(shown)?.error ?? explainFailure(session.evaluator, shown);
  else if (edited && typeof value === 'number') {
    const typed = typedValue(shot, shown, text, value);
    if (!typed.ok && text.trim() !== '') problem = typed.error;
  }
  const still = !problem && link && !edited && !moving.has(shown);
  const canLink = spec.animatable && spec.kind !== 'colour';

  const completion =
    edited && isFormula && caret !== null && caret >= lead
      ? completeFormula(names, shown, text.slice(lead), caret - lead, (of) => session.evaluator.number(of))
      : null;
  const proposals = proposalsOf(completion, text.slice(lead));
  const call = completion?.call ?? null;

  const take = (proposal: Proposal): void => {
    if (!completion) return;
    const next = text.slice(0, lead + completion.from) + proposal.insert + text.slice(lead + completion.to);
    const at = lead + completion.from + proposal.insert.length;
    setDraftText(next);
    setCaret(at);
    setPicked(-1);
    pendingCaret.current = at;
  };

  const keep = (): void => {
    if (!edited) return;
    if (isFormula) {
      const formula = text.slice(lead).trim();
      session.edit((current) => setLink(current, edited.address, formula === '' ? null : formula));
    } else if (text.trim() === '' && link) session.edit((current) => setLink(current, edited.address, null));
    else if (link) {
      // Typing a number over a formula replaces the link by that number.
      const typed = typedValue(shot, edited.address, text, value as number);
      if (!typed.ok) return;
      session.edit((current) => setLink(current, edited.address, null));
      session.setChannels([[edited.address, typed.value]]);
    } else if (typeof value === 'number') {
      const typed = typedValue(shot, edited.address, text, value);
      if (!typed.ok) return;
      session.setChannels([[edited.address, typed.value]]);
    }
    leave();
    input.current?.blur();
  };

  const mend = (from: number, to: number, insert: string): void => {
    const next = text.slice(0, lead + from) + insert + text.slice(lead + to);
    setDraftText(next);
    input.current?.focus();
  };

  return (
    <div className="relative mx-1.5 min-w-0 flex-1">
      <div
        className={`flex h-[30px] items-center overflow-hidden rounded-[7px] border bg-night ${problem ? 'border-now' : 'border-night-line'}`}
      >
        <div className="flex h-full max-w-[38%] flex-none items-center gap-1.5 bg-[#354252] px-2.5 font-semibold text-white">
          <span className="rounded bg-paper/90 p-px">
            <Ring
              state={ringOf(shot, shown, frame, loose)}
              error={problem !== null && link !== null}
              size={13}
            />
          </span>
          <span className="truncate" title={channelName(shot, shown)}>
            {channelName(shot, shown)}
          </span>
        </div>
        <div className="relative h-full min-w-0 flex-1">
          {problem && (
            <div
              aria-hidden="true"
              className="num pointer-events-none absolute inset-0 flex items-center overflow-hidden whitespace-pre px-2.5 text-transparent"
            >
              {text.slice(0, lead + problem.from)}
              <span className="underline decoration-[#ff9c8d] decoration-wavy decoration-2 underline-offset-4">
                {text.slice(lead + problem.from, lead + problem.to) || ' '}
              </span>
            </div>
          )}
          <input
            ref={input}
            aria-label="Formula"
            aria-invalid={problem !== null}
            className={`num h-full w-full bg-transparent px-2.5 outline-none ${isFormula ? 'text-[#e6d6ff]' : 'text-paper'}`}
            value={text}
            spellCheck={false}
            autoComplete="off"
            disabled={!canLink}
            onFocus={() => setDraftText(text)}
            onBlur={() => edited?.text.trim() === resting.trim() && leave()}
            role="combobox"
            aria-autocomplete="list"
            aria-expanded={proposals.length > 0}
            aria-controls="formula-proposals"
            aria-activedescendant={picked >= 0 ? proposalId(picked) : undefined}
            onChange={(event) => {
              setDraftText(event.target.value);
              setCaret(event.target.selectionStart);
              setPicked(-1);
            }}
            onKeyDown={(event) => {
              event.stopPropagation();
              const open = proposals.length > 0;
              if (open && (event.key === 'ArrowDown' || event.key === 'ArrowUp')) {
                event.preventDefault();
                const by = event.key === 'ArrowDown' ? 1 : -1;
                setPicked((picked + by + proposals.length) % proposals.length);
              } else if (open && (event.key === 'Tab' || (event.key === 'Enter' && picked >= 0))) {
                event.preventDefault();
                take(proposals[Math.max(0, picked)]!);
              } else if (event.key === 'Enter') keep();
              else if (event.key === 'Escape' && open) setCaret(null);
              else if (event.key === 'Escape') {
                leave();
                input.current?.blur();
              } else if (event.key === 'ArrowLeft' || event.key === 'ArrowRight') setCaret(null);
            }}
          />
        </div>
        <div
          className="num flex h-full flex-none items-center gap-2 border-l border-night-line px-2.5 text-[#cfe9c6]"
          data-testid="formula-result"
        >
          {problem ? <span className="text-[#ff9c8d]">{link && !edited ? 'own' : 'no value'}</span> : result}
          <svg width="64" height="18" aria-hidden="true">
            <polyline points={plot} fill="none" stroke="#8fd1d3" strokeWidth="1.5" />
          </svg>
        </div>
      </div>
      <div className="absolute left-0 right-0 top-full z-40 mt-1 flex flex-col gap-1">
        {(problem || still) && (edited || link) && (
          <div
            role={problem ? 'alert' : 'status'}
            className="flex flex-wrap items-center gap-2 rounded-[7px] border border-line bg-raised px-3 py-2 text-ink shadow-lg"
          >
            <span className={problem ? 'text-now' : 'text-ink-2'}>
              {problem ? problem.message : 'Nothing that this link reads ever changes.'}
            </span>
            {problem?.fixes.map((fix) => (
              <button
                key={fix.label + fix.insert}
                type="button"
                className="btn num h-[22px]"
                onMouseDown={(event) => event.preventDefault()}
                onClick={() => mend(fix.from, fix.to, fix.insert)}
              >
                {fix.label}
              </button>
            ))}
            {edited && <span className="ml-auto text-ink-3">Enter keeps, Esc leaves</span>}
          </div>
        )}
        {(proposals.length > 0 || call) && (
          <FormulaProposals proposals={proposals} picked={picked} call={call} onPick={take} />
        )}
      </div>
    </div>
  );
}

/** What is worth proposing: something has been begun, and it is not already written out. */
function proposalsOf(
  completion: ReturnType<typeof completeFormula> | null,
  body: string,
): readonly Proposal[] {
  if (!completion) return [];
  const { from, to, proposals, call } = completion;
  const typed = body.slice(from, to);
  const begun = to > from || body[from - 1] === '.' || call?.spec.rules[call.argument] === 'word';
  if (!begun) return [];
  if (proposals.length === 1 && proposals[0]!.insert === typed) return [];
  return proposals.slice(0, PROPOSALS_SHOWN);
}
