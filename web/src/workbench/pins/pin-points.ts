import { Matrix4, Plane, Raycaster, Vector2, Vector3, type Camera } from 'three';
import { partDefinition, shapeDefinition, type PinKind, type Shot } from '../../../../core/document';
import { eyesOf, pinsOf, type NewPin } from '../../../../core/edit';
import type { Evaluator } from '../../../../core/evaluate';
import type { Picture } from '../../../../draw';
import { matricesOf, pivotOf } from '../view/part-place';
import { ownBox, type SnapPoint } from '../view/snap-points';

/** A point that was picked for a pin: on a part, or on the ground of what was picked before. */
export interface PinPick {
  readonly part: string | null;
  readonly point: Vector3;
  /** Where it is, in words. */
  readonly what: string;
}

const PARTS_AT_MOST = 400;

/** Whether a part can be pinned: bodies, and what carries them. */
export const canBePinned = (shot: Shot, part: string): boolean => {
  const { solid, carries } = partDefinition(shot.parts[part]!.kind);
  return solid || carries;
};

/** Points that are caught: of every shown part its turning point, middle, and the middles of its sides, in its x-y plane. */
export function pinPoints(shot: Shot, evaluator: Evaluator, picture: Picture): SnapPoint[] {
  // What carries bodies is meant by a click beside them: its turning point would hide theirs.
  const carrying = new Set<string>();
  for (const [id, part] of Object.entries(shot.parts))
    if (partDefinition(part.kind).solid)
      for (let up = shot.parts[id]!.parent; up !== null && !carrying.has(up); up = shot.parts[up]!.parent)
        if (!partDefinition(shot.parts[up]!.kind).solid) carrying.add(up);
  return evaluator.plan.nodes
    .filter((id, node) => canBePinned(shot, id) && !carrying.has(id) && evaluator.shown[node] === 1)
    .slice(0, PARTS_AT_MOST)
    .flatMap((id) => {
      const { world } = matricesOf(evaluator, id);
      const out: SnapPoint[] = [{ point: pivotOf(evaluator, id), kind: 'pivot', part: id }];
      const eyes = eyesOf(shot, id);
      if (eyes.length > 0) {
        const { shape } = shot.parts[id]!;
        const length = evaluator.number(`${shape}/${shapeDefinition(shot.shapes[shape!]!.kind).eyes!}`);
        for (const share of [...eyes, 0])
          out.push({
            point: new Vector3(share * length, 0, 0).applyMatrix4(world),
            kind: share === 0 ? 'centre' : 'eye',
            part: id,
          });
        return out;
      }
      const box = ownBox(shot, picture, id);
      if (!box) return out;
      const middle = box.getCenter(new Vector3());
      for (const [x, y] of SIDES)
        out.push({
          point: new Vector3(
            x === 0 ? middle.x : x < 0 ? box.min.x : box.max.x,
            y === 0 ? middle.y : y < 0 ? box.min.y : box.max.y,
            middle.z,
          ).applyMatrix4(world),
          kind: x === 0 && y === 0 ? 'centre' : 'edge middle',
          part: id,
        });
      return out;
    });
}

const SIDES = [
  [0, 0],
  [-1, 0],
  [1, 0],
  [0, -1],
  [0, 1],
] as const;

/** A part and all it hangs from, nearest first. */
function chainOf(shot: Shot, part: string): string[] {
  const chain: string[] = [];
  for (let at: string | null = part; at !== null; at = shot.parts[at]!.parent) chain.push(at);
  return chain;
}

/** Which parts a pin between two picks joins: those above them that hang from the same one. */
export function joinedParts(
  shot: Shot,
  first: string,
  second: string | null,
): { readonly a: string; readonly b: string | null; readonly swapped: boolean } | null {
  if (second === null) {
    // Of a body that is made of several parts, the one that is pinned already is meant.
    const pinned = chainOf(shot, first).find((id) => pinsOf(shot, id).length > 0);
    return { a: pinned ?? first, b: null, swapped: false };
  }
  const [one, two] = [chainOf(shot, first), chainOf(shot, second)];
  const common = one.find((id) => two.includes(id)) ?? null;
  if (first === second) return null;
  const below = (chain: readonly string[]): string | undefined =>
    common === null ? chain.at(-1) : chain[chain.indexOf(common) - 1];
  const [a, b] = [below(one), below(two)];
  if (a !== undefined && b !== undefined) return { a, b, swapped: false };
  if (a !== undefined) return { a, b: null, swapped: false };
  return b === undefined ? null : { a: b, b: null, swapped: true };
}

/** A point of the world in the measure of a part, or of what parts at the top hang from. */
export function ownPoint(evaluator: Evaluator, part: string | null, point: Vector3): Vector3 {
  const world = part === null ? new Matrix4() : matricesOf(evaluator, part).world;
  return point.clone().applyMatrix4(world.invert());
}

/** The pin that picks mean, the third a further point of a line; `null` where two points lie on one part. */
export function pinOf(
  shot: Shot,
  evaluator: Evaluator,
  kind: PinKind,
  picks: readonly PinPick[],
): NewPin | null {
  const [first, second, third] = picks;
  if (!first?.part || !second) return null;
  // The same point again: it is held where it lies, by what its part hangs from.
  const again = second.part === first.part && second.point.distanceTo(first.point) < 1e-6;
  const joined = joinedParts(shot, first.part, again ? null : second.part);
  if (!joined) return null;
  const { a, b, swapped } = joined;
  const [held, holder] = swapped ? [second, first] : [first, second];
  const owner = b ?? shot.parts[a]!.parent;
  const at = ownPoint(evaluator, a, held.point);
  const on = ownPoint(evaluator, owner, holder.point);
  const to = third && ownPoint(evaluator, owner, third.point);
  const line = to && to.distanceTo(on) > 1e-9 ? (Math.atan2(to.y - on.y, to.x - on.x) * 180) / Math.PI : 0;
  return { kind, a, b, at: [at.x, at.y], on: [on.x, on.y], ...(kind === 'pin' ? {} : { line }) };
}

/** Where the line of sight through a place of the view meets the plane in which a part is pinned, through a point. */
export function groundAt(
  evaluator: Evaluator,
  shot: Shot,
  first: PinPick,
  camera: Camera,
  place: readonly [x: number, y: number],
): Vector3 | null {
  const parent = first.part === null ? null : shot.parts[first.part]!.parent;
  const frame = parent === null ? new Matrix4() : matricesOf(evaluator, parent).world;
  const normal = new Vector3(0, 0, 1).transformDirection(frame);
  const caster = new Raycaster();
  caster.setFromCamera(new Vector2(...place), camera);
  return caster.ray.intersectPlane(
    new Plane().setFromNormalAndCoplanarPoint(normal, first.point),
    new Vector3(),
  );
}

/** Where a pin stands in the world: the point that holds, and the way of its line. */
export function placeOfPin(
  shot: Shot,
  evaluator: Evaluator,
  id: string,
): { readonly point: Vector3; readonly along: Vector3 | null } | null {
  const pin = shot.pins[id];
  if (!pin || !shot.parts[pin.a]) return null;
  const number = (path: string): number => evaluator.number(`${id}/${path}`);
  const owner = pin.b ?? shot.parts[pin.a]!.parent;
  const frame = owner === null ? new Matrix4() : matricesOf(evaluator, owner).world;
  // In the plane of the part that is held: the other may be drawn before or behind it.
  const depth = ownPoint(
    evaluator,
    owner,
    new Vector3(number('at.x'), number('at.y'), 0).applyMatrix4(matricesOf(evaluator, pin.a).world),
  ).z;
  const point = new Vector3(number('on.x'), number('on.y'), depth).applyMatrix4(frame);
  if (pin.kind === 'pin') return { point, along: null };
  const line = (number('line') * Math.PI) / 180;
  return { point, along: new Vector3(Math.cos(line), Math.sin(line), 0).transformDirection(frame) };
}
