import type { Shot } from '../../../../core/document';
import { channelName } from '../../../../core/edit';
import type { OverKeys, OwnChange } from '../../../../core/recipe';

/** One of several, each with its words on a line of its own. */
function Choice<Value>(props: {
  name: string;
  value: Value | null;
  choices: readonly (readonly [value: Value, words: string])[];
  onChoose(value: Value): void;
}) {
  return props.choices.map(([value, words]) => (
    <label key={words} className="flex items-center gap-1.5">
      <input
        type="radio"
        name={props.name}
        className="accent-teal"
        checked={props.value === value}
        onChange={() => props.onChoose(value)}
      />
      {words}
    </label>
  ));
}

/** Names what was changed by hand of parts that a recipe built, and asks what becomes of it. */
export function OwnChanges({
  own,
  keeps,
  onKeep,
}: {
  own: readonly OwnChange[];
  keeps: boolean;
  onKeep(keeps: boolean): void;
}) {
  const [stay, free] = [own.filter(({ stays }) => stays), own.filter(({ stays }) => !stays)];
  const list = (entries: readonly OwnChange[]): string => entries.map(({ what }) => what).join('; ');
  return (
    <fieldset className="rounded border border-line bg-raised px-2 py-1.5" data-testid="own-changes">
      <legend className="px-1 font-semibold">Changed by hand since it was built</legend>
      {free.length > 0 && (
        <>
          <p className="mb-1">{list(free)}</p>
          <Choice
            name="own-changes"
            value={keeps}
            choices={[
              [true, 'Keep these as they are'],
              [false, 'Give them the new numbers'],
            ]}
            onChoose={onKeep}
          />
        </>
      )}
      {stay.length > 0 && <p className="text-ink-2">Stays in any case: {list(stay)}</p>}
    </fieldset>
  );
}

/** Asks what becomes of keys where a recipe writes its links. */
export function OverKeysChoice({
  shot,
  keyed,
  value,
  onChange,
}: {
  shot: Shot;
  keyed: readonly string[];
  value: OverKeys | null;
  onChange(value: OverKeys): void;
}) {
  const names = keyed.map((address) => channelName(shot, address));
  return (
    <fieldset className="rounded border border-line bg-raised px-2 py-1.5">
      <legend className="px-1 font-semibold">
        {names.length === 1 ? `${names[0]} has keys` : `${names.length} of these have keys`}
      </legend>
      <Choice
        name="over-keys"
        value={value}
        choices={[
          ['replace', 'Replace the keys by the formula'],
          ['add', 'Add the formula to the keys'],
        ]}
        onChoose={onChange}
      />
      <p className="text-ink-2">Or leave the recipe: nothing is changed.</p>
    </fieldset>
  );
}
