import { acos, cosDeg, sinDeg } from '../math';

/*
 * What handbooks ask of gears and linkages beyond that they fit. Gears: ISO 53 (basic rack: addendum one module), ISO
 * 21771 (contact ratio, undercut); linkages: Norton, "Design of Machinery". Angles in degrees, lengths in one unit.
 */

/** Pressure angle of the basic rack of ISO 53. */
export const PRESSURE_ANGLE = 20;
/** Contact ratio from which gears run quietly: common practice. */
export const CONTACT_RATIO = 1.2;
/** Transmission angles within which a rocker is moved well: common practice. */
export const TRANSMISSION = { least: 40, most: 140 } as const;

/** Half of the way on the line of action that a gear's tip leaves, in modules. */
const tipWay = (teeth: number, tip: number, alpha: number): number => {
  const base = (teeth / 2) * cosDeg(alpha);
  return Math.sqrt(Math.max(0, tip * tip - base * base));
};

/**
 * Pairs of teeth that are in mesh at once, on average, of two outer gears without profile shift.
 * @param alpha pressure angle
 */
export function contactRatio(teeth1: number, teeth2: number, alpha = PRESSURE_ANGLE): number {
  const way =
    tipWay(teeth1, teeth1 / 2 + 1, alpha) +
    tipWay(teeth2, teeth2 / 2 + 1, alpha) -
    ((teeth1 + teeth2) / 2) * sinDeg(alpha);
  return way / (Math.PI * cosDeg(alpha));
}

/** The same of a gear in a ring. */
export function innerContactRatio(teeth: number, ringTeeth: number, alpha = PRESSURE_ANGLE): number {
  const way =
    tipWay(teeth, teeth / 2 + 1, alpha) -
    tipWay(ringTeeth, ringTeeth / 2 - 1, alpha) +
    ((ringTeeth - teeth) / 2) * sinDeg(alpha);
  return way / (Math.PI * cosDeg(alpha));
}

/** The same of a gear on a rack. */
export function rackContactRatio(teeth: number, alpha = PRESSURE_ANGLE): number {
  const way = tipWay(teeth, teeth / 2 + 1, alpha) - (teeth / 2) * sinDeg(alpha) + 1 / sinDeg(alpha);
  return way / (Math.PI * cosDeg(alpha));
}

/** Teeth below which those of a gear without profile shift are undercut by the rack that makes them. */
export const leastTeeth = (alpha = PRESSURE_ANGLE): number => 2 / sinDeg(alpha) ** 2;

/** Angle between coupler and rocker of a four-bar linkage at an angle of its crank; NaN where it cannot close. */
export function transmissionAngle(angle: number, a: number, b: number, c: number, d: number): number {
  const square = a * a + d * d - 2 * a * d * cosDeg(angle);
  const cosine = (b * b + c * c - square) / (2 * b * c);
  return Math.abs(cosine) > 1 + 1e-12 ? NaN : acos(Math.max(-1, Math.min(1, cosine))) * (180 / Math.PI);
}

/** Least and most transmission angle over a whole turn: where crank and ground lie in line. */
export function transmissionRange(a: number, b: number, c: number, d: number): readonly [number, number] {
  const ends = [transmissionAngle(0, a, b, c, d), transmissionAngle(180, a, b, c, d)];
  return [Math.min(...ends), Math.max(...ends)];
}

const digits = (value: number): string => String(Math.round(value * 100) / 100);

/** What is to be known of the teeth of gears that mesh, in sentences. */
export function gearWarnings(
  ratio: number,
  gears: readonly (readonly [name: string, teeth: number])[],
): string[] {
  const least = Math.ceil(leastTeeth());
  return [
    ...gears
      .filter(([, teeth]) => teeth < least)
      .map(
        ([name, teeth]) =>
          `${name} has ${teeth} teeth: below ${least} they are undercut at a pressure angle of ${PRESSURE_ANGLE} degrees (${Math.ceil((leastTeeth() * 5) / 6) - 1} still pass in practice).`,
      ),
    ...(ratio < CONTACT_RATIO
      ? [
          `The contact ratio is ${digits(ratio)}: from ${CONTACT_RATIO} on teeth hand over quietly. More teeth help.`,
        ]
      : []),
  ];
}

/** What is to be known of how a four-bar linkage passes its force on, in sentences. */
export function transmissionWarnings([least, most]: readonly [number, number]): string[] {
  if (least >= TRANSMISSION.least && most <= TRANSMISSION.most) return [];
  return [
    `The transmission angle goes from ${digits(least)} to ${digits(most)} degrees: beyond ${TRANSMISSION.least} to ${TRANSMISSION.most} the coupler pushes the rocker against its pivot rather than round it.`,
  ];
}

/** Spring index, mean diameter by that of the wire, at which springs are wound well. Shigley, chapter 10. */
export const SPRING_INDEX = { least: 4, most: 12 } as const;
/** Diameters beyond which a spring between two plates that stay parallel bends aside. Shigley, chapter 10: 2.63 / 0.5. */
const STEADY = 5.26;

/** A coil: mean radius, radius of the wire, turns and free length. */
export interface Coil {
  readonly radius: number;
  readonly wire: number;
  readonly turns: number;
  readonly length: number;
}

/** Length of a spring whose turns lie on one another, with plain ends: a diameter for each turn and one more. Shigley, chapter 10. */
export const solidLength = ({ wire, turns }: Pick<Coil, 'wire' | 'turns'>): number => 2 * wire * (turns + 1);

/** What is to be known of a spring, in sentences. */
export function springWarnings(coil: Coil): string[] {
  const index = coil.radius / coil.wire;
  const told: string[] = [];
  if (index < SPRING_INDEX.least || index > SPRING_INDEX.most)
    told.push(
      `The spring index is ${digits(index)}: ${index < SPRING_INDEX.least ? 'below 4 the wire is too thick to be wound' : 'above 12 the turns get tangled'}.`,
    );
  if (coil.length <= solidLength(coil))
    told.push(
      'Its turns lie on one another already: it cannot be pressed together. Fewer turns or a thinner wire help.',
    );
  if (coil.length > STEADY * 2 * coil.radius)
    told.push(
      `It is ${digits(coil.length / (2 * coil.radius))} diameters long: beyond ${STEADY} it bends aside when it is pressed.`,
    );
  return told;
}
