import { toast } from 'sonner';
import { copyPose, keptPose, posedValues, type KeptPose, type PosingOptions } from '../../../../core/edit';
import type { OwnPose } from '../../../../wire';
import { keyValues } from '../actions/keying';
import { trianglesOf } from '../clearance/silhouettes';
import type { Session } from '../session';
import { posePicture } from './pose-picture';

/** The pose of the chosen parts and all below them at this frame, with its picture. */
export function chosenPose(session: Session): OwnPose['pose'] {
  const { shot, evaluator, assets } = session;
  const roots = session.choice.now.chosen.filter((id) => shot.parts[id]);
  const { parts } = keptPose(copyPose(shot, evaluator, roots));
  return {
    parts: parts.map(({ name, values, linked }) => ({
      name,
      values: { ...values },
      ...(linked ? { linked: [...linked] } : {}),
    })),
    picture: posePicture(shot, evaluator, roots, (part) => trianglesOf(shot, evaluator, part, assets)),
  };
}

/** Keys a kept pose at this frame. @returns whether there was something to key */
export function putPose(session: Session, name: string, pose: KeptPose, options: PosingOptions): boolean {
  const { shot, evaluator } = session;
  const { frame } = session.time.now;
  const { entries, parts, missing } = posedValues(shot, evaluator, pose, options);
  if (entries.length === 0) {
    toast(
      missing.length === pose.parts.length
        ? `No part of the pose "${name}" is in this shot: parts are found by their names, such as "${missing[0]}".`
        : `Nothing differs from the pose "${name}" here.`,
    );
    return false;
  }
  if (!keyValues(session, entries, `Put in the pose ${name}`)) return false;
  const left =
    missing.length === 0
      ? ''
      : ` ${missing.length} of its parts ${missing.length === 1 ? 'is' : 'are'} not in this shot.`;
  toast(
    `The pose "${name}" is keyed at frame ${Math.round(frame * 100) / 100}: ${parts} ${parts === 1 ? 'part' : 'parts'}.${left}`,
  );
  return true;
}
