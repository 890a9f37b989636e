import { PerspectiveCamera, Vector3, type BufferGeometry, type Camera, type Mesh } from 'three';

const MIDDLE = new Vector3();

/** Size in the picture of a metre of a mesh, at the point of it that is nearest to the camera; pixels. */
export function pixelsOfMetre(mesh: Mesh, geometry: BufferGeometry, camera: Camera, height: number): number {
  if (!geometry.boundingSphere) geometry.computeBoundingSphere();
  const { center, radius } = geometry.boundingSphere!;
  const scale = mesh.matrixWorld.getMaxScaleOnAxis();
  const magnified = (camera.projectionMatrix.elements[5] * height) / 2;
  if (!(camera instanceof PerspectiveCamera)) return scale * magnified;
  MIDDLE.copy(center).applyMatrix4(mesh.matrixWorld).applyMatrix4(camera.matrixWorldInverse);
  return (scale * magnified) / Math.max(camera.near, -MIDDLE.z - radius * scale);
}
