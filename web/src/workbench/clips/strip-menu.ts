import { toast } from 'sonner';
import { CLIP_PLAYS, type Placement, type Shot } from '../../../../core/document';
import {
  apply,
  changePlacement,
  EditRefused,
  mirrorShowing,
  putShowingOn,
  removeClip,
  rootOfShowing,
  unpackPlacement,
} from '../../../../core/edit';
import type { MenuEntries } from '../../ui/menu';
import {
  chooseStrips,
  closeClip,
  makeClipHere,
  openClip,
  placeClipHere,
  removeChosen,
  repeatChosen,
  untie,
} from '../actions/clips';
import type { Session } from '../session';
import { PLAYS_WORDS } from './strip-rows';

/** How often a clip is shown. */
export const timesShown = (shot: Shot, clip: string): number =>
  Object.values(shot.placements).filter((placement) => placement.clip === clip).length;

/** Parts on which a showing could be put: those below which something answers to the names that it moves. */
export function otherParts(shot: Shot, id: string): string[] {
  const placement = shot.placements[id];
  const clip = placement && shot.clips[placement.clip];
  if (!clip) return [];
  const now = rootOfShowing(placement, clip);
  return Object.keys(shot.parts).filter((part) => {
    if (part === now) return false;
    try {
      apply(shot, putShowingOn(shot, id, part));
      return true;
    } catch (error) {
      if (error instanceof EditRefused) return false;
      throw error;
    }
  });
}

/** Turns a showing into keys. */
export function unpack(session: Session, id: string): void {
  const name = session.doc.now.document.clips[session.doc.now.document.placements[id]?.clip ?? '']?.name;
  if (session.editDocument((shot) => unpackPlacement(shot, id)))
    toast(`${name} has become keys of its lanes.`);
}

/** What can be done with a showing. */
export function stripMenu(session: Session, id: string): MenuEntries {
  const { document: shot, opened } = session.doc.now;
  const placement = shot.placements[id];
  const clip = placement && shot.clips[placement.clip];
  if (!clip) return [];
  const change = (options: Partial<Placement> | { [K in keyof Placement]?: undefined }): void =>
    void session.editDocument((now) => changePlacement(now, id, options));
  const times = timesShown(shot, placement.clip);
  const others = otherParts(shot, id);
  const only = (act: (session: Session) => void) => () => {
    if (!session.strips.now.chosen.includes(id)) chooseStrips(session, [id]);
    act(session);
  };
  return [
    { heading: `${clip.name}${times > 1 ? `, shown ${times} times` : ''}` },
    opened === id
      ? { label: 'Close', later: true, run: () => closeClip(session) }
      : { label: 'Open: change its keys here', later: true, keys: 'Enter', run: () => openClip(session, id) },
    { label: 'Show once more after it', keys: 'Ctrl+D', run: only(repeatChosen) },
    'line',
    {
      label: 'Goes on',
      entries: CLIP_PLAYS.map((plays) => ({
        label: PLAYS_WORDS[plays],
        current: placement.plays === plays,
        run: () => change({ plays }),
      })),
    },
    {
      label: 'Without an end',
      checked: placement.until === null,
      disabled: placement.plays === 'once',
      run: () => change({ until: placement.until === null ? endOf(session, id) : null }),
    },
    {
      label: 'Backwards',
      checked: placement.backwards === true,
      run: () => change(placement.backwards ? { backwards: undefined } : { backwards: true }),
    },
    {
      label: 'Mirrored, left to right by name',
      checked: placement.mirrored === true,
      run: () => void session.editDocument((now) => mirrorShowing(now, id)),
    },
    {
      label: 'Switched off',
      checked: placement.off === true,
      run: () => change(placement.off ? { off: undefined } : { off: true }),
    },
    'line',
    {
      label: 'Put it on another part',
      disabled: others.length === 0,
      entries: others.map((part) => ({
        label: shot.parts[part]!.name,
        run: () => void session.editDocument((now) => putShowingOn(now, id, part)),
      })),
    },
    { label: 'Make it a clip of its own', disabled: times < 2, run: () => untie(session, id) },
    { label: 'Unpack into keys', run: () => unpack(session, id) },
    'line',
    { label: 'Take away', keys: 'Delete', alarm: true, run: only(removeChosen) },
  ];
}

function endOf(session: Session, id: string): number {
  const { setup, placements } = session.doc.now.document;
  return Math.max(setup.last + 1, placements[id]!.start + 1);
}

/** What can be done with clips: make one, show one, delete one. */
export function clipsMenu(session: Session): MenuEntries {
  const { document: shot, opened } = session.doc.now;
  const clips = Object.entries(shot.clips).sort(([, a], [, b]) => (a.name < b.name ? -1 : 1));
  return [
    opened !== null && { label: 'Close the clip that is open', later: true, run: () => closeClip(session) },
    {
      label: 'Make a clip of the chosen keys or parts',
      keys: 'Shift+C',
      later: true,
      disabled: opened !== null,
      run: () => makeClipHere(session),
    },
    clips.length > 0 && 'line',
    clips.length > 0 && { heading: 'Show from the playhead on' },
    ...clips.map(([id, { name }]) => {
      const times = timesShown(shot, id);
      return {
        label: name,
        entries: [
          { label: 'Show from the playhead on', run: () => placeClipHere(session, id) },
          {
            label:
              times === 0
                ? 'Delete the clip'
                : `Delete the clip and its ${times} ${times === 1 ? 'showing' : 'showings'}`,
            alarm: true,
            run: () => void session.editDocument((now) => removeClip(now, id)),
          },
        ],
      };
    }),
  ];
}
