import { EASING_NAMES, EASINGS } from '../../easing';
import { PLAIN } from '../dimension';
import { jitter, smoothNoise } from '../noise';
import { define, type FunctionSpec } from './spec';

const fract = (x: number): number => x - Math.floor(x);

/** Beats, randomness and easings. */
export const SHAPER_FUNCTIONS: readonly FunctionSpec[] = [
  define(
    'pulse',
    'x width',
    ['turns', 'bare'],
    PLAIN,
    (x, width) => (fract(x / 360) < width ? 1 : 0),
    '1 for the first share of each turn, else 0.',
    'pulse(0.1, 0.25)',
  ),
  define(
    'noise',
    'seed x',
    ['bare', 'any'],
    PLAIN,
    (seed, x) => smoothNoise(seed, x),
    'Smooth wandering between -1 and 1, about one swing per unit of x; the same for ever for the same seed.',
    'noise(3, 1.5)',
  ),
  define(
    'jitter',
    'seed x rate',
    ['bare', 'any', 'per'],
    PLAIN,
    (seed, x, rate) => jitter(seed, x, rate),
    'A new value from -1 to 1, rate times per unit of x, held in between; the same for ever for the same seed.',
    'jitter(3, 1.5, 8)',
  ),
  define(
    'ease',
    'kind x',
    ['word', 'bare'],
    PLAIN,
    (kind, x) => EASINGS[kind]!(x),
    `An easing equation from 0 to 1; x is cut to 0..1. Kinds: a family (sine, quad, cubic, quart, quint, expo, circ, back, elastic, bounce) with -in, -out or -in-out.`,
    'ease("back-out", 0.5)',
    { words: EASING_NAMES },
  ),
];
