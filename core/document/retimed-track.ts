import type { Handle, Key, Track } from './schema';

/** A key at another frame, its handles as long as time there is. @param stretch frames there for each frame here */
export function movedKey(key: Key, frame: number, stretch: number): Key {
  const reach = (handle: Handle): Handle => ({ ...handle, reach: handle.reach * stretch });
  return {
    ...key,
    frame,
    ...(key.left ? { left: reach(key.left) } : {}),
    ...(key.right ? { right: reach(key.right) } : {}),
  };
}

/** A track whose keys stand at other frames. @param place where a frame lies now */
export const retimedTrack = (track: Track, place: (frame: number) => number, stretch: number): Track => ({
  ...track,
  keys: Object.fromEntries(
    Object.entries(track.keys).map(([id, key]) => [id, movedKey(key, place(key.frame), stretch)]),
  ),
});
