import type { Shot } from '../core/document';
import type { LoudnessTables } from '../core/evaluate';
import { insetsOf } from '../core/inset';
import {
  layerOf,
  reelPicture,
  spansOf,
  titleShot,
  type Layer,
  type Reel,
  type ReelPicture,
  type Shown,
} from '../core/reel';
import type { InnerShots } from '../server/store/inner-shots';
import { readyScene, type Scene } from './film-loader';

/** Scenes that are held ready. */
const HELD = 4;

/** What a film is made of: a shot, or a reel whose shots are among the inner ones. */
export interface FilmSource {
  readonly document: Shot | null;
  readonly reel: Reel | null;
  readonly inner: InnerShots;
}

/** What a frame of a film is put together from: one picture, or one that comes over another or over black. */
export interface Composition {
  readonly below: Layer | null;
  readonly shown: Layer;
  readonly join?: NonNullable<ReelPicture['join']>;
}

const SHOT = 'shot';

/** The shots that are shown in a shot, in them, and so on, of those that are known. */
function shownIn(shot: Shot, known: InnerShots, found: Record<string, Shot> = {}): InnerShots {
  for (const id of insetsOf(shot)) {
    const inner = known[id];
    if (!inner || found[id]) continue;
    found[id] = inner;
    shownIn(inner, known, found);
  }
  return found;
}

/** What a film is drawn from: one scene, or those of a reel. */
export class FilmScenes {
  private readonly spans;
  private readonly held = new Map<string, Promise<Scene>>();

  /** @param tablesOf how loud the sounds of a shot are */
  constructor(
    private readonly source: FilmSource,
    private readonly tablesOf: (shot: Shot) => Promise<LoudnessTables>,
  ) {
    this.spans = source.reel && spansOf(source.reel);
  }

  /** What a frame of the film shows. @throws RangeError beyond a reel's ends */
  at(frame: number): Composition {
    const { reel } = this.source;
    if (!reel || !this.spans) return { below: null, shown: { scene: SHOT, frame } };
    const picture = reelPicture(this.spans, frame);
    if (!picture) throw new RangeError(`The reel has no frame ${frame}.`);
    const { below, shown, join } = picture;
    const layer = (of: Shown): Layer =>
      layerOf(of, reel, (shot) => this.source.inner[shot]?.setup.rate ?? null);
    return {
      below: below && layer(below),
      shown: layer(shown),
      ...(join ? { join } : {}),
    };
  }

  /** A scene, made ready if it is not. */
  async scene(name: string): Promise<Scene> {
    const held = this.held.get(name) ?? this.make(name);
    // The one that is asked for comes last, so that those go first that were not for long.
    this.held.delete(name);
    this.held.set(name, held);
    for (const other of [...this.held.keys()].slice(0, -HELD)) this.held.delete(other);
    try {
      return await held;
    } catch (error) {
      this.held.delete(name);
      throw error;
    }
  }

  private make(name: string): Promise<Scene> {
    const { document, reel, inner } = this.source;
    if (name === SHOT) return readyScene(document!, inner, this.tablesOf);
    const title = reel!.items.find((item) => item.kind === 'title' && item.id === name);
    const shot = title?.kind === 'title' ? titleShot(title, reel!) : inner[name]!;
    return readyScene(shot, shownIn(shot, inner), this.tablesOf);
  }
}
