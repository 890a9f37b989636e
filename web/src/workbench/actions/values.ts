import { toast } from 'sonner';
import {
  channelAt,
  linkOf,
  splitAddress,
  trackOf,
  type ChannelSpec,
  type Value,
} from '../../../../core/document';
import {
  apply,
  channelName,
  compose,
  EditRefused,
  keyChannels,
  movedBy,
  movePivot,
  setLink,
  setValues,
  type Change,
} from '../../../../core/edit';
import { Evaluator, spanOfPlacement } from '../../../../core/evaluate';
import type { Loose } from '../../shot/history';
import { isPosed } from '../pose-keying';
import type { Session } from '../session';
import { openClip } from './clips';
import { tellOnce } from '../tell-once';

/** Changes the evaluated values for the time of a drag, without any edit; `null` ends it. */
export function preview(session: Session, values: Loose | null): void {
  const { loose } = session.keying.now;
  session.doc.preview(values ? { ...loose, ...values } : loose);
}

/** Value of a channel at the current frame as shown. */
export function valueNow(session: Session, address: string, spec: ChannelSpec): Value {
  return spec.kind === 'colour' ? session.evaluator.colour(address) : session.evaluator.number(address);
}

/** Value of a channel at the current frame as shown, by its address. */
export function valueOf(session: Session, address: string): Value {
  return valueNow(session, address, channelAt(session.shot, address)!.spec);
}

/** Values at another frame, without going there; unkeyed changes do not count. */
export function evaluatorAt(session: Session, frame: number): Evaluator {
  const other = new Evaluator(session.doc.now.plan);
  other.evaluate(frame);
  return other;
}

/** What is shown now, standing still: an evaluator that no preview changes. */
export function snapshot(session: Session): Evaluator {
  const other = new Evaluator(session.doc.now.plan);
  other.setOverrides(Object.entries(session.keying.now.loose));
  other.evaluate(session.time.now.frame);
  return other;
}

/**
 * Gives channels new values as somebody means it now: with auto-key as keys at this frame; without, a channel that
 * has keys is changed for the moment and marked, any other keeps the value. Linked channels are refused.
 */
export function setChannels(
  session: Session,
  entries: readonly (readonly [address: string, value: Value])[],
): boolean {
  const { shot } = session;
  const { autoKey } = session.keying.now;
  const { frame } = session.time.now;
  if (entries.some(([address]) => !channelAt(shot, address))) {
    toast.error('What was to be changed is gone: somebody else has deleted it meanwhile.');
    preview(session, null);
    return false;
  }
  const linked = entries.find(([address]) => linkOf(shot, address));
  if (linked) {
    toast.error(`${channelName(shot, linked[0])} is linked: change its formula, or unlink it.`);
    preview(session, null);
    return false;
  }
  tellClipped(
    session,
    entries.map(([address]) => address),
  );
  const pivots = pivotChange(session, entries);
  if (pivots) return session.edit(() => pivots) || (preview(session, null), false);
  const keyed = (address: string): boolean => autoKey && channelAt(shot, address)?.spec.animatable === true;
  const asKeys = entries.filter(([address]) => keyed(address));
  // What is there already is a change only for auto-key.
  const still = snapshot(session);
  const differs = ([address, value]: readonly [string, Value]): boolean => {
    const now = typeof value === 'number' ? still.number(address) : still.colour(address);
    return JSON.stringify(now) !== JSON.stringify(value);
  };
  const changed = entries.filter((entry) => !keyed(entry[0]) && differs(entry));
  const waits = (address: string): boolean =>
    trackOf(shot, address) !== null || (session.keying.now.keyDiffering && isPosed(shot, address, frame));
  const asLoose = changed.filter(([address]) => waits(address));
  const asValues = changed.filter(([address]) => !waits(address));
  try {
    // Refused here as a key would be, so that nothing unsound can wait to be keyed.
    if (asLoose.length > 0) keyChannels(shot, frame, asLoose);
    const changes = [
      ...(asKeys.length > 0 ? [keyChannels(shot, frame, asKeys)] : []),
      ...(asValues.length > 0 ? [setValues(shot, asValues)] : []),
    ];
    if (asLoose.length > 0) {
      session.keying.hold({ ...session.keying.now.loose, ...Object.fromEntries(asLoose) });
      tellOnce(
        'loose',
        `${channelName(shot, asLoose[0]![0])} is keyed: this change holds at frame ${frame} only until you key it (K). Going to another frame drops it; you can bring it back then.`,
      );
      session.evaluate();
    }
    if (changes.length > 0) session.commit(changes.reduce(compose));
    preview(session, null);
    return true;
  } catch (error) {
    if (!(error instanceof EditRefused)) throw error;
    toast.error(error.message);
    preview(session, null);
    return false;
  }
}

/**
 * Takes links away and gives values in their place, in one step that is undone as one. What has keys below its link holds
 * its value for the moment, as with `setChannels`.
 */
export function unlinkAndSet(
  session: Session,
  entries: readonly (readonly [address: string, value: Value])[],
): boolean {
  const { autoKey } = session.keying.now;
  const { frame } = session.time.now;
  let waiting: typeof entries = [];
  const done = session.edit((shot) => {
    const unlinked = entries.map(([address]) => setLink(shot, address, null)).reduce(compose);
    const free = apply(shot, unlinked);
    waiting = autoKey ? [] : entries.filter(([address]) => trackOf(free, address) !== null);
    const given = entries.filter((entry) => !waiting.includes(entry));
    if (given.length === 0) return unlinked;
    const change = autoKey ? keyChannels(free, frame, given) : setValues(free, given);
    return { ...compose(unlinked, change), label: `${unlinked.label} and set it` };
  });
  return done && (waiting.length === 0 || setChannels(session, waiting));
}

/** Says so where a clip moves what is changed, so that a change below it is not taken for one without effect. */
export function tellClipped(session: Session, addresses: readonly string[]): void {
  const { document: shot, plan } = session.doc.now;
  const covered = addresses.find((address) => plan.layers.some((layer) => layer.address === address));
  if (covered === undefined) return;
  const { frame } = session.time.now;
  const found = Object.entries(shot.placements).find(([, placement]) => {
    const clip = shot.clips[placement.clip];
    if (!clip || placement.off || !movedBy(placement, clip).includes(covered)) return false;
    const { from, to } = spanOfPlacement(placement, clip);
    return frame >= from && frame < to;
  });
  if (!found) return;
  const [id, placement] = found;
  toast(
    `A clip, ${shot.clips[placement.clip]!.name}, moves ${channelName(session.shot, covered)} here: what is changed lies below it. Open the clip to change what it does.`,
    { id: 'clipped', action: { label: 'Open it', onClick: () => openClip(session, id) } },
  );
}

/** The change for new pivots that leave their parts where they are; `null` where something else is meant. */
function pivotChange(
  session: Session,
  entries: readonly (readonly [address: string, value: Value])[],
): Change | null {
  if (
    !session.view.now.pivotStays ||
    session.keying.now.autoKey ||
    Object.keys(session.keying.now.loose).length > 0
  )
    return null;
  const parts = new Map<string, [number, number, number]>();
  const still = snapshot(session);
  for (const [address, value] of entries) {
    const { owner, path } = splitAddress(address);
    const axis = ['pivot.x', 'pivot.y', 'pivot.z'].indexOf(path);
    if (axis < 0 || typeof value !== 'number') return null;
    const pivot =
      parts.get(owner) ??
      (['x', 'y', 'z'].map((name) => still.number(`${owner}/pivot.${name}`)) as [number, number, number]);
    pivot[axis] = value;
    parts.set(owner, pivot);
  }
  const { shot } = session;
  const linked = [...parts.keys()].some((id) =>
    ['x', 'y', 'z'].some((axis) => linkOf(shot, `${id}/location.${axis}`)),
  );
  if (parts.size === 0 || linked) return null;
  preview(session, null);
  return [...parts].map(([id, pivot]) => movePivot(shot, still, id, pivot).change).reduce(compose);
}
