import { useMemo } from 'react';
import { trackOf } from '../../../../core/document';
import { markersOf, type KeyAddress } from '../../../../core/edit';
import { framesPerSecond } from '../../../../core/time';
import { useEvening } from '../../shared/theme';
import { useChoice, useCurved, useSession, useShot } from '../session';
import type { ShownTime } from '../timeline/use-time-window';
import type { Gesture } from './lane-drag';
import type { LaneMap } from './lane-hit';
import type { LaneRow } from './lanes';
import type { Marked, Picture, RulerPicture } from './lanes-painter';

/** What the lanes and their ruler are painted from. */
export interface LanePictures {
  readonly content: Omit<Picture, 'scroll'>;
  readonly ruler: RulerPicture;
  readonly markers: readonly Marked[];
  /** Frames from the first to the last chosen key, which a grip at either end stretches. */
  readonly band: LaneMap['band'];
}

/** What is going on over the lanes. */
export interface LaneWork {
  readonly gesture: Gesture | null;
  readonly markerDrag: { readonly id: string; readonly frame: number } | null;
}

/** Puts together what the lanes are painted from; each picture is a new one only when something in it is. */
export function useLanePictures(
  rows: readonly LaneRow[],
  time: ShownTime,
  plotWidth: number,
  plotHeight: number,
  { gesture, markerDrag }: LaneWork,
): LanePictures {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const channel = useChoice((state) => state.channel);
  const chosenKeys = useChoice((state) => state.chosenKeys);
  const curved = useCurved();
  const curves = session.curves;
  const evening = useEvening();
  const { first, last, scale } = time;
  const chosenSet = useMemo(
    () => new Set(chosenKeys.map(({ address, key }) => `${address} ${key}`)),
    [chosenKeys],
  );
  const markers = useMemo(
    () =>
      markersOf(shot).map(({ id, marker }) => ({
        id,
        name: marker.beat ? '' : marker.name,
        beat: marker.beat === true,
        frame: markerDrag?.id === id ? markerDrag.frame : marker.frame,
      })),
    [shot, markerDrag],
  );
  const band = useMemo(() => {
    let [low, high] = [Infinity, -Infinity];
    for (const { address, key } of chosenKeys) {
      const at = trackOf(shot, address)?.keys[key]?.frame;
      if (at === undefined) continue;
      low = Math.min(low, at);
      high = Math.max(high, at);
    }
    return high > low ? { from: low, to: high } : null;
  }, [chosenKeys, shot]);
  const content = useMemo(
    () => ({
      width: plotWidth,
      height: plotHeight,
      scale,
      rows,
      channel,
      first,
      last,
      curves,
      // Curves of linked channels come later, into the same store.
      curved,
      isChosen: (target: KeyAddress) =>
        chosenSet.size > 0 && chosenSet.has(`${target.address} ${target.key}`),
      shown: (at: number, isOne: boolean) => (isOne ? shownAt(gesture, at) : at),
      doubling: gesture?.kind === 'move' && gesture.doubling,
      markers,
      evening,
    }),
    [
      plotWidth,
      plotHeight,
      scale,
      rows,
      channel,
      first,
      last,
      curves,
      curved,
      chosenSet,
      gesture,
      markers,
      evening,
    ],
  );
  const perSecond = framesPerSecond(shot.setup.rate);
  const ruler = useMemo(
    () => ({
      width: plotWidth,
      scale,
      first,
      last,
      rate: perSecond,
      markers,
      band: band && { from: shownAt(gesture, band.from), to: shownAt(gesture, band.to) },
      evening,
    }),
    [plotWidth, scale, first, last, perSecond, markers, band, gesture, evening],
  );
  return { content, ruler, markers, band };
}

/** Where a chosen key is shown while something is dragged. */
function shownAt(gesture: Gesture | null, at: number): number {
  if (!gesture) return at;
  return gesture.kind === 'move' ? at + gesture.by : gesture.about + (at - gesture.about) * gesture.factor;
}
