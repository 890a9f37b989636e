import { LinearMipmapLinearFilter, SRGBColorSpace, Texture, type BufferGeometry } from 'three';
import type { MeshFormat, Shot } from '../../core/document';
import { readMeshFile } from './mesh-file';

/** Gives the stored bytes of a hash. */
export type ReadAsset = (hash: string) => Promise<Uint8Array>;

const ANISOTROPY = 8;

/** Pictures and mesh files of shots, read once each. What has not come yet is `null`. */
export class Assets {
  private readonly textures = new Map<string, Texture | null>();
  private readonly meshes = new Map<string, readonly BufferGeometry[] | null>();
  private readonly pending = new Map<string, Promise<void>>();
  /** Why an asset cannot be shown, by hash. */
  readonly failures = new Map<string, string>();
  /** Called when something has come. */
  onArrival: () => void = () => undefined;

  constructor(private readonly read: ReadAsset) {}

  /** Picture of a hash, or `null` while it is on its way or when it cannot be read. */
  picture(hash: string): Texture | null {
    if (!this.textures.has(hash)) {
      this.textures.set(hash, null);
      this.fetch(hash, async (bytes) => {
        const blob = new Blob([bytes as BlobPart]);
        const bitmap = await createImageBitmap(blob, { imageOrientation: 'flipY', premultiplyAlpha: 'none' });
        const texture = new Texture(bitmap);
        texture.flipY = false;
        texture.colorSpace = SRGBColorSpace;
        texture.minFilter = LinearMipmapLinearFilter;
        texture.anisotropy = ANISOTROPY;
        texture.needsUpdate = true;
        this.textures.set(hash, texture);
      });
    }
    return this.textures.get(hash) ?? null;
  }

  /** Geometry number `index` of a mesh file, in the measures of the file. */
  mesh(hash: string, format: MeshFormat, index: number): BufferGeometry | null {
    if (!this.meshes.has(hash)) {
      this.meshes.set(hash, null);
      this.fetch(hash, async (bytes) => {
        const found = await readMeshFile(format, bytes);
        this.meshes.set(
          hash,
          found.map((mesh) => mesh.geometry),
        );
      });
    }
    return this.meshes.get(hash)?.[index] ?? null;
  }

  /** Takes the geometries of a mesh file that somebody has read already, so that it is not fetched and read again. */
  takeMeshes(hash: string, geometries: readonly BufferGeometry[]): void {
    if (!this.meshes.get(hash)) this.meshes.set(hash, geometries);
  }

  private fetch(hash: string, take: (bytes: Uint8Array) => Promise<void>): void {
    const work = this.read(hash)
      .then(take)
      .catch((error: unknown) => {
        this.failures.set(hash, error instanceof Error ? error.message : String(error));
      })
      .finally(() => {
        this.pending.delete(hash);
        this.onArrival();
      });
    this.pending.set(hash, work);
  }

  /** Waits until everything that a shot shows has come. @throws Error naming the files that cannot be shown */
  async ready(shot: Shot): Promise<void> {
    const wanted = new Map<string, string>();
    for (const look of Object.values(shot.looks))
      for (const picture of Object.values(look.pictures ?? {})) {
        this.picture(picture.asset);
        wanted.set(picture.asset, picture.file);
      }
    for (const { mesh } of Object.values(shot.shapes)) {
      if (!mesh) continue;
      this.mesh(mesh.asset, mesh.format, mesh.index);
      wanted.set(mesh.asset, mesh.file);
    }
    await Promise.all([...this.pending.values()]);
    const failed = [...wanted].filter(([hash]) => this.failures.has(hash));
    if (failed.length > 0)
      throw new Error(
        failed.map(([hash, file]) => `"${file}" cannot be shown: ${this.failures.get(hash)}`).join('; '),
      );
  }

  dispose(): void {
    this.onArrival = () => undefined;
    for (const texture of this.textures.values()) texture?.dispose();
    for (const list of this.meshes.values()) for (const geometry of list ?? []) geometry.dispose();
  }
}
