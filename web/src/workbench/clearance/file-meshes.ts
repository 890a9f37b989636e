import type { BufferGeometry } from 'three';
import type { Shot } from '../../../../core/document';
import { fileMeshName, type FileMeshes, type Triangles } from '../../../../core/clearance';
import type { Assets } from '../../../../draw';

/** Points and triangles of what has been read of a mesh file. @param size times as large as in the file */
export function trianglesIn(geometry: BufferGeometry, size = 1): Triangles {
  const points = geometry.getAttribute('position');
  const positions = new Float32Array(points.count * 3);
  for (let i = 0; i < points.count; i++) {
    positions[i * 3] = points.getX(i) * size;
    positions[i * 3 + 1] = points.getY(i) * size;
    positions[i * 3 + 2] = points.getZ(i) * size;
  }
  const indices = geometry.getIndex()?.array ?? Uint32Array.from({ length: points.count }, (_, i) => i);
  return { positions, indices };
}

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
    meshes[fileMeshName(mesh.asset, mesh.index)] = trianglesIn(geometry);
  }
  return { meshes, missing };
}
