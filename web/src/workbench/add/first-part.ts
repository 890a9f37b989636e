import { Matrix4, Sphere, Vector3 } from 'three';
import { partDefinition, type Shot } from '../../../../core/document';
import { addPart, apply, compose, setValues, type Change, type NewPart } from '../../../../core/edit';
import { cameraWidth, compile, Evaluator } from '../../../../core/evaluate';
import { buildMesh } from '../../../../core/shape';
import { make } from '../actions/choosing';
import type { Session } from '../session';
import { matricesOf } from '../view/part-place';
import { bringIntoView } from '../view/view-commands';

/** Share of the picture's height that a ball round the first thing fills: the thing itself then fills about a third. */
const FILLS = 0.58;

/** Whether a shot holds nothing yet but what every new one has: a floor, a camera, light. */
function isBare(shot: Shot): boolean {
  const parts = Object.values(shot.parts);
  return (
    parts.filter((part) => !partDefinition(part.kind).given).length <= 1 &&
    parts.every((part) => Object.keys(part.tracks).length + Object.keys(part.links).length === 0)
  );
}

/** Ball round a part's shape in the world, or `null` for what shows nothing. */
function ballOf(shot: Shot, evaluator: Evaluator, id: string): Sphere | null {
  const { shape } = shot.parts[id]!;
  const form = shape === null ? undefined : shot.shapes[shape];
  if (!form || form.kind === 'mesh') return null;
  const { positions } = buildMesh(form, (path) => evaluator.number(`${shape}/${path}`));
  const points: Vector3[] = [];
  for (let i = 0; i < positions.length; i += 3)
    points.push(new Vector3(positions[i], positions[i + 1], positions[i + 2]));
  if (points.length === 0) return null;
  return new Sphere().setFromPoints(points).applyMatrix4(matricesOf(evaluator, id).world);
}

/** The camera moved along the way that it looks, so that a ball stands in the middle of its picture and fills its share. */
function cameraTo(shot: Shot, evaluator: Evaluator, ball: Sphere): Change | null {
  const { camera, width, height } = shot.setup;
  if (camera === null || shot.parts[camera]!.parent !== null) return null;
  const slope = (cameraWidth(evaluator, camera).slope * Math.min(height, width)) / width;
  // With parallel lines going nearer changes nothing.
  if (slope === 0) return null;
  const away = ball.radius / (FILLS * slope);
  const back = new Vector3().setFromMatrixColumn(new Matrix4().copy(matricesOf(evaluator, camera).world), 2);
  const place = ball.center.clone().addScaledVector(back.normalize(), away);
  const tidy = (value: number): number => Number(value.toFixed(3)) + 0;
  return setValues(shot, [
    [`${camera}/location.x`, tidy(place.x)],
    [`${camera}/location.y`, tidy(place.y)],
    [`${camera}/location.z`, tidy(place.z)],
  ]);
}

/** Adds a part and chooses it. The first thing of a new shot is looked at, in the view and by the camera. */
export function addAndShow(session: Session, spec: NewPart): void {
  let first: string | null = null;
  const done = make(session, (shot) => {
    const { change, id } = addPart(shot, spec);
    const after = apply(shot, change);
    if (!isBare(shot) || !partDefinition(spec.kind).solid) return { change, ids: [id] };
    first = id;
    const evaluator = new Evaluator(compile(after));
    evaluator.evaluate(session.time.now.frame);
    const ball = ballOf(after, evaluator, id);
    const looked = ball && cameraTo(after, evaluator, ball);
    return { change: looked ? { ...compose(change, looked), label: change.label } : change, ids: [id] };
  });
  // The view knows the new part once it has drawn it.
  if (done && first !== null)
    requestAnimationFrame(() => requestAnimationFrame(() => bringIntoView([first!])));
}
