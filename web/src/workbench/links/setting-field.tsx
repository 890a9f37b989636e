import { useState } from 'react';
import type { LENGTH_UNITS } from '../../../../core/document';
import type { Setting, SettingValue } from '../../../../core/recipe';

type Unit = (typeof LENGTH_UNITS)[number];
const PER_METRE: Record<Unit, number> = { m: 1, cm: 100, mm: 1000, px: 100 };

const tidy = (value: number): string => String(Number(value.toPrecision(9)));

/** One number, word or switch of a recipe. Lengths are typed in the unit of the shot. */
export function SettingField({
  setting,
  value,
  unit,
  onChange,
}: {
  setting: Setting;
  value: SettingValue;
  unit: Unit;
  onChange(value: SettingValue): void;
}) {
  const per = setting.kind === 'length' ? PER_METRE[unit] : 1;
  const asText = (now: SettingValue): string =>
    Array.isArray(now)
      ? now.map((entry) => tidy(entry as number)).join(setting.name === 'order' ? '-' : ', ')
      : tidy((now as number) * per);
  const [text, setText] = useState<string | null>(null);
  const [wrong, setWrong] = useState(false);
  const label = (
    <span className="truncate" title={setting.label}>
      {setting.label}
      <span className="text-ink-3">
        {setting.kind === 'length'
          ? ` ${unit}`
          : setting.kind === 'angle'
            ? ' °'
            : setting.kind === 'frames'
              ? ' frames'
              : ''}
      </span>
    </span>
  );
  if (setting.kind === 'switch')
    return (
      <label className="col-span-2 flex items-center gap-1.5">
        <input
          type="checkbox"
          className="accent-teal"
          checked={value === true}
          onChange={(event) => onChange(event.target.checked)}
        />
        {label}
      </label>
    );
  if (setting.kind === 'word')
    return (
      <label className="flex flex-col">
        {label}
        <select
          aria-label={setting.label}
          className="input-field h-[22px] px-1"
          value={value as string}
          onChange={(event) => onChange(event.target.value)}
        >
          {setting.words?.map((word) => (
            <option key={word}>{word}</option>
          ))}
        </select>
      </label>
    );
  const take = (typed: string): void => {
    setText(typed);
    if (setting.kind === 'numbers') {
      const parts = typed.split(/[\s,;-]+/).filter(Boolean);
      const numbers = parts.map(Number);
      setWrong(numbers.some((number) => !Number.isFinite(number)));
      if (numbers.every(Number.isFinite)) onChange(numbers);
      return;
    }
    const number = Number(typed);
    const good = typed.trim() !== '' && Number.isFinite(number);
    setWrong(!good);
    if (good) onChange(number / per);
  };
  return (
    <label className={`flex flex-col ${setting.kind === 'numbers' ? 'col-span-2' : ''}`}>
      {label}
      <input
        aria-label={setting.label}
        aria-invalid={wrong}
        title={wrong ? 'A number is wanted here' : undefined}
        className={`input-field num h-[22px] px-1.5 text-right ${wrong ? 'border-now text-now' : ''}`}
        value={text ?? asText(value)}
        onChange={(event) => take(event.target.value)}
        onBlur={() => !wrong && setText(null)}
        onFocus={(event) => event.target.select()}
        onKeyDown={(event) => event.stopPropagation()}
      />
    </label>
  );
}
