import type { Shot } from '../core/document';
import type { DemoFile } from './files';
import { fullRide } from './full-ride';
import { hoopRun } from './hoop-run';
import { pendulumClock } from './pendulum-clock';
import { ticketBox, ticketBoxFiles } from './ticket-box';

export interface DemoShot {
  readonly name: string;
  readonly build: () => Shot;
  /** Pictures and meshes that it shows. */
  readonly files: () => readonly DemoFile[];
}

const none = (): readonly DemoFile[] => [];

export const DEMO_PROJECT = 'Harbour Roundabout';
export const DEMO_SHOTS: readonly DemoShot[] = [
  { name: 'Full ride', build: fullRide, files: none },
  { name: 'Ticket box', build: ticketBox, files: ticketBoxFiles },
  { name: 'Hoop run', build: hoopRun, files: none },
  { name: 'Pendulum clock', build: pendulumClock, files: none },
];
export { ShotBuilder } from './shot-builder';
export type { DemoFile } from './files';
