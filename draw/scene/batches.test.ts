import {
  BoxGeometry,
  InstancedMesh,
  Matrix4,
  Mesh,
  MeshPhysicalMaterial,
  MeshStandardMaterial,
  PerspectiveCamera,
  Scene,
  type BufferGeometry,
  type Material,
} from 'three';
import { describe, expect, it } from 'vitest';
import { Batches, BATCHED_LAYER } from './batches';

const [crate, plank] = [new BoxGeometry(), new BoxGeometry(2, 1, 1)];

function stage() {
  const scene = new Scene();
  const camera = new PerspectiveCamera();
  camera.position.z = 10;
  camera.updateMatrixWorld();
  const mesh = (material: Material, geometry: BufferGeometry, x: number, scale = 1): Mesh => {
    const made = new Mesh(geometry, material);
    made.matrixWorld.makeScale(scale, 1, 1).setPosition(x, 0, 0);
    scene.add(made);
    return made;
  };
  const batches = new Batches();
  const gather = (): InstancedMesh[] => {
    batches.gather(
      scene,
      scene.children.filter((child) => child instanceof Mesh && !(child instanceof InstancedMesh)) as Mesh[],
      camera,
    );
    return scene.children.filter(
      (child) => child instanceof InstancedMesh && child.visible,
    ) as InstancedMesh[];
  };
  const drawn = (one: Mesh): boolean => one.layers.test(camera.layers);
  return { scene, batches, mesh, gather, drawn };
}
const placesOf = (batch: InstancedMesh): number[] =>
  Array.from({ length: batch.count }, (_, i) => {
    const matrix = new Matrix4();
    batch.getMatrixAt(i, matrix);
    return matrix.elements[12];
  });

describe('meshes of one look', () => {
  it('are drawn together by their geometry, the nearest first, and each by itself no more', () => {
    const { mesh, gather, drawn } = stage();
    const wood = new MeshStandardMaterial();
    const all = [5, -1, 3].map((x) => mesh(wood, crate, x));
    const long = mesh(wood, plank, 7);
    const found = gather();
    expect(found.map((batch) => [batch.geometry, batch.count])).toEqual([
      [crate, 3],
      [plank, 1],
    ]);
    expect(placesOf(found[0]!)).toEqual([-1, 3, 5]);
    expect(found.every((batch) => batch.material === wood)).toBe(true);
    for (const one of [...all, long]) {
      expect(drawn(one)).toBe(false);
      expect(one.layers.isEnabled(BATCHED_LAYER)).toBe(true);
    }
  });
  it('are drawn one by one where they are few, seen through, bent by or mirrored', () => {
    const { mesh, gather, drawn } = stage();
    const few = [new MeshStandardMaterial()].flatMap((material) =>
      [1, 2].map((x) => mesh(material, crate, x)),
    );
    const clear = new MeshStandardMaterial({ transparent: true });
    const glass = new MeshPhysicalMaterial({ transmission: 1 });
    const paint = new MeshStandardMaterial();
    const others = [clear, glass].flatMap((material) => [1, 2, 3, 4].map((x) => mesh(material, crate, x)));
    // One that is mirrored keeps all of its material apart: two programs of one material would take turns.
    const mirrored = [1, 2, 3, 4].map((x) => mesh(paint, crate, x, x === 2 ? -1 : 1));
    expect(gather()).toEqual([]);
    for (const one of [...few, ...others, ...mirrored]) expect(drawn(one)).toBe(true);
  });
  it('come and go: the next picture has those that are there', () => {
    const { scene, mesh, gather, drawn, batches } = stage();
    const wood = new MeshStandardMaterial();
    const all = [1, 2, 3, 4].map((x) => mesh(wood, crate, x));
    expect(gather()[0]!.count).toBe(4);
    scene.remove(all[0]!);
    all[1]!.matrixWorld.setPosition(9, 0, 0);
    expect(placesOf(gather()[0]!)).toEqual([3, 4, 9]);
    expect(drawn(all[0]!)).toBe(true);
    for (let x = 5; x < 40; x++) mesh(wood, crate, x);
    expect(gather()[0]!.count).toBe(38);
    scene.remove(
      ...all.slice(1),
      ...scene.children.slice(5, 50).filter((child) => !(child instanceof InstancedMesh)),
    );
    expect(gather()).toEqual([]);
    batches.forget();
    expect(scene.children.some((child) => child instanceof InstancedMesh)).toBe(false);
  });
});
