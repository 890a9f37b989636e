import { cosDeg, sinDeg } from '../../math';
import { BRASS, type Builder, channel, IRON, itself, numbers, PAINT, type Planner, WOOD } from './planner';

/** A turning disc on the shaft along z with a pin beside its middle, that shows how far it has turned. */
function crankDisc(plan: Planner, name: string, throwOf: number, z: number, parent: string): string {
  const wheel = plan.hub(name, { 'location.z': z }, parent);
  plan.round(`${name} disc`, throwOf * 1.3, throwOf * 0.25, IRON, {}, wheel);
  plan.round(
    `${name} pin`,
    throwOf * 0.18,
    throwOf * 0.7,
    BRASS,
    { 'location.x': throwOf, 'location.z': throwOf * 0.45 },
    wheel,
  );
  return wheel;
}

const phase: Builder = (plan, settings) => {
  const [throwOf] = numbers(settings, 'throw') as [number];
  const order = settings.order as readonly number[];
  const count = order.length > 0 ? order.length : (settings.count as number);
  plan.stand('Crankshaft', throwOf * 1.6);
  const apart = throwOf * 1.4;
  const length = apart * (count + 1);
  const shaft = plan.hub('Shaft', { 'location.z': length / 2 });
  plan.round('Flywheel', throwOf * 1.5, throwOf * 0.3, WOOD, {}, shaft);
  plan.round('Axle', throwOf * 0.15, length, IRON, { 'location.z': -length / 2 }, shaft);
  const stand = plan.hub('Cranks', { 'location.z': length / 2 });
  const cranks = Array.from({ length: count }, (_, i) =>
    crankDisc(plan, `Crank ${i + 1}`, throwOf, -apart * (i + 1), stand),
  );
  return {
    driver: channel(shaft, 'rotation.z'),
    driven: cranks.map((slot) => channel(slot, 'rotation.z')),
  };
};

const stagger: Builder = (plan, settings) => {
  const [count, radius] = numbers(settings, 'count', 'radius') as [number, number];
  plan.stand('Row of floats', radius);
  const apart = radius * 2.4;
  const float = (name: string, i: number, leads: boolean): string => {
    const slot = plan.hub(name, { 'location.x': apart * (i - count / 2) });
    plan.solid(`${name} ball`, { kind: 'ball', values: { radius } }, leads ? BRASS : PAINT, {}, slot);
    return slot;
  };
  const leader = float('Leading float', 0, true);
  const followers = Array.from({ length: count }, (_, i) => float(`Float ${i + 1}`, i + 1, false));
  return {
    driver: channel(leader, 'location.y'),
    driven: followers.map((slot) => channel(slot, 'location.y')),
  };
};

const follow: Builder = (plan, settings) => {
  const [length] = numbers(settings, 'length') as [number];
  const width = length * 0.14;
  plan.stand('Lever and pointer', length * 0.4);
  const arm = (name: string, side: 1 | -1, colour: typeof BRASS): string => {
    const hub = plan.hub(name, { 'location.x': side * length * 0.7 });
    plan.round(`${name} boss`, width * 0.9, width, IRON, {}, hub);
    plan.box(`${name} arm`, [width * 0.6, length, width * 0.5], colour, { 'location.y': length / 2 }, hub);
    return hub;
  };
  const lever = arm('Lever', -1, WOOD);
  const pointer = arm('Pointer', 1, BRASS);
  return { driver: channel(lever, 'rotation.z'), driven: [channel(pointer, 'rotation.z')] };
};

const POINTS = 8;
/** How deep the track is for its width. */
const OVAL = 0.6;

const rollPath: Builder = (plan, settings) => {
  const [radius, track] = numbers(settings, 'radius', 'track') as [number, number];
  plan.stand('Rolling wheel', 0);
  const path = plan.hub('Track');
  for (let i = 0; i < POINTS; i++) {
    const turn = (360 * i) / POINTS;
    const at = { 'location.x': track * cosDeg(turn), 'location.z': -track * OVAL * sinDeg(turn) };
    plan.hub(`Track point ${i + 1}`, at, path);
  }
  const carriage = plan.carried('Carriage', path);
  const axle = plan.hub('Wheel axle', { 'location.y': radius }, carriage);
  const wheel = plan.hub('Wheel', {}, axle);
  plan.round('Rim', radius, radius * 0.3, WOOD, {}, wheel);
  plan.round('Boss', radius * 0.25, radius * 0.5, BRASS, {}, wheel);
  plan.round('Mark', radius * 0.1, radius * 0.36, BRASS, { 'location.x': radius * 0.75 }, wheel);
  return { follower: itself(carriage), wheel: channel(wheel, 'rotation.z') };
};

/** What shows how parts follow one another: a crankshaft, a row of floats, a lever and its pointer, a wheel on a
 * track. */
export const FOLLOWER_BUILDERS: Readonly<Record<string, Builder>> = {
  phase,
  stagger,
  follow,
  'roll-path': rollPath,
};
