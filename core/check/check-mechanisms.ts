import { channelAt, ownerName, type Recipe } from '../document';
import { channelName } from '../edit';
import { Evaluator, pivotDistance, type Plan } from '../evaluate';
import { centreDistance, innerCentreDistance, rollAngle } from '../mechanism';
import { framesToLookAt } from './frames';
import type { Problem } from './problem';

/** Share of the radius by which a wheel may slip before it is told. */
const SLIP = 1e-3;
/** Share of the module by which the centres of two gears may be off. */
const OFF = 0.02;

/** Mechanisms that were made by recipes and no longer do what the recipe promises. */
export function checkMechanisms(plan: Plan): Problem[] {
  const problems: Problem[] = [];
  for (const recipe of Object.values(plan.shot.recipes)) {
    if (recipe.kind === 'roll') problems.push(...checkSlip(plan, recipe));
    if (recipe.kind === 'gear-outer' || recipe.kind === 'gear-inner')
      problems.push(...checkGears(plan, recipe));
  }
  return problems;
}

/** Way that a wheel goes against the way that it turns: the difference, since the first frame, is slip. */
function checkSlip(plan: Plan, recipe: Recipe): Problem[] {
  const { way, wheel } = recipe.parts;
  const address = (owner: unknown, role: string): string | null => {
    const path = recipe.numbers[`${role} path`];
    const found = `${String(owner)}/${String(path)}`;
    return channelAt(plan.shot, found) ? found : null;
  };
  const [from, turned] = [address(way, 'way'), address(wheel, 'wheel')];
  const radius = recipe.numbers.radius;
  if (from === null || turned === null || typeof radius !== 'number') return [];
  const sign =
    (from.endsWith('z') && turned.endsWith('x') ? -1 : 1) * (recipe.numbers.reverse === true ? -1 : 1);
  const evaluator = new Evaluator(plan);
  evaluator.evaluate(plan.shot.setup.first);
  const start = { way: evaluator.number(from), turn: evaluator.number(turned) };
  let worst = { slip: 0, frame: plan.shot.setup.first };
  for (const frame of framesToLookAt(plan.shot.setup)) {
    evaluator.evaluate(frame);
    const rolled = sign * rollAngle(evaluator.number(from) - start.way, radius);
    const off = evaluator.number(turned) - start.turn - rolled;
    const slip = (Math.abs(off) * Math.PI * radius) / 180;
    if (slip > worst.slip) worst = { slip, frame };
  }
  if (worst.slip <= SLIP * radius) return [];
  const millimetres = Math.round(worst.slip * 1e6) / 1e3;
  return [
    {
      code: 'roll.slips',
      severity: 'warning',
      address: turned,
      frame: worst.frame,
      amount: worst.slip,
      message: `${channelName(plan.shot, turned)} slips: at frame ${worst.frame} it is ${millimetres} mm off the way that it has gone.`,
    },
  ];
}

function checkGears(plan: Plan, recipe: Recipe): Problem[] {
  const problems: Problem[] = [];
  const { shot } = plan;
  const [one, two] = [recipe.parts.driver, recipe.parts.driven].map((id) =>
    typeof id === 'string' ? id : '',
  );
  const evaluator = new Evaluator(plan);
  evaluator.evaluate(shot.setup.first);
  const add = (code: Problem['code'], message: string, amount?: number): void => {
    problems.push({
      code,
      severity: 'warning',
      address: two!,
      message,
      ...(amount === undefined ? {} : { amount }),
    });
  };
  const gearOf = (id: string): { teeth: number; module: number } | null => {
    const shape = shot.parts[id]?.shape;
    if (!shape || shot.shapes[shape]?.kind !== 'gear') return null;
    return { teeth: evaluator.number(`${shape}/teeth`), module: evaluator.number(`${shape}/module`) };
  };
  const [a, b] = [gearOf(one!), gearOf(two!)];
  const names = `${ownerName(shot, one!)} and ${ownerName(shot, two!)}`;
  const [z1, z2] = [Number(recipe.numbers.teeth1), Number(recipe.numbers.teeth2)];
  if (a && b && Math.abs(a.module - b.module) > 1e-9 * a.module)
    add(
      'gear.module',
      `${names} do not mesh: their modules are ${a.module} and ${b.module}. Give both the same.`,
    );
  for (const [gear, teeth, id] of [
    [a, z1, one!],
    [b, z2, two!],
  ] as const)
    if (gear && gear.teeth !== teeth)
      add(
        'gear.teeth',
        `${ownerName(shot, id)} has ${gear.teeth} teeth, the gear pair was made for ${teeth}.`,
      );
  const [n1, n2] = [plan.nodeOf.get(one!), plan.nodeOf.get(two!)];
  const module = a?.module ?? b?.module;
  if (n1 === undefined || n2 === undefined || module === undefined) return problems;
  const wanted =
    recipe.kind === 'gear-outer' ? centreDistance(module, z1, z2) : innerCentreDistance(module, z1, z2);
  const found = pivotDistance(evaluator.instant, n1, n2);
  if (Math.abs(found - wanted) > OFF * module)
    add(
      'gear.distance',
      `${names} do not mesh: their centres are ${Math.round(found * 1e6) / 1e6} m apart, ${Math.round(wanted * 1e6) / 1e6} m are needed.`,
      found - wanted,
    );
  return problems;
}
