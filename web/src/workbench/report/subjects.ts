import { channelAt, linkOf, type Shot } from '../../../../core/document';
import { channelName } from '../../../../core/edit';
import { METRES_PER_UNIT } from '../../../../core/formula';
import { recipeOf } from '../../../../core/recipe';
import type { MotionSubject } from '../../../../core/report';

/** Unit in which a subject is told, and what its house numbers are multiplied by. */
export interface Told {
  readonly name: string;
  readonly unit: string;
  readonly per: number;
}

/** How a subject is written, in the shot's unit. */
export function toldOf(shot: Shot, subject: MotionSubject): Told {
  const { unit } = shot.setup;
  const length = { unit, per: 1 / METRES_PER_UNIT[unit] };
  if (subject.kind !== 'channel') {
    const name = shot.parts[subject.part]?.name ?? 'gone';
    return {
      name: subject.kind === 'place' ? `${name} at world ${subject.axis.toUpperCase()}` : `${name}, way gone`,
      ...length,
    };
  }
  const name = channelName(shot, subject.address);
  switch (channelAt(shot, subject.address)?.spec.quantity) {
    case 'length':
      return { name, ...length };
    case 'angle':
      return { name, unit: '°', per: 1 };
    case 'time':
      return { name, unit: 's', per: 1 };
    default:
      return { name, unit: '', per: 1 };
  }
}

/** Units of value, speed, acceleration and jerk, over time or over a driver. */
export function unitsOf(unit: string, driver: Told | null): readonly [string, string, string, string] {
  const one = unit === '' ? '1' : unit;
  const by = driver === null ? 's' : driver.unit === '°' ? 'rad' : driver.unit || '1';
  return [unit, `${one}/${by}`, `${one}/${by}²`, `${one}/${by}³`];
}

export const sameSubject = (a: MotionSubject, b: MotionSubject): boolean =>
  JSON.stringify(a) === JSON.stringify(b);

/** A number as a report shows it: five digits. */
export const digits = (value: number): string => {
  const text = String(Number(value.toPrecision(5)));
  return Number(text) === 0 ? '0' : text.replace('-', '−');
};

/** Law of the cam that lifts a channel, in words; `null` for what no cam lifts. */
export function lawOf(shot: Shot, address: string): string | null {
  const recipe = recipeOf(shot, address)?.recipe;
  if (recipe?.kind === 'cam') {
    const { law, rise, dwell, fall } = recipe.numbers;
    const [up, still, down] = [rise, dwell, fall].map((span) => digits(Number(span)));
    return `Lifted by the law ${String(law)}: up over ${up}°, still for ${still}°, down over ${down}°`;
  }
  const written = /\bcam\(\s*"?([^",]+)"?\s*,/.exec(linkOf(shot, address)?.formula ?? '');
  return written ? `Lifted by the law ${written[1]!.trim()}` : null;
}
