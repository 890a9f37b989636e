import { createStore, type StoreApi } from 'zustand/vanilla';
import type { Plan } from '../../../core/evaluate';
import { insetsOf } from '../../../core/inset';
import {
  layerOf,
  reelFrames,
  reelPicture,
  spansOf,
  titleShot,
  type Layer,
  type Reel,
  type ReelPicture,
  type Shown,
  type Span,
} from '../../../core/reel';
import type { ReelAnswer, ReelPort, SentScene } from './scene-order';

/** Pixels of the longer side of a picture. */
const SIDE = 480;
/** Bytes of pictures that are held. */
const HELD_BYTES = 384 * 1024 * 1024;

/** What is drawn of a reel. */
export interface Progress {
  /** For each frame of the reel from its first on, whether all that it shows is drawn. */
  readonly drawn: readonly boolean[];
  /** Why a shot cannot be drawn, by what was asked for. */
  readonly failed: ReadonlyMap<string, string>;
  /** Goes up with every picture that comes. */
  readonly came: number;
}

/** A frame of the reel as pictures; `null` where one is not drawn yet. */
export interface Seen {
  readonly picture: ReelPicture;
  readonly below: ImageBitmap | null;
  readonly shown: ImageBitmap | null;
  readonly whole: boolean;
}

const makeWorker = (): ReelPort =>
  new Worker(new URL('./reel-worker.ts', import.meta.url), { type: 'module' }) as unknown as ReelPort;

const nameOf = ({ scene, frame }: Layer): string => `${scene} ${frame}`;

/**
 * Pictures of the frames of a reel: drawn small in a worker, those at the playhead and after it first, and held so that
 * the reel can be played. What of a shot was drawn is let go when somebody changes it.
 */
export class ReelPictures {
  readonly store: StoreApi<Progress> = createStore(() => ({ drawn: [], failed: new Map(), came: 0 }));
  private readonly port: ReelPort;
  private readonly held = new Map<string, ImageBitmap>();
  private readonly failed = new Map<string, string>();
  private bytes = 0;
  private reel: Reel | null = null;
  private spans: readonly Span[] = [];
  private size = { width: 0, height: 0 };
  /** What was sent of each scene: the plan of a shot, or what a title was. */
  private readonly sent = new Map<string, Plan | string>();
  private asked: string | null = null;
  private frame = 1;
  private telling = false;

  constructor(
    private readonly planOf: (shot: string) => Plan | null,
    makePort: () => ReelPort = makeWorker,
  ) {
    this.port = makePort();
    this.port.onmessage = ({ data }) => this.took(data);
  }

  /** Takes the reel as it is now. */
  setReel(reel: Reel): void {
    this.reel = reel;
    this.spans = spansOf(reel);
    const scale = Math.min(1, SIDE / Math.max(reel.width, reel.height));
    const size = {
      width: Math.max(1, Math.round(reel.width * scale)),
      height: Math.max(1, Math.round(reel.height * scale)),
    };
    if (size.width !== this.size.width || size.height !== this.size.height) {
      this.size = size;
      this.port.postMessage({ size });
      this.forget(() => true);
      this.sent.clear();
    }
    this.look();
  }

  /** Looks for shots that have come, or have changed, and draws on. */
  look(): void {
    for (const { item } of this.spans) {
      const scene = this.sceneOf(item);
      const wanted = this.wanted(item);
      if (!wanted || this.sent.get(scene) === wanted.mark) continue;
      if (this.sent.has(scene)) this.forget((name) => name.startsWith(`${scene} `));
      this.sent.set(scene, wanted.mark);
      this.port.postMessage(wanted.scene());
    }
    this.tell();
    this.next();
  }

  /** The frame that is looked at: it is drawn next. */
  at(frame: number): void {
    this.frame = frame;
    this.next();
  }

  /** A frame as far as it is drawn, or `null` beyond the reel. */
  seen(frame: number): Seen | null {
    const picture = reelPicture(this.spans, frame);
    if (!picture) return null;
    const of = (layer: Shown | null): ImageBitmap | null =>
      (layer && this.held.get(nameOf(this.layerOf(layer)))) ?? null;
    const [below, shown] = [of(picture.below), of(picture.shown)];
    return { picture, below, shown, whole: shown !== null && (picture.below === null || below !== null) };
  }

  close(): void {
    this.port.terminate();
    this.forget(() => true);
  }

  private sceneOf(item: Shown['item']): string {
    return item.kind === 'shot' ? item.shot : item.id;
  }

  private wanted(item: Shown['item']): { readonly mark: Plan | string; scene(): SentScene } | null {
    if (item.kind === 'title') {
      const { lines, size, ink, ground } = item;
      const shot = () => titleShot(item, this.reel!);
      return {
        mark: JSON.stringify([lines, size, ink, ground]),
        scene: () => ({ scene: item.id, shot: shot(), loudness: {}, inner: [] }),
      };
    }
    const plan = this.planOf(item.shot);
    if (!plan) return null;
    const inner = this.innerOf(plan);
    if (!inner) return null;
    return {
      mark: plan,
      scene: () => ({ scene: item.shot, shot: plan.shot, loudness: plan.loudness, inner }),
    };
  }

  /** Shots that a shot shows, all the way down; `null` while one of them is not there. */
  private innerOf(plan: Plan): SentScene['inner'] | null {
    const found = new Map<string, Plan>();
    const walk = (of: Plan): boolean =>
      insetsOf(of.shot).every((id) => {
        if (found.has(id)) return true;
        const inner = this.planOf(id);
        if (!inner) return false;
        found.set(id, inner);
        return walk(inner);
      });
    if (!walk(plan)) return null;
    return [...found].map(([id, { shot, loudness }]) => ({ id, shot, loudness }));
  }

  private layerOf(shown: Shown): Layer {
    return layerOf(shown, this.reel!, (shot) => this.planOf(shot)?.shot.setup.rate ?? null);
  }

  private layersAt(frame: number): Layer[] {
    const picture = reelPicture(this.spans, frame);
    if (!picture) return [];
    return [picture.below, picture.shown].flatMap((shown) => (shown ? [this.layerOf(shown)] : []));
  }

  /** What of the reel is to be drawn next: from the playhead on, then from the beginning. */
  private missing(): { readonly layer: Layer; readonly here: boolean } | null {
    const count = this.reel ? reelFrames(this.reel) : 0;
    for (let i = 0; i < count; i++) {
      const frame = ((this.frame - 1 + i) % count) + 1;
      for (const layer of this.layersAt(frame)) {
        const name = nameOf(layer);
        if (this.sent.has(layer.scene) && !this.held.has(name) && !this.failed.has(name))
          return { layer, here: i === 0 };
      }
    }
    return null;
  }

  private next(): void {
    if (this.asked !== null) return;
    const missing = this.missing();
    if (!missing) return;
    const one = this.size.width * this.size.height * 4;
    if (this.bytes + one > HELD_BYTES) {
      // What lies ahead waits until there is room; where one looks there is always room.
      if (!missing.here) return;
      const [oldest] = this.held.keys();
      if (oldest !== undefined) this.drop(oldest);
    }
    const { scene, frame } = missing.layer;
    this.asked = nameOf(missing.layer);
    this.port.postMessage({ draw: scene, frame });
  }

  private took(answer: ReelAnswer): void {
    const name = nameOf({ scene: answer.of, frame: answer.frame });
    // What was forgotten while it was drawn is of a shot as it was.
    const stale = this.asked !== name;
    this.asked = null;
    if ('failed' in answer) {
      if (!stale) this.failed.set(name, answer.failed);
    } else if (stale) answer.picture.close();
    else {
      this.held.set(name, answer.picture);
      this.bytes += answer.picture.width * answer.picture.height * 4;
    }
    this.tell();
    this.next();
  }

  private drop(name: string): void {
    const picture = this.held.get(name);
    if (!picture) return;
    this.bytes -= picture.width * picture.height * 4;
    picture.close();
    this.held.delete(name);
  }

  private forget(which: (name: string) => boolean): void {
    for (const name of [...this.held.keys()]) if (which(name)) this.drop(name);
    for (const name of [...this.failed.keys()]) if (which(name)) this.failed.delete(name);
    // An answer that is on its way is not taken: another name is awaited from now on.
    if (this.asked !== null && which(this.asked)) this.asked = '';
  }

  /** Tells once for all that comes in one go. */
  private tell(): void {
    if (this.telling) return;
    this.telling = true;
    queueMicrotask(() => {
      this.telling = false;
      const count = this.reel ? reelFrames(this.reel) : 0;
      const drawn = Array.from({ length: count }, (_, i) =>
        this.layersAt(i + 1).every((layer) => this.held.has(nameOf(layer))),
      );
      this.store.setState({ drawn, failed: new Map(this.failed), came: this.store.getState().came + 1 });
    });
  }
}

/** Paints a frame of a reel as it is seen. @returns whether all of it was there */
export function paintSeen(to: CanvasRenderingContext2D, seen: Seen, black: string): boolean {
  const { width, height } = to.canvas;
  const { picture, below, shown, whole } = seen;
  if (!whole) return false;
  to.globalAlpha = 1;
  to.fillStyle = black;
  to.fillRect(0, 0, width, height);
  if (below) to.drawImage(below, 0, 0, width, height);
  const { join } = picture;
  to.save();
  if (join?.manner === 'dissolve') to.globalAlpha = join.share;
  if (join?.manner === 'wipe') {
    const across = join.from === 'left' || join.from === 'right';
    const [w, h] = across ? [width * join.share, height] : [width, height * join.share];
    to.beginPath();
    to.rect(join.from === 'right' ? width - w : 0, join.from === 'bottom' ? height - h : 0, w, h);
    to.clip();
  }
  to.drawImage(shown!, 0, 0, width, height);
  to.restore();
  return true;
}
