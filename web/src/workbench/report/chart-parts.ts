import type { Told } from './subjects';

/** Colours of subjects, in their order. */
export const COLOURS = ['curve-1', 'curve-5', 'curve-4', 'curve-3', 'curve-2', 'curve-6'] as const;
export const FONT = 'Archivo Variable';

/** Whether a driver goes round, so that motion can be shown round a circle. */
export const goesRound = (driver: Told | null): boolean => driver?.unit === '°';
