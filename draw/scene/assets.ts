import { LinearMipmapLinearFilter, SRGBColorSpace, Texture, type BufferGeometry } from 'three';
import { picturesOf, type MeshFormat, type Picture, type Shot } from '../../core/document';
import type { Evaluator } from '../../core/evaluate';
import { videoPicture } from '../../core/film';
import { readMeshFile } from './mesh-file';
import { Videos } from './videos';

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
  /** Called when a picture of a video has come that was asked for. */
  onPicture: () => void = () => undefined;
  /** Videos stand still: what is asked for is the picture that is there. */
  hold = false;
  private readonly videos: Videos;

  constructor(private readonly read: ReadAsset) {
    this.videos = new Videos(
      read,
      () => this.onPicture(),
      (hash, reason) => {
        this.failures.set(hash, reason);
        this.onArrival();
      },
    );
  }

  /** Whether a picture of a video that was asked for has not come yet. */
  get coming(): boolean {
    return this.videos.coming;
  }

  /** Waits until the pictures of videos that were asked for have come; `failures` says which cannot be shown. */
  async settled(): Promise<void> {
    await this.videos.settled();
  }

  /**
   * A picture as it is shown at the evaluated frame; a video shows the one whose turn it is.
   * @param asker on what it is, and the place there
   * @param shift of a video, pictures
   */
  pictureAt(
    picture: Picture,
    asker: readonly [what: object, place: string],
    evaluator: Evaluator,
    shift = 0,
  ): Texture | null {
    const { video } = picture;
    if (!video) return this.picture(picture.asset);
    const wanted = videoPicture(video, evaluator.frame, evaluator.plan.shot.setup.rate, shift);
    return this.videos.picture({ ...picture, video }, ...asker, this.hold ? null : wanted);
  }

  /** Frees the pictures of videos that somebody has shown. */
  leave(asker: object): void {
    this.videos.leave(asker);
  }

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
    const films: Promise<unknown>[] = [];
    for (const { picture } of picturesOf(shot)) {
      const { asset, file, video } = picture;
      if (video)
        films.push(
          this.videos.open(asset, video).catch((error: Error) => this.failures.set(asset, error.message)),
        );
      else this.picture(asset);
      wanted.set(asset, file);
    }
    for (const { mesh } of Object.values(shot.shapes)) {
      if (!mesh) continue;
      this.mesh(mesh.asset, mesh.format, mesh.index);
      wanted.set(mesh.asset, mesh.file);
    }
    await Promise.all([...this.pending.values(), ...films]);
    const failed = [...wanted].filter(([hash]) => this.failures.has(hash));
    if (failed.length > 0)
      throw new Error(
        failed.map(([hash, file]) => `"${file}" cannot be shown: ${this.failures.get(hash)}`).join('; '),
      );
  }

  dispose(): void {
    this.onArrival = this.onPicture = () => undefined;
    this.videos.dispose();
    for (const texture of this.textures.values()) texture?.dispose();
    for (const list of this.meshes.values()) for (const geometry of list ?? []) geometry.dispose();
  }
}
