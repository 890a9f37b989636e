import { atan2 } from '../math';

/** Threads of a worm: how many there are side by side, their distance divided by pi, and the radius of the pitch cylinder. */
export interface WormThread {
  readonly starts: number;
  readonly module: number;
  readonly radius: number;
}

/** How far a worm goes on in a whole turn. */
export const wormLead = ({ starts, module }: Pick<WormThread, 'starts' | 'module'>): number =>
  starts * Math.PI * module;

/** Angle by which its threads climb on the pitch cylinder, degrees: tan = lead / circumference (Shigley, chapter 13). */
export const wormClimb = (thread: WormThread): number =>
  (atan2(wormLead(thread), 2 * Math.PI * thread.radius) * 180) / Math.PI;
