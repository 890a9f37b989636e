import { blankShot, type Link, type Part, type Shot } from '../core/document';
import { compile, Evaluator } from '../core/evaluate';
import { EASING_NAMES } from '../core/easing';
import { benchShot } from './bench-shot';

/** Formulas that between them call every function whose bits could depend on the engine. */
const FORMULAS = [
  'sin(frame * 7.3deg) + cos(frame * 3.1deg) * tan(frame * 0.7deg)',
  'asin(sin(frame * 1deg)) / 1deg + acos(cos(frame * 1.7deg)) / 1deg + atan(frame / 9) / 1deg',
  'atan2(sin(frame * 11deg), cos(frame * 5deg)) / 1deg',
  'exp(frame / 30) + log(frame + 2) + pow(frame + 0.5, 1.37) + (frame + 1)^0.3',
  'hypot(frame, 3.3) + sqrt(frame + 7) + remap(frame, 0, 96, -1.7, 2.9)',
  'wave(frame / 17) + tri(frame / 13) + saw(frame / 11) + square(frame / 7) + pulse(frame / 5, 0.3)',
  'noise(3.5, frame / 6) + jitter(2, frame, 0.7)',
  'slider(frame * 5deg, 2m, 6m, 1m) / 1m + rodangle(frame * 5deg, 2m, 6m, 1m) / 1deg',
  'cam("modified sine", frame * 9deg, 1m, 120deg, 60deg, 120deg) / 1m + cam("modified trapezoid", frame * 9deg, 1m, 120deg, 60deg, 120deg) / 1m + cam(harmonic, frame * 9deg, 1m, 120deg, 60deg, 120deg) / 1m + cam(cycloidal, frame * 9deg, 1m, 120deg, 60deg, 120deg) / 1m',
  'fourbar(frame * 4deg, 40mm, 120mm, 80mm, 100mm) / 1deg + coupler(frame * 4deg, 40mm, 120mm, 80mm, 100mm) / 1deg',
  'intermittent(frame * 13deg, 6) / 1deg + roll(frame * 1m, 0.35m) / 1deg + rack(frame * 3deg, 0.2m) / 1m',
  'smoothstep(3, 80, frame) + mix(0.1, 0.7, frame / 31) + mod(frame * 1.1, 0.7)',
  ...EASING_NAMES.map((name) => `ease("${name}", progress)`),
];

function functionsShot(): Shot {
  const parts: Record<string, Part> = {};
  FORMULAS.forEach((formula, i) => {
    const links: Record<string, Link> = { 'scale.x': { formula, refs: {} } };
    if (i > 0)
      links['location.y'] = {
        formula: `speed(P${i - 1}.scale.x) * 1m * 1s + worldx(P${i - 1})`,
        refs: { [`P${i - 1}`]: `prt_${i - 1}` },
      };
    parts[`prt_${i}`] = {
      kind: 'hub',
      name: `P${i}`,
      parent: i === 0 ? null : `prt_${i - 1}`,
      order: i,
      rotationOrder: (['XYZ', 'XZY', 'YXZ', 'YZX', 'ZXY', 'ZYX'] as const)[i % 6]!,
      shape: null,
      look: null,
      values: { 'rotation.y': 12.5 * i, 'rotation.x': 7.25, 'location.x': 0.3, 'scale.y': 0.97 },
      tracks: {},
      links,
    };
  });
  return { ...blankShot(), parts };
}

/**
 * One number for all values and matrices of the bench document, and of a document that calls every function, at twenty
 * frames: the bytes, folded by FNV-1a (Fowler, Noll and Vo). Machines that draw one film must agree on it.
 */
export function valueHash(): string {
  let hash = 0x811c9dc5;
  for (const shot of [benchShot(), functionsShot()]) {
    const evaluator = new Evaluator(compile(shot));
    for (let k = 0; k < 20; k++) {
      evaluator.evaluate(1 + k * 4.13);
      for (const numbers of [evaluator.values, evaluator.world]) {
        const bytes = new Uint8Array(numbers.buffer, numbers.byteOffset, numbers.byteLength);
        for (let i = 0; i < bytes.length; i++) hash = Math.imul(hash ^ bytes[i]!, 0x01000193);
      }
    }
  }
  return (hash >>> 0).toString(16).padStart(8, '0');
}
