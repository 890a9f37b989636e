import type { Shot } from '../core/document';
import { fullRide } from './full-ride';

export interface DemoShot {
  readonly name: string;
  readonly build: () => Shot;
}

export const DEMO_PROJECT = 'Harbour Roundabout';
export const DEMO_SHOTS: readonly DemoShot[] = [{ name: 'Full ride', build: fullRide }];
export { ShotBuilder } from './shot-builder';
