import { CLIP_PLAYS, type Placement } from '../../../../core/document';
import { PLAYS_WORDS } from './strip-rows';

/** How a clip or a shot goes on once it has been shown. */
export function PlaysSelect(props: { value: Placement['plays']; onChange(plays: Placement['plays']): void }) {
  return (
    <select
      aria-label="How it goes on"
      className="input-field h-[22px] min-w-0 flex-1 px-1"
      value={props.value}
      onChange={(event) => props.onChange(event.target.value as Placement['plays'])}
    >
      {CLIP_PLAYS.map((plays) => (
        <option key={plays} value={plays}>
          {PLAYS_WORDS[plays]}
        </option>
      ))}
    </select>
  );
}
