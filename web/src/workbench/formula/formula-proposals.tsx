import { Fragment } from 'react';
import type { Completion, Proposal } from '../../../../core/formula';
import { formatNumber } from '../../shared/format';

const KIND_WORDS: Record<Proposal['kind'], string> = {
  part: 'part',
  dial: 'dial',
  channel: 'value',
  function: 'function',
  word: 'word',
  plain: 'word',
  unit: 'unit',
  sound: 'sound',
};

interface Props {
  readonly proposals: readonly Proposal[];
  readonly picked: number;
  readonly call: Completion['call'];
  readonly onPick: (proposal: Proposal) => void;
}

/** Element id of a proposal, which the field names as the active one. */
export const proposalId = (index: number): string => `formula-proposal-${index}`;

/** What could be written at the caret, and what the arguments of the function around it mean. */
export function FormulaProposals({ proposals, picked, call, onPick }: Props) {
  return (
    <div className="overflow-hidden rounded-[7px] border border-line bg-raised text-ink shadow-lg">
      {call && (
        <p className="border-b border-line-soft px-3 py-1.5">
          <span className="num font-semibold">
            {call.spec.name}(
            {call.spec.params.map((param, i) => (
              <Fragment key={param}>
                {i > 0 && ', '}
                <span
                  className={
                    i === Math.min(call.argument, call.spec.params.length - 1)
                      ? 'text-link underline underline-offset-4'
                      : 'text-ink-2'
                  }
                >
                  {param}
                </span>
              </Fragment>
            ))}
            )
          </span>
          <span className="ml-2 text-ink-2">{call.spec.help}</span>
        </p>
      )}
      {proposals.length > 0 && (
        <ul
          id="formula-proposals"
          role="listbox"
          aria-label="Proposals"
          className="max-h-[264px] overflow-y-auto py-1"
        >
          {proposals.map((proposal, i) => (
            <li
              key={`${proposal.kind} ${proposal.label}`}
              id={proposalId(i)}
              role="option"
              aria-selected={i === picked}
              className={`flex h-6 cursor-pointer items-center gap-3 px-3 ${i === picked ? 'bg-teal-wash' : 'hover:bg-field'}`}
              onMouseDown={(event) => {
                event.preventDefault();
                onPick(proposal);
              }}
            >
              <span className="num min-w-[150px] font-semibold">{proposal.label}</span>
              <span className="w-[58px] flex-none text-ink-3">{KIND_WORDS[proposal.kind]}</span>
              <span className="w-[110px] flex-none text-ink-2">{proposal.dimension ?? ''}</span>
              <span className="num w-[80px] flex-none text-right text-ink-2">
                {proposal.value === undefined || Number.isNaN(proposal.value)
                  ? ''
                  : formatNumber(proposal.value, 2)}
              </span>
              <span className="min-w-0 flex-1 truncate text-ink-3">{proposal.help ?? ''}</span>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
