import { useMemo } from 'react';
import { channelAt } from '../../../../core/document';
import { completeFormula, NameTable, type Proposal } from '../../../../core/formula';
import { movingAddresses } from '../../../../core/check';
import { valueNow } from '../actions/values';
import { useCalmly, useChoice, useSession, useShot } from '../session';
import { barKey } from './bar-keys';
import { BarMessage } from './bar-message';
import { BarChannel, BarResult, EarlierFormulas } from './bar-parts';
import { hoverAt, keepTyped, marksOf, readBar, restingText } from './bar-reading';
import { FormulaField } from './formula-field';
import { formulasBefore } from './formula-history';
import { FormulaProposals, proposalId } from './formula-proposals';
import { useBarDraft } from './use-bar-draft';

/** Proposals shown at once; more are a letter away. */
const PROPOSALS_SHOWN = 10;

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
  // The result is that of the frame that is shown.
  useCalmly();
  const bar = useBarDraft(address);
  const { input, shown, link, edited, caret, picked, leave } = bar;
  const channel = shown === null ? null : channelAt(shot, shown);
  const names = useMemo(() => new NameTable(shot), [shot]);
  const moving = useMemo(() => movingAddresses(plan, true), [plan]);

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
    bar.typed(next, at);
    bar.caretTo(at);
  };

  const keep = (): void => {
    if (!edited || !keepTyped(session, edited.address, reading, value)) return;
    leave();
    input.current?.blur();
  };

  const mend = (from: number, to: number, insert: string): void => {
    const next = text.slice(0, lead + from) + insert + text.slice(lead + to);
    bar.write(next);
    input.current?.focus();
  };

  return (
    <div className="relative mx-1.5 min-w-0 flex-1">
      <div
        className={`flex h-[30px] items-center overflow-hidden rounded-[7px] border bg-night ${problem ? 'border-now' : 'border-night-line'}`}
      >
        <BarChannel address={shown} wrong={problem !== null && link !== null} />
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
            onFocus={() => bar.write(text)}
            onBlur={() => edited?.text.trim() === restingText(shot, names, shown).trim() && leave()}
            onChange={bar.typed}
            hover={(at) => hoverAt(reading, session.evaluator, shown, at)}
            onKeyDown={(event) => {
              event.stopPropagation();
              const work = barKey(event.key, proposals.length, picked, {
                pick: bar.pick,
                take: (at) => take(proposals[at]!),
                keep,
                close: bar.close,
                leave: () => {
                  leave();
                  input.current?.blur();
                },
              });
              if (work) {
                event.preventDefault();
                work();
              } else if (event.key === 'ArrowLeft' || event.key === 'ArrowRight') bar.close();
            }}
          />
        </div>
        <EarlierFormulas
          formulas={formulasBefore(session.doc.now.undo, shown, names)}
          onPick={(formula) => {
            bar.write(`= ${formula}`);
            setTimeout(() => input.current?.focus());
          }}
        />
        <BarResult address={shown} fault={problem && (link && !edited ? 'own' : 'no value')}>
          {result}
        </BarResult>
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
