import { History } from 'lucide-react';
import { useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { channelAt, linkOf } from '../../../../core/document';
import { channelName, setLink } from '../../../../core/edit';
import { explainFailure, momentOf } from '../../../../core/evaluate';
import {
  checkTyped,
  completeFormula,
  dimensionName,
  eachNode,
  interpret,
  NameTable,
  referencesIn,
  textOfLink,
  typedValue,
  type Expression,
  type FormulaError,
  type Proposal,
} from '../../../../core/formula';
import { movingAddresses } from '../../../../core/check';
import { describeValue, editableValue } from '../../shared/format';
import { MenuButton } from '../../ui/menu';
import { useFormulaDraft } from './formula-draft';
import { FormulaField, type FormulaFieldHandle, type FormulaHover, type FormulaMark } from './formula-field';
import { formulasBefore } from './formula-history';
import { FormulaProposals, proposalId } from './formula-proposals';
import { Ring, ringOf } from '../fields/ring';
import { setChannels, valueNow } from '../actions/values';
import { useSession, useChoice, useCurved, useKeying, useShot, useTime } from '../session';

/** Proposals shown at once; more are a letter away. */
const PROPOSALS_SHOWN = 10;
const PLOT_POINTS = 64;

/**
 * The chosen channel's formula or value, its result at this frame and a plot over the range. A formula is written here
 * after `=`: names complete as they are typed, a mistake is underlined with the reason and fixes below. Tab takes a
 * proposal, Enter keeps, Escape leaves.
 */
export function FormulaBar() {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const plan = useShot((state) => state.plan);
  const address = useChoice((state) => state.channel);
  const frame = useTime((state) => state.frame);
  const loose = useKeying((state) => state.loose);
  useShot((state) => state.tick);
  const draft = useFormulaDraft();
  const input = useRef<FormulaFieldHandle>(null);
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
  const moving = useMemo(() => movingAddresses(plan, true), [plan]);

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
    const [from, to] = [field.selectionStart, field.selectionEnd];
    const text = edited.text.slice(0, from) + draft.inserted.text + edited.text.slice(to);
    setDraftText(text);
    const caret = from + draft.inserted.text.length;
    pendingCaret.current = caret;
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [draft.inserted.count]);

  useCurved();
  const curve = shown === null ? null : session.curves.of(shown);
  const { first, last } = plan.shot.setup;
  const plot =
    curve?.kind === 'share'
      ? Array.from({ length: PLOT_POINTS + 1 }, (_, i) => {
          const share = curve.at(first + ((last - first) * i) / PLOT_POINTS);
          return `${((i / PLOT_POINTS) * 64).toFixed(1)},${(16 - share * 14).toFixed(1)}`;
        }).join(' ')
      : '';

  if (shown === null || !channel)
    return (
      <div className="mx-1.5 flex h-[30px] flex-1 items-center rounded-[7px] border border-night-line bg-night px-3 text-night-ink-3">
        Choose a value of a part to see or write its formula
      </div>
    );

  const { spec } = channel;
  const value = valueNow(session, shown, spec);
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
  const earlier = formulasBefore(session.doc.now.undo, shown, names);
  const still = !problem && link && !edited && !moving.has(shown);
  const canLink = spec.animatable && spec.kind !== 'colour';

  const checked = isFormula ? checkTyped(names, shown, text.slice(lead)) : null;
  const hover = (at: number): FormulaHover | null => {
    if (!checked?.ok) return null;
    const values = new Map<Expression, number>();
    interpret(checked.expression, momentOf(session.evaluator, shown), (node, result) =>
      values.set(node, result),
    );
    let found: Expression | null = null;
    eachNode(checked.expression, (node) => {
      if (at - lead >= node.from && at - lead < node.to) found = node;
    });
    const node = found as Expression | null;
    if (node === null || !values.has(node)) return null;
    const shownValue = Math.round(values.get(node)! * 1e4) / 1e4;
    return {
      from: lead + node.from,
      to: lead + node.to,
      text: `${text.slice(lead + node.from, lead + node.to)} = ${shownValue}, ${dimensionName(node.dimension)}`,
    };
  };
  const marks: FormulaMark[] = [
    ...(isFormula
      ? referencesIn(text.slice(lead)).map(({ from, to }): FormulaMark => ({
          from: lead + from,
          to: lead + to,
          kind: 'reference',
        }))
      : []),
    ...(problem ? [{ from: lead + problem.from, to: lead + problem.to, kind: 'fault' as const }] : []),
  ];

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
      setChannels(session, [[edited.address, typed.value]]);
    } else if (typeof value === 'number') {
      const typed = typedValue(shot, edited.address, text, value);
      if (!typed.ok) return;
      setChannels(session, [[edited.address, typed.value]]);
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
        <div className="flex h-full max-w-[38%] flex-none items-center gap-1.5 bg-night-field px-2.5 font-semibold text-halo">
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
          <FormulaField
            ref={input}
            text={text}
            marks={marks}
            disabled={!canLink}
            invalid={problem !== null}
            formula={isFormula}
            proposing={proposals.length > 0}
            picked={picked >= 0 ? proposalId(picked) : undefined}
            onFocus={() => setDraftText(text)}
            onBlur={() => edited?.text.trim() === resting.trim() && leave()}
            onChange={(next, at) => {
              setDraftText(next);
              setCaret(at);
              setPicked(-1);
            }}
            hover={hover}
            onKeyDown={(event) => {
              event.stopPropagation();
              const open = proposals.length > 0;
              const done = (work: () => void): void => {
                event.preventDefault();
                work();
              };
              if (open && (event.key === 'ArrowDown' || event.key === 'ArrowUp')) {
                const by = event.key === 'ArrowDown' ? 1 : -1;
                done(() => setPicked((picked + by + proposals.length) % proposals.length));
              } else if (open && (event.key === 'Tab' || (event.key === 'Enter' && picked >= 0)))
                done(() => take(proposals[Math.max(0, picked)]!));
              else if (event.key === 'Enter') done(keep);
              else if (event.key === 'Escape' && open) done(() => setCaret(null));
              else if (event.key === 'Escape')
                done(() => {
                  leave();
                  input.current?.blur();
                });
              else if (event.key === 'ArrowLeft' || event.key === 'ArrowRight') setCaret(null);
            }}
          />
        </div>
        {earlier.length > 0 && (
          <MenuButton
            label="What it was before"
            title="What this value was linked by before"
            className="flex h-full flex-none items-center px-1.5 text-night-ink-3 hover:text-halo"
            wide
            entries={() =>
              earlier.map((formula) => ({
                label: <span className="truncate">= {formula}</span>,
                className: 'num',
                run: () => {
                  setDraftText(`= ${formula}`);
                  setTimeout(() => input.current?.focus());
                },
              }))
            }
          >
            <History size={13} aria-hidden="true" />
          </MenuButton>
        )}
        <div
          className="num flex h-full flex-none items-center gap-2 border-l border-night-line px-2.5 text-night-value"
          data-testid="formula-result"
        >
          {problem ? (
            <span className="text-night-fault">{link && !edited ? 'own' : 'no value'}</span>
          ) : (
            result
          )}
          <svg width="64" height="18" aria-hidden="true">
            <polyline points={plot} fill="none" stroke="var(--color-night-name)" strokeWidth="1.5" />
          </svg>
        </div>
      </div>
      <div className="absolute left-0 right-0 top-full z-40 mt-1 flex flex-col gap-1">
        {(problem || still) && (edited || link) && (
          <div
            ref={giveRoom}
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

/** Lets the view's buttons move out from under a message as long as it is there. */
function giveRoom(message: HTMLElement | null): (() => void) | undefined {
  if (!message) return undefined;
  const root = document.documentElement;
  const watcher = new ResizeObserver(() =>
    root.style.setProperty('--bar-message', `${message.offsetHeight + 4}px`),
  );
  watcher.observe(message);
  return () => {
    watcher.disconnect();
    root.style.removeProperty('--bar-message');
  };
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
