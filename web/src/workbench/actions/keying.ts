import { toast } from 'sonner';
import { channelAt, linkOf, type Value } from '../../../../core/document';
import { apply, compose, keyAt, keyChannels, removeKeys } from '../../../../core/edit';
import { anchorPose } from '../pose-keying';
import type { Session } from '../session';
import { tellClipped, valueNow } from './values';

/** Keys channels at this frame with the values they have now; changed values are thereby kept. */
export function keyNow(session: Session, addresses: readonly string[]): void {
  const { shot } = session;
  const entries = addresses.flatMap((address) => {
    const spec = channelAt(shot, address)?.spec;
    if (!spec?.animatable || linkOf(shot, address)) return [];
    return [[address, valueNow(session, address, spec)] as const];
  });
  if (entries.length === 0) {
    toast('Nothing here can be keyed: linked values follow their formula.');
    return;
  }
  tellClipped(
    session,
    entries.map(([address]) => address),
  );
  keyValues(session, entries);
}

/**
 * Keys values at this frame; where only what differs is keyed, the pose before is given what it had. @returns whether it
 * was done
 */
export function keyValues(
  session: Session,
  entries: readonly (readonly [address: string, value: Value])[],
  label?: string,
): boolean {
  const { frame } = session.time.now;
  const done = session.edit((current) => {
    const anchored = session.keying.now.keyDiffering ? anchorPose(current, frame, entries) : null;
    const change = anchored
      ? compose(anchored, keyChannels(apply(current, anchored), frame, entries))
      : keyChannels(current, frame, entries);
    return label === undefined ? change : { ...change, label };
  });
  if (done)
    dropLoose(
      session,
      entries.map(([address]) => address),
    );
  return done;
}

/** Takes away the keys of channels at this frame. */
export function unkeyNow(session: Session, addresses: readonly string[]): void {
  const { shot } = session;
  const { frame } = session.time.now;
  const targets = addresses.flatMap((address) => {
    const key = keyAt(shot, address, frame);
    return key ? [{ address, key }] : [];
  });
  if (targets.length > 0) session.edit((current) => removeKeys(current, targets));
}

/** Forgets changed values that were not keyed, all of them or those of some channels. */
export function dropLoose(session: Session, addresses?: readonly string[]): void {
  session.keying.letGo(addresses);
  session.evaluate();
}
