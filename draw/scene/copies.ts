import { Group, Mesh, type BufferGeometry, type MeshStandardMaterial } from 'three';
import type { Look } from '../../core/document';
import { COPY_LOOK_SIZE, MATRIX_SIZE, type Instances } from '../../core/evaluate';
import type { LookMaterial } from './looks';
import { setMatrix } from './matrix';

export function makeMesh(): Mesh {
  const mesh = new Mesh();
  mesh.castShadow = true;
  mesh.receiveShadow = true;
  return mesh;
}

/** Look of a copy that differs in nothing from its look: opacity, glow, red, green, blue. */
const PLAIN_COPY = [1, 0, 1, 1, 1];

/** The meshes of one solid below a repeat; a copy whose look differs has a material of its own. */
export class Copies {
  readonly group = new Group();
  private readonly meshes: Mesh[] = [];
  private readonly own: MeshStandardMaterial[] = [];

  constructor(
    private readonly shared: LookMaterial,
    private readonly box: boolean,
    private readonly part: string,
  ) {}

  refresh(instances: Instances, geometry: BufferGeometry, look: Look): void {
    while (this.meshes.length < instances.count) {
      const mesh = makeMesh();
      mesh.matrixAutoUpdate = false;
      mesh.matrixWorldAutoUpdate = false;
      mesh.userData.part = this.part;
      this.meshes.push(mesh);
      this.group.add(mesh);
    }
    this.meshes.forEach((mesh, i) => {
      mesh.visible = i < instances.count;
      if (!mesh.visible) return;
      mesh.geometry = geometry;
      setMatrix(mesh.matrixWorld, instances.matrices, i * MATRIX_SIZE);
      mesh.castShadow = this.shared.throws;
      mesh.receiveShadow = this.shared.takes;
      const tint = instances.looks.subarray(i * COPY_LOOK_SIZE, (i + 1) * COPY_LOOK_SIZE);
      mesh.material =
        this.shared.onlyShadow || tint.every((value, k) => value === PLAIN_COPY[k])
          ? this.shared.get(this.box)
          : this.tinted(i, tint, look);
    });
  }

  private tinted(index: number, tint: Float64Array, look: Look): MeshStandardMaterial {
    const shared = this.shared.plain;
    let material = this.own[index];
    // Another kind of surface has other programs.
    if (material?.userData.of !== shared.uuid) {
      material?.dispose();
      material = this.own[index] = this.shared.copy(look);
    }
    const { transparent, map } = material;
    material.copy(shared);
    material.userData.of = shared.uuid;
    const [share = 1, glow = 0, red = 1, green = 1, blue = 1] = tint;
    material.color.setRGB(shared.color.r * red, shared.color.g * green, shared.color.b * blue);
    material.emissive.setRGB(shared.emissive.r * red, shared.emissive.g * green, shared.emissive.b * blue);
    material.emissiveIntensity += glow;
    material.opacity *= share;
    material.transparent = material.opacity < 1 || shared.transparent;
    if (material.transparent !== transparent || material.map !== map) material.needsUpdate = true;
    return material;
  }
}
