import {
  JOINT_AXES,
  jointLimitSchema,
  linkOf,
  sortedKeys,
  splitAddress,
  trackOf,
  type Joint,
  type JointAxis,
  type JointLimit,
  type MirrorAxis,
  type Shot,
} from '../document';
import { Draft, type Change } from './change';
import { demand } from './demand';
import { channelName, EditRefused } from './values';

/**
 * Says how far the joint of a part turns about one of its axes; null lets it turn freely.
 * @throws EditRefused for limits that are none, and where it is to be held while its value or a key lies beyond
 */
export function setJointLimit(shot: Shot, id: string, axis: JointAxis, limit: JointLimit | null): Change {
  const part = shot.parts[id];
  if (!part) throw new EditRefused('This part is no longer in the shot.');
  if (limit) {
    demand(
      jointLimitSchema,
      limit,
      `A joint turns from one angle to another that is not below it, not from ${limit.least} to ${limit.most} degrees.`,
    );
    if (limit.held) demandWithin(shot, `${id}/rotation.${axis}`, limit);
  }
  const { [axis]: _gone, ...others } = part.joint ?? {};
  const joint: Joint = limit ? { ...others, [axis]: limit } : others;
  const draft = new Draft(shot);
  draft.set(['parts', id, 'joint'], Object.keys(joint).length > 0 ? joint : undefined);
  return draft.change(
    limit
      ? `Let ${part.name} turn from ${limit.least} to ${limit.most} degrees about ${axis}`
      : `Let ${part.name} turn freely about ${axis}`,
  );
}

function demandWithin(shot: Shot, address: string, { least, most }: JointLimit): void {
  const name = channelName(shot, address);
  const beyond = (value: unknown): value is number =>
    typeof value === 'number' && (value < least || value > most);
  const cure = `change it first, or let what goes beyond ${least} to ${most} be told only.`;
  const track = trackOf(shot, address);
  for (const { key } of track ? sortedKeys(track) : [])
    if (beyond(key.value))
      throw new EditRefused(`${name} has a key of ${key.value} degrees at frame ${key.frame}: ${cure}`);
  for (const clip of Object.values(shot.clips))
    for (const { key } of clip.tracks[address] ? sortedKeys(clip.tracks[address]) : [])
      if (beyond(key.value))
        throw new EditRefused(
          `${name} has a key of ${key.value} degrees at frame ${key.frame} of the clip ${clip.name}: ${cure}`,
        );
  // What is stored below keys or a link is a value of the channel, too.
  const { owner, path } = splitAddress(address);
  const stored = shot.parts[owner]!.values[path];
  if (beyond(stored)) {
    const below = track ? ' below its keys' : linkOf(shot, address) ? ' of its own, below its link' : '';
    throw new EditRefused(`${name} is ${stored} degrees${below}: ${cure}`);
  }
}

/** A joint turned over across an axis: what turns about the two others goes the other way. */
export function mirroredJoint(joint: Joint, axis: MirrorAxis): Joint {
  return Object.fromEntries(
    JOINT_AXES.flatMap((about) => {
      const limit = joint[about];
      if (!limit) return [];
      const { least, most } = limit;
      return [[about, about === axis ? limit : { ...limit, least: -most + 0, most: -least + 0 }]];
    }),
  );
}
