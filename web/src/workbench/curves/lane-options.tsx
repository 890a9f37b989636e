import { memo } from 'react';
import type { Lane } from '../keys/lanes';

/** Channels to choose from; not made anew for each picture of a drag. */
export const LaneOptions = memo(function LaneOptions({
  lanes,
  but,
}: {
  lanes: readonly Pick<Lane, 'address' | 'name'>[];
  but?: string;
}) {
  return lanes
    .filter((lane) => lane.address !== but)
    .map((lane) => (
      <option key={lane.address} value={lane.address}>
        {lane.name}
      </option>
    ));
});
