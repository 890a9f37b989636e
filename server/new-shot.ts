import { blankShot, type Shot } from '../core/document';
import { addPart, apply, type NewPart } from '../core/edit';

const PARTS: readonly NewPart[] = [
  {
    kind: 'camera',
    name: 'Camera',
    values: { 'location.x': 4, 'location.y': 2.6, 'location.z': 6, 'rotation.x': -17.5, 'rotation.y': 33.7 },
  },
  { kind: 'sun', name: 'Sun', values: { 'rotation.x': -48, 'rotation.y': 38, 'location.y': 6 } },
  { kind: 'sky', name: 'Sky light', values: { 'location.y': 5 } },
  {
    kind: 'solid',
    name: 'Floor',
    shape: { kind: 'cylinder', values: { radius: 6, height: 0.1, sides: 64 } },
    look: { values: { colour: [0.27, 0.24, 0.2], roughness: 0.9 } },
    values: { 'location.y': -0.05 },
  },
];

/** What a new shot holds: a camera, a sun, a sky light and an empty floor. */
export function newShot(): Shot {
  let shot: Shot = blankShot({ background: [0.28, 0.33, 0.38] });
  for (const spec of PARTS) {
    const { change, id } = addPart(shot, spec);
    shot = apply(shot, change);
    // Cameras and suns are aimed by turning about y first, then tilting.
    const part = shot.parts[id]!;
    if (spec.kind !== 'solid')
      shot = { ...shot, parts: { ...shot.parts, [id]: { ...part, rotationOrder: 'YXZ' } } };
  }
  return shot;
}
