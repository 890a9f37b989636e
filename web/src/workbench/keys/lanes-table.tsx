import { memo, useEffect, useState } from 'react';
import { channelAt, trackOf } from '../../../../core/document';
import { describeValue } from '../../shared/format';
import { useShot } from '../session';
import { mannerWords } from './key-words';
import { LaneScroll } from './lane-scroll';
import type { LaneRow } from './lanes';

const KEYS_TOLD = 40;
const TOLD_AFTER_MS = 120;

/** The lanes in sight as a table for screen readers: a row for each lane, its keys with frame, value and manner. */
export const LanesTable = memo(function LanesTable({
  rows,
  scroll,
  room,
}: {
  rows: readonly LaneRow[];
  scroll: LaneScroll;
  room: number;
}) {
  const [chunk, setChunk] = useState(scroll.chunk);
  // What is read out follows once scrolling rests.
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const stop = scroll.listen(() => {
      clearTimeout(timer);
      timer = setTimeout(() => setChunk(scroll.chunk()), TOLD_AFTER_MS);
    });
    return () => {
      clearTimeout(timer);
      stop();
    };
  }, [scroll]);
  const { from, to } = LaneScroll.rows(chunk, room, rows.length);
  const shot = useShot((state) => state.shot);
  return (
    <table className="sr-only" aria-label="Keys of the lanes in sight">
      <caption>
        Rows {from + 1} to {Math.min(to, rows.length)} of {rows.length}
      </caption>
      <thead>
        <tr>
          <th scope="col">Channel</th>
          <th scope="col">Keys</th>
        </tr>
      </thead>
      <tbody>
        {rows.slice(from, to).map((row) => {
          if (row.kind === 'group') return null;
          const { address, name, linked } = row.lane;
          const spec = channelAt(shot, address)?.spec;
          const track = trackOf(shot, address);
          const told = row.lane.keys.slice(0, KEYS_TOLD).flatMap(({ id, frame, manner }) => {
            const key = track?.keys[id];
            return key && spec
              ? [
                  `frame ${frame}: ${describeValue(spec, key.value, shot.setup.unit)}, then ${mannerWords(manner)}`,
                ]
              : [];
          });
          const more = row.lane.keys.length - KEYS_TOLD;
          return (
            <tr key={address}>
              <th scope="row">{name}</th>
              <td>
                {linked && 'linked; '}
                {told.join('; ')}
                {more > 0 && `; and ${more} more`}
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
});
