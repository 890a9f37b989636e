import {
  DynamicDrawUsage,
  InstancedMesh,
  Material,
  MeshPhysicalMaterial,
  Vector3,
  type BufferGeometry,
  type Camera,
  type Mesh,
  type Scene,
} from 'three';

/** Layer of meshes that are drawn together with others: cameras do not see it, those who pick look at it, too. */
export const BATCHED_LAYER = 1;
/** A material of fewer meshes is not worth it. */
const FEWEST = 3;

/** Meshes that share a material, by the geometry that they have. */
type ByGeometry = Map<BufferGeometry, Mesh[]>;

/** Whether a mesh can be drawn together with others of its material. */
function joins(mesh: Mesh): mesh is Mesh<BufferGeometry, Material> {
  const { material } = mesh;
  return (
    material instanceof Material &&
    !material.transparent &&
    !(material instanceof MeshPhysicalMaterial && material.transmission > 0) &&
    mesh.children.length === 0 &&
    // Where a mesh is mirrored its triangles turn the other way, which is told for all of a batch at once.
    mesh.matrixWorld.determinant() > 0
  );
}

/**
 * Draws meshes of the same geometry and material in one go. A material is drawn either so or mesh by mesh, since each way has
 * a program of its own.
 */
export class Batches {
  private readonly batches: InstancedMesh[] = [];
  private used = 0;
  private joined: Mesh[] = [];

  /** Brings the batches to where the meshes are. @param camera nearer meshes are drawn first, so that they hide others in time */
  gather(scene: Scene, meshes: readonly Mesh[], camera: Camera): void {
    this.release();
    const found = new Map<Material, { count: number; geometries: ByGeometry } | null>();
    for (const mesh of meshes) {
      const { material, geometry } = mesh;
      if (!joins(mesh)) {
        if (material instanceof Material) found.set(material, null);
        continue;
      }
      let of = found.get(mesh.material);
      if (of === null) continue;
      if (!of) found.set(mesh.material, (of = { count: 0, geometries: new Map() }));
      of.count++;
      const list = of.geometries.get(geometry);
      if (list) list.push(mesh);
      else of.geometries.set(geometry, [mesh]);
    }
    for (const [material, of] of found) {
      if (!of || of.count < FEWEST) continue;
      for (const [geometry, list] of of.geometries) this.batch(scene, material, geometry, list, camera);
    }
    for (const batch of this.batches.slice(this.used)) batch.visible = false;
  }

  private batch(
    scene: Scene,
    material: Material,
    geometry: BufferGeometry,
    list: Mesh[],
    camera: Camera,
  ): void {
    let batch = this.batches[this.used];
    if (!batch || batch.instanceMatrix.count < list.length) {
      batch?.removeFromParent();
      batch?.dispose();
      batch = new InstancedMesh(geometry, material, 2 ** Math.ceil(Math.log2(list.length)));
      batch.instanceMatrix.setUsage(DynamicDrawUsage);
      batch.frustumCulled = false;
      batch.matrixAutoUpdate = batch.matrixWorldAutoUpdate = false;
      this.batches[this.used] = batch;
    }
    this.used++;
    EYE.setFromMatrixPosition(camera.matrixWorld);
    const far = new Map(
      list.map((mesh) => [mesh, EYE.distanceToSquared(AT.setFromMatrixPosition(mesh.matrixWorld))]),
    );
    list.sort((a, b) => far.get(a)! - far.get(b)!);
    batch.geometry = geometry;
    batch.material = material;
    batch.castShadow = list[0]!.castShadow;
    batch.receiveShadow = list[0]!.receiveShadow;
    batch.count = list.length;
    batch.visible = true;
    const { array } = batch.instanceMatrix;
    list.forEach((mesh, i) => {
      mesh.matrixWorld.toArray(array, i * 16);
      mesh.layers.set(BATCHED_LAYER);
      this.joined.push(mesh);
    });
    batch.instanceMatrix.needsUpdate = true;
    if (batch.parent !== scene) scene.add(batch);
  }

  /** Lets every mesh be drawn by itself again. */
  private release(): void {
    for (const mesh of this.joined) mesh.layers.set(0);
    this.joined = [];
    this.used = 0;
  }

  /** To be called when the scene has been emptied. */
  forget(): void {
    this.release();
    for (const batch of this.batches.splice(0)) {
      batch.removeFromParent();
      batch.dispose();
    }
  }
}

const EYE = new Vector3();
const AT = new Vector3();
