import { Group, Mesh, type BufferGeometry, type MeshStandardMaterial } from 'three';
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

  refresh(instances: Instances, geometry: BufferGeometry, opacity: number): void {
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
      const look = instances.looks.subarray(i * COPY_LOOK_SIZE, (i + 1) * COPY_LOOK_SIZE);
      mesh.material = look.every((value, k) => value === PLAIN_COPY[k])
        ? this.shared.get(this.box)
        : this.tinted(i, look, opacity);
    });
  }

  private tinted(index: number, look: Float64Array, opacity: number): MeshStandardMaterial {
    const shared = this.shared.plain;
    const material = (this.own[index] ??= shared.clone());
    const [share = 1, glow = 0, red = 1, green = 1, blue = 1] = look;
    material.color.setRGB(shared.color.r * red, shared.color.g * green, shared.color.b * blue);
    material.emissive.copy(material.color);
    material.emissiveIntensity = shared.emissiveIntensity + glow;
    material.metalness = shared.metalness;
    material.roughness = shared.roughness;
    material.opacity = opacity * share;
    material.transparent = material.opacity < 1 || shared.alphaTest > 0;
    if (material.map !== shared.map) {
      material.map = shared.map;
      material.emissiveMap = shared.map;
      material.needsUpdate = true;
    }
    return material;
  }
}
