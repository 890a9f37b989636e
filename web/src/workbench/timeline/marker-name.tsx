import { useState } from 'react';
import { addMarker, changeMarker } from '../../../../core/edit';
import { useSession, useShot } from '../session';

/** A field over the ruler in which a marker is named. */
export function MarkerName(props: { id: string | null; frame: number; left: number; onClose(): void }) {
  const session = useSession();
  const marker = useShot((state) => (props.id === null ? null : state.shot.markers[props.id]));
  const count = useShot((state) => Object.keys(state.shot.markers).length);
  const [name, setName] = useState(marker?.name ?? `Marker ${count + 1}`);
  const keep = (): void => {
    const done = session.edit((shot) =>
      props.id === null ? addMarker(shot, props.frame, name).change : changeMarker(shot, props.id, { name }),
    );
    if (done) props.onClose();
  };
  return (
    <input
      autoFocus
      aria-label={`Name of the marker at frame ${props.frame}`}
      className="input-field absolute z-20 h-[22px] w-40"
      style={{ left: props.left, top: 1 }}
      value={name}
      onFocus={(event) => event.target.select()}
      onChange={(event) => setName(event.target.value)}
      onBlur={props.onClose}
      onKeyDown={(event) => {
        event.stopPropagation();
        if (event.key === 'Enter') keep();
        if (event.key === 'Escape') props.onClose();
      }}
    />
  );
}
