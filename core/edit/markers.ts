import { FRAME_LIMIT, type Marker, type Shot } from '../document';
import { Draft, type Change } from './change';
import { makeId } from './make-id';
import { demandName } from './demand-name';
import { type Added } from './parts';
import { demandFrame } from './put-key';
import { EditRefused } from './values';

/** Markers by frame. */
export function markersOf(shot: Shot): { id: string; marker: Marker }[] {
  return Object.entries(shot.markers)
    .map(([id, marker]) => ({ id, marker }))
    .sort((a, b) => a.marker.frame - b.marker.frame || (a.id < b.id ? -1 : 1));
}

/** A new marker at a frame. @throws EditRefused for a bad name or a frame out of range */
export function addMarker(shot: Shot, frame: number, name: string, random?: () => number): Added {
  demandFrame(frame);
  const draft = new Draft(shot);
  const id = makeId('mrk', random);
  draft.set(['markers', id], { name: demandName(name), frame });
  return { id, change: draft.change(`Mark frame ${frame}`) };
}

/** Moves or renames a marker. */
export function changeMarker(shot: Shot, id: string, options: Partial<Marker>): Change {
  const marker = shot.markers[id];
  if (!marker) throw new EditRefused('This marker is no longer in the shot.');
  const draft = new Draft(shot);
  const frame = Math.max(-FRAME_LIMIT, Math.min(FRAME_LIMIT, options.frame ?? marker.frame));
  draft.set(['markers', id], { ...marker, name: demandName(options.name ?? marker.name), frame });
  return draft.change(`Change the marker ${marker.name}`);
}

export function removeMarker(shot: Shot, id: string): Change {
  const draft = new Draft(shot);
  draft.set(['markers', id], undefined);
  return draft.change(`Remove the marker ${shot.markers[id]?.name ?? ''}`);
}
