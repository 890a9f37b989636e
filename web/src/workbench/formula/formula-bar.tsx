import { History } from 'lucide-react';
import { useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react';
import { channelAt, linkOf } from '../../../../core/document';
import { channelName } from '../../../../core/edit';
import { completeFormula, NameTable, type Proposal } from '../../../../core/formula';
import { movingAddresses } from '../../../../core/check';
import { MenuButton } from '../../ui/menu';
import { BarMessage } from './bar-message';
import { hoverAt, keepTyped, marksOf, readBar, restingText } from './bar-reading';
import { useFormulaDraft } from './formula-draft';
import { FormulaField, type FormulaFieldHandle } from './formula-field';
import { formulasBefore } from './formula-history';
import { FormulaProposals, proposalId } from './formula-proposals';
import { Ring, ringOf } from '../fields/ring';
import { valueNow } from '../actions/values';
import { useSession, useCalmly, useChoice, useCurved, useKeying, useShot } from '../session';

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
  const frame = useCalmly();
  const loose = useKeying((state) => state.loose);
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

  const value = valueNow(session, shown, channel.spec);
  const typed = edited?.text ?? null;
  const reading = readBar({ shot, plan, evaluator: session.evaluator, names, address: shown, value, typed })!;
  const { spec, text, lead, isFormula, problem, result } = reading;
  const earlier = formulasBefore(session.doc.now.undo, shown, names);
  const still = !problem && link && !edited && !moving.has(shown);
  const canLink = spec.animatable;

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
    if (!edited || !keepTyped(session, edited.address, reading, value)) return;
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
            marks={marksOf(reading)}
            disabled={!canLink}
            invalid={problem !== null}
            formula={isFormula}
            proposing={proposals.length > 0}
            picked={picked >= 0 ? proposalId(picked) : undefined}
            onFocus={() => setDraftText(text)}
            onBlur={() => edited?.text.trim() === restingText(shot, names, shown).trim() && leave()}
            onChange={(next, at) => {
              setDraftText(next);
              setCaret(at);
              setPicked(-1);
            }}
            hover={(at) => hoverAt(reading, session.evaluator, shown, at)}
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
        {(problem || still) && (edited || reading.linked) && (
          <BarMessage problem={problem} typing={edited !== null} onMend={mend} />
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
