import type { CanvasSink, Input, WrappedCanvas } from 'mediabunny';
import { LinearMipmapLinearFilter, SRGBColorSpace, Texture } from 'three';
import type { Picture, Video } from '../../core/document';
import { framesPerSecond } from '../../core/time';

const ANISOTROPY = 8;
/** How far the moments of a file may be off those of an even rate, seconds: WebM writes whole milliseconds. */
const UNEVEN_S = 0.0015;
/** Up to so many pictures further on are reached by decoding those between; beyond, from the last whole one. */
const STEPS = 16;

/** One file of video, opened. */
class VideoFile {
  private constructor(
    readonly input: Input,
    readonly sink: CanvasSink,
    /** When each picture of the file begins, seconds, rising. */
    private readonly times: Float64Array,
    private readonly rate: number,
    private readonly even: boolean,
  ) {}

  /** @throws Error where the file holds no video, or one that this browser does not decode */
  static async open(bytes: Uint8Array, video: Video): Promise<VideoFile> {
    // Loaded where a video is shown only.
    const { ALL_FORMATS, BufferSource, CanvasSink, EncodedPacketSink, Input } = await import('mediabunny');
    const input = new Input({ source: new BufferSource(bytes), formats: ALL_FORMATS });
    const track = await input.getPrimaryVideoTrack();
    if (!track) throw new Error('there is no video in it');
    if (!(await track.canDecode()))
      throw new Error(
        `this browser does not decode ${(await track.getCodec()) ?? 'its coding'}: save the video as MP4 with H.264 or as WebM with VP9`,
      );
    const found: number[] = [];
    for await (const packet of new EncodedPacketSink(track).packets(undefined, undefined, {
      metadataOnly: true,
    }))
      if (packet.timestamp >= 0) found.push(packet.timestamp);
    if (found.length === 0) throw new Error('there is no picture in it');
    const times = Float64Array.from(found).sort();
    const rate = framesPerSecond(video.rate);
    const even =
      times.length === video.pictures &&
      times.every((time, i) => Math.abs(time - times[0]! - i / rate) < UNEVEN_S);
    const sink = new CanvasSink(track, { alpha: await track.canBeTransparent() });
    return new VideoFile(input, sink, times, rate, even);
  }

  /** Number in the file of a picture that is counted at its even rate. */
  private indexOf(picture: number): number {
    const { times } = this;
    if (this.even) return Math.min(times.length - 1, picture);
    const moment = times[0]! + picture / this.rate + UNEVEN_S;
    let [low, high] = [0, times.length - 1];
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (times[middle]! <= moment) low = middle;
      else high = middle - 1;
    }
    return low;
  }

  /** A reader of its pictures, one after another. */
  reader(): Reader {
    let run: AsyncGenerator<WrappedCanvas, void> | null = null;
    let next = -1;
    const at = async (picture: number): Promise<WrappedCanvas> => {
      const index = this.indexOf(picture);
      if (!run || index < next || index - next > STEPS) {
        await run?.return();
        run = this.sink.canvases(this.times[index]);
        next = index;
      }
      for (;;) {
        const { value } = await run.next();
        if (!value) throw new Error(`its picture ${picture + 1} cannot be decoded`);
        if (next++ === index) return value;
      }
    };
    return { at, end: async () => void (await run?.return()) };
  }
}

/** Gives pictures of a video by their numbers; those near one another are read in one run, which is to be ended. */
interface Reader {
  at(picture: number): Promise<WrappedCanvas>;
  end(): Promise<void>;
}

/** A video as one place shows it. */
interface Reel {
  texture: Texture | null;
  shown: number;
  wanted: number;
  /** Reading goes on. */
  busy: Promise<void> | null;
  read: Reader | null;
  left: boolean;
}

/** Pictures of videos, as textures. What is asked for comes later; until then the picture before it is there. */
export class Videos {
  private readonly files = new Map<string, Promise<VideoFile>>();
  private readonly reels = new Map<object, Map<string, Reel>>();

  /**
   * @param read gives the stored bytes of a hash
   * @param came called when a picture has come that was asked for
   * @param failed called with the reason when a video cannot be shown
   */
  constructor(
    private readonly read: (hash: string) => Promise<Uint8Array>,
    private readonly came: () => void,
    private readonly failed: (hash: string, reason: string) => void,
  ) {}

  /** Opens a file. @throws Error where it cannot be shown */
  open(hash: string, video: Video): Promise<VideoFile> {
    let file = this.files.get(hash);
    if (!file) {
      file = this.read(hash).then((bytes) => VideoFile.open(bytes, video));
      this.files.set(hash, file);
    }
    return file;
  }

  /** Whether a picture that was asked for has not come yet. */
  get coming(): boolean {
    for (const reels of this.reels.values()) for (const reel of reels.values()) if (reel.busy) return true;
    return false;
  }

  /** Waits until every picture that was asked for has come. */
  async settled(): Promise<void> {
    while (this.coming)
      for (const reels of this.reels.values()) for (const reel of reels.values()) await reel.busy;
  }

  /**
   * A picture of a video, or the last one that came; `null` before the first.
   * @param asker for whom it plays, at its own pace
   * @param place of the asker where it is
   * @param wanted number of the picture; `null` leaves it at the one it is at
   */
  picture(
    picture: Picture & { video: Video },
    asker: object,
    place: string,
    wanted: number | null,
  ): Texture | null {
    let reels = this.reels.get(asker);
    if (!reels) {
      reels = new Map<string, Reel>();
      this.reels.set(asker, reels);
    }
    const key = `${place} ${picture.asset}`;
    let reel = reels.get(key);
    if (wanted === null) return reel?.texture ?? null;
    if (!reel) {
      for (const [other, past] of reels) if (other.startsWith(`${place} `)) this.drop(reels, other, past);
      reel = { texture: null, shown: -1, wanted, busy: null, read: null, left: false };
      reels.set(key, reel);
    }
    reel.wanted = wanted;
    if (reel.shown !== wanted && !reel.busy) this.play(reel, picture);
    return reel.texture;
  }

  private play(reel: Reel, picture: Picture & { video: Video }): void {
    const run = async (): Promise<void> => {
      reel.read ??= (await this.open(picture.asset, picture.video)).reader();
      while (reel.shown !== reel.wanted && !reel.left) {
        const { wanted } = reel;
        const { canvas } = await reel.read.at(wanted);
        const bitmap = await createImageBitmap(canvas, {
          imageOrientation: 'flipY',
          premultiplyAlpha: 'none',
        });
        if (reel.left) return;
        show(reel, bitmap);
        reel.shown = wanted;
        if (reel.wanted !== wanted) this.came();
      }
    };
    reel.busy = run()
      .catch((error: unknown) => {
        // It is not asked for again: it would fail again.
        reel.shown = reel.wanted;
        this.failed(picture.asset, error instanceof Error ? error.message : String(error));
      })
      .finally(() => {
        reel.busy = null;
        if (reel.left) void reel.read?.end();
        this.came();
      });
  }

  private drop(reels: Map<string, Reel>, key: string, reel: Reel): void {
    reel.left = true;
    // What has been decoded ahead is let go; a reading under way ends first.
    if (!reel.busy) void reel.read?.end();
    reel.texture?.dispose();
    reels.delete(key);
  }

  /** Frees what was shown to somebody. */
  leave(asker: object): void {
    const reels = this.reels.get(asker);
    if (!reels) return;
    for (const [key, reel] of reels) this.drop(reels, key, reel);
    this.reels.delete(asker);
  }

  dispose(): void {
    for (const asker of [...this.reels.keys()]) this.leave(asker);
    for (const file of this.files.values())
      file.then(
        ({ input }) => input.dispose(),
        () => undefined,
      );
    this.files.clear();
  }
}

function show(reel: Reel, bitmap: ImageBitmap): void {
  if (!reel.texture) {
    reel.texture = new Texture(bitmap);
    reel.texture.flipY = false;
    reel.texture.colorSpace = SRGBColorSpace;
    reel.texture.minFilter = LinearMipmapLinearFilter;
    reel.texture.anisotropy = ANISOTROPY;
  } else {
    (reel.texture.image as ImageBitmap).close();
    reel.texture.image = bitmap;
  }
  reel.texture.needsUpdate = true;
}
