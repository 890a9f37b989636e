import { createHash } from 'node:crypto';
import type { Shot } from '../core/document';
import { bosunPuppet } from './bosun-puppet';
import { captionEmblem } from './caption-emblem';
import { emblem } from './emblem';
import type { DemoFile } from './files';
import { fullRide } from './full-ride';
import { hoopRun } from './hoop-run';
import { lettering } from './lettering';
import { pendulumClock } from './pendulum-clock';
import { pennants } from './pennants';
import { ticketBox, ticketBoxFiles } from './ticket-box';
import { organTune } from './tune';
import { walkingCrab } from './walking-crab';
import { winch } from './winch';

export interface DemoShot {
  readonly name: string;
  readonly build: () => Shot;
  /** Pictures, meshes and sounds that it has. */
  readonly files: () => readonly DemoFile[];
}

const none = (): readonly DemoFile[] => [];
const tune = (): readonly DemoFile[] => [organTune()];

/** The id by which demo shots show one another until they are loaded (RFC 9562, version 8). */
export function demoShotId(name: string): string {
  const hex = createHash('sha256').update(`demo ${name}`).digest('hex');
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-8${hex.slice(13, 16)}-a${hex.slice(17, 20)}-${hex.slice(20, 32)}`;
}

export const DEMO_PROJECT = 'Harbour Roundabout';
/** Shots that are shown in others stand before those. */
export const DEMO_SHOTS: readonly DemoShot[] = [
  { name: 'Full ride', build: fullRide, files: tune },
  { name: 'Ticket box', build: ticketBox, files: ticketBoxFiles },
  { name: 'Hoop run', build: hoopRun, files: none },
  { name: 'Pendulum clock', build: pendulumClock, files: none },
  { name: 'Walking crab', build: walkingCrab, files: none },
  { name: 'Taking the winch apart', build: winch, files: none },
  { name: 'Pennants', build: pennants, files: none },
  { name: 'Bosun puppet', build: bosunPuppet, files: none },
  { name: 'Lettering', build: lettering, files: tune },
  { name: 'Emblem', build: emblem, files: none },
  { name: 'Caption emblem', build: () => captionEmblem(demoShotId('Emblem')), files: none },
];
export { DEMO_REEL, demoReel } from './reel';
export { ShotBuilder } from './shot-builder';
export type { DemoFile } from './files';
