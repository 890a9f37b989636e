import type { ReactNode } from 'react';

/** A choice that is no value over time: its name, a list, and what stands beside it. */
export function OptionRow<Choice extends string>(props: {
  label: string;
  title?: string;
  value: Choice | '';
  /** Words of each choice; under the empty one nothing is chosen. */
  choices: readonly (readonly [choice: Choice | '', words: string])[];
  onChoose(choice: Choice | ''): void;
  children?: ReactNode;
}) {
  return (
    <label className="flex items-center gap-1.5" title={props.title}>
      <span className="w-[82px] flex-none truncate text-ink-2">{props.label}</span>
      <select
        className="input-field h-[22px] min-w-0 flex-1 px-1"
        value={props.value}
        onChange={(event) => props.onChoose(event.target.value as Choice | '')}
      >
        {props.choices.map(([choice, words]) => (
          <option key={choice} value={choice}>
            {words}
          </option>
        ))}
      </select>
      {props.children}
    </label>
  );
}

/** Choices with their words, in the order of a table. */
export const wordsOf = <Choice extends string>(
  choices: readonly Choice[],
  words: Readonly<Record<Choice, string>>,
): (readonly [Choice, string])[] => choices.map((choice) => [choice, words[choice]] as const);
