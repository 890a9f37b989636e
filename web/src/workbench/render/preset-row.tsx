import { Trash2 } from 'lucide-react';
import { useState } from 'react';
import { FILM_PRESETS } from '../../../../core/film';
import { useShot } from '../session';
import { useKept } from '../use-kept';
import { presetOf, withPreset, type FilmForm } from './film-form';

/** Ways to make a film: ready ones, and those that the project keeps. */
export function PresetRow({ form, set }: { form: FilmForm; set(change: Partial<FilmForm>): void }) {
  const setup = useShot((state) => state.shot.setup);
  const { own, keep, remove } = useKept('presets');
  const [chosen, setChosen] = useState('');
  const [name, setName] = useState<string | null>(null);
  const choose = (value: string): void => {
    setChosen(value);
    const [kind, of] = [value.slice(0, 1), value.slice(2)];
    const preset =
      kind === 'o'
        ? own.find((each) => each.name === of)?.preset
        : FILM_PRESETS.find((each) => each.name === of);
    if (preset) set(withPreset(form, preset, setup));
  };
  const mine = chosen.startsWith('o ') ? chosen.slice(2) : null;
  const put = (): void => {
    const trimmed = name?.trim() ?? '';
    if (trimmed === '') return;
    keep({ name: trimmed, preset: presetOf(form, setup) });
    setChosen(`o ${trimmed}`);
    setName(null);
  };
  return (
    <div className="flex items-center gap-2">
      <label className="flex items-center gap-2">
        <b>Preset</b>
        <select
          className="input-field h-6 w-52"
          aria-label="Preset"
          value={chosen}
          onChange={(event) => choose(event.target.value)}
        >
          <option value="">as below</option>
          <optgroup label="Ready">
            {FILM_PRESETS.map((preset) => (
              <option key={preset.name} value={`r ${preset.name}`}>
                {preset.name}
              </option>
            ))}
          </optgroup>
          {own.length > 0 && (
            <optgroup label="Of this project">
              {own.map((each) => (
                <option key={each.name} value={`o ${each.name}`}>
                  {each.name}
                </option>
              ))}
            </optgroup>
          )}
        </select>
      </label>
      {mine !== null && name === null && (
        <button
          type="button"
          className="btn h-6"
          aria-label={`Remove the preset ${mine}`}
          onClick={() => {
            remove(mine);
            setChosen('');
          }}
        >
          <Trash2 size={13} aria-hidden="true" />
        </button>
      )}
      {name === null ? (
        <button
          type="button"
          className="btn h-6"
          title="Format, size, samples and so on, under a name, for all shots of the project"
          onClick={() => setName('')}
        >
          Keep...
        </button>
      ) : (
        <>
          <input
            autoFocus
            aria-label="Name of the preset"
            className="input-field h-6 w-32"
            value={name}
            onChange={(event) => setName(event.target.value)}
            onKeyDown={(event) => {
              if (event.key === 'Escape') {
                event.stopPropagation();
                setName(null);
              }
              if (event.key !== 'Enter') return;
              event.preventDefault();
              put();
            }}
          />
          <button type="button" className="btn h-6" disabled={name.trim() === ''} onClick={put}>
            Keep
          </button>
        </>
      )}
    </div>
  );
}
