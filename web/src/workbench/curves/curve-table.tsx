import { memo } from 'react';
import { compiledKey } from '../../../../core/curve';
import { sortedKeys } from '../../../../core/document';
import { stretchManner } from '../../../../core/edit';
import { describeValue } from '../../shared/format';
import { mannerWords } from '../keys/key-words';
import { useShot } from '../session';
import type { Line } from './lines';

const KEYS_TOLD = 200;

/** Keys of the curve that leads as a table for screen readers. */
export const CurveTable = memo(function CurveTable({ line }: { line: Line | null }) {
  const shot = useShot((state) => state.shot);
  if (!line?.track) return null;
  const keys = sortedKeys(line.track).slice(0, KEYS_TOLD);
  const { unit } = shot.setup;
  return (
    <table className="sr-only" aria-label={`Keys of ${line.name}`}>
      <thead>
        <tr>
          <th scope="col">Frame</th>
          <th scope="col">Value</th>
          <th scope="col">Arrives</th>
          <th scope="col">Leaves</th>
          <th scope="col">Then</th>
        </tr>
      </thead>
      <tbody>
        {keys.map(({ id, key }, i) => {
          const manner = stretchManner(shot, { address: line.address, key: id });
          const handles = line.components[0] && compiledKey(line.components[0], i);
          const handle = (reach: number, rise: number): string =>
            `${Math.round(reach * 100) / 100} frames, ${describeValue(line.spec, rise, unit)}`;
          return (
            <tr key={id}>
              <th scope="row">{key.frame}</th>
              <td>{describeValue(line.spec, key.value, unit)}</td>
              <td>{handles && i > 0 ? handle(handles.leftReach, handles.leftRise) : ''}</td>
              <td>{handles && i < keys.length - 1 ? handle(handles.rightReach, handles.rightRise) : ''}</td>
              <td>{manner === null ? 'the end' : mannerWords(manner)}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
});
