import { useMemo } from 'react';
import type { Camera } from 'three';
import { pinName } from '../../../../core/document';
import { pinsOf } from '../../../../core/edit';
import { pinnedPlaces } from '../../../../core/formula';
import { useChoice, useSession, useShot, useViewSettings } from '../session';
import type { Area } from '../view/view-size';
import { toPixel } from '../view/handle-geometry';
import { placeOfPin } from './pin-points';
import { stateOfPinned } from './pin-words';

/** Half of the line that is drawn for a slot or a slide, pixels. */
const LINE_PX = 22;

/** Pins of the chosen parts' linkages, all of them while pins are made: rings, with the lines of slots and slides. */
export function PinMarks(props: Area & { readonly camera: Camera }) {
  const { camera, width, height, left, top } = props;
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const chosen = useChoice((state) => state.chosen);
  const pinning = useViewSettings((state) => state.tool === 'pin');
  useShot((state) => state.tick);
  const shown = useMemo(() => {
    if (pinning) return Object.keys(shot.pins);
    const parts = new Set(chosen);
    for (const id of chosen) {
      const place = pinnedPlaces(shot).get(id);
      if (place?.ok) for (const body of place.linkage.bodies) if (body !== null) parts.add(body);
    }
    return [...new Set([...parts].flatMap((id) => pinsOf(shot, id)))];
  }, [shot, chosen, pinning]);
  if (shown.length === 0) return null;
  return (
    <svg
      className="on-view pointer-events-none absolute"
      style={{ left, top }}
      width={width}
      height={height}
      role="img"
      aria-label={`${shown.length} ${shown.length === 1 ? 'pin' : 'pins'}`}
      data-testid="pins"
    >
      {shown.map((id) => {
        const place = placeOfPin(shot, session.evaluator, id);
        if (!place) return null;
        const { x, y, ahead } = toPixel(place.point, camera, width, height);
        if (!ahead) return null;
        const pin = shot.pins[id]!;
        const fine = [pin.a, pin.b].every(
          (part) =>
            part === null ||
            (stateOfPinned(shot, part).fine && !session.evaluator.hasFailed(`${part}/location.x`)),
        );
        const ink = fine ? 'var(--color-teal)' : 'var(--color-now)';
        const end = place.along && toPixel(place.point.clone().add(place.along), camera, width, height);
        const way = end && Math.hypot(end.x - x, end.y - y);
        const [dx, dy] = end && way ? [((end.x - x) / way) * LINE_PX, ((end.y - y) / way) * LINE_PX] : [0, 0];
        return (
          <g key={id} stroke={ink} fill="none" data-pin={id} data-fine={fine}>
            <title>{pinName(shot, pin)}</title>
            {end && (
              <line
                x1={x - dx}
                y1={y - dy}
                x2={x + dx}
                y2={y + dy}
                strokeWidth={pin.kind === 'slide' ? 5 : 3}
                strokeOpacity="0.55"
              />
            )}
            <circle cx={x} cy={y} r="5.5" fill="var(--color-halo)" fillOpacity="0.85" strokeWidth="2" />
            <circle cx={x} cy={y} r="2" fill={ink} stroke="none" />
          </g>
        );
      })}
    </svg>
  );
}
