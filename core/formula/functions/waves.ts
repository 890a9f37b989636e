import * as m from '../../math';
import { PLAIN } from '../dimension';
import { define, type FunctionSpec } from './spec';

const fract = (x: number): number => x - Math.floor(x);

/** What goes up and down with every turn. */
export const WAVE_FUNCTIONS: readonly FunctionSpec[] = [
  define(
    'wave',
    'x',
    ['turns'],
    PLAIN,
    (x) => m.sinDeg(x),
    'Sine wave from -1 to 1, once per turn.',
    'wave(0.25)',
  ),
  define(
    'tri',
    'x',
    ['turns'],
    PLAIN,
    (x) => 4 * Math.abs(fract(x / 360 - 0.25) - 0.5) - 1,
    'Triangle wave from -1 to 1 in step with the sine.',
    'tri(0.1)',
  ),
  define('saw', 'x', ['turns'], PLAIN, (x) => fract(x / 360), 'Rises from 0 to 1 once per turn.', 'saw(2.3)'),
  define(
    'square',
    'x',
    ['turns'],
    PLAIN,
    (x) => (fract(x / 360) < 0.5 ? 1 : -1),
    '1 in the first half of each turn, -1 in the second.',
    'square(0.6)',
  ),
];
