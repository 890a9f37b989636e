import { useState } from 'react';
import type { Part, Shot } from '../../../../core/document';

/** A choice of one part. Its list is made when it is opened: a shot may have a thousand parts. */
export function PartSelect(props: {
  shot: Shot;
  value: string | null;
  none: string;
  title?: string;
  fits: (id: string, part: Part) => boolean;
  onChoose(id: string | null): void;
}) {
  const { shot, value, none, fits } = props;
  const [open, setOpen] = useState(false);
  const list = open
    ? Object.entries(shot.parts)
        .filter(([id, part]) => fits(id, part))
        .sort(([, a], [, b]) => a.name.localeCompare(b.name))
    : value !== null && shot.parts[value]
      ? [[value, shot.parts[value]] as const]
      : [];
  return (
    <select
      className="input-field h-[22px] min-w-0 flex-1 px-1"
      value={value ?? ''}
      title={props.title}
      onPointerDown={() => setOpen(true)}
      onFocus={() => setOpen(true)}
      onBlur={() => setOpen(false)}
      onChange={(event) => props.onChoose(event.target.value || null)}
    >
      <option value="">{none}</option>
      {list.map(([id, part]) => (
        <option key={id} value={id}>
          {part.name}
        </option>
      ))}
    </select>
  );
}
