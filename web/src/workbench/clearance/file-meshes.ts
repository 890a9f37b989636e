import type { Shot } from '../../../../core/document';
import { fileMeshName, type FileMeshes, type Triangles } from '../../../../core/clearance';
import type { Assets } from '../../../../draw';

/** Triangles of the mesh files of a shot that have been read, and how many have not. */
export function fileMeshes(shot: Shot, assets: Assets): { meshes: FileMeshes; missing: number } {
  const meshes: Record<string, Triangles> = {};
  let missing = 0;
  for (const { mesh } of Object.values(shot.shapes)) {
    if (!mesh) continue;
    const geometry = assets.mesh(mesh.asset, mesh.format, mesh.index);
    if (!geometry) {
      missing++;
      continue;
    }
    const points = geometry.getAttribute('position');
    const positions = new Float32Array(points.count * 3);
    for (let i = 0; i < points.count; i++) {
      positions[i * 3] = points.getX(i);
      positions[i * 3 + 1] = points.getY(i);
      positions[i * 3 + 2] = points.getZ(i);
    }
    const index = geometry.getIndex();
    const indices = index
      ? Uint32Array.from(index.array)
      : Uint32Array.from({ length: points.count }, (_, i) => i);
    meshes[fileMeshName(mesh.asset, mesh.index)] = { positions, indices };
  }
  return { meshes, missing };
}
