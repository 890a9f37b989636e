import { createContext, useContext } from 'react';
import { createStore, useStore, type StoreApi } from 'zustand';
import type { Shot } from '../../../core/document';
import { compile, type Plan } from '../../../core/evaluate';
import { REEL_FIRST, reelFrames, shotsOfReel, soundShot, type Reel } from '../../../core/reel';
import type { OpenedReel, ShotCard } from '../../../wire';
import { api, readAsset, soundDoor } from '../shared/api';
import { SoundPlayer } from '../workbench/sound/sound-player';
import { Insets, type KnownShot } from '../workbench/state/insets';
import { Player } from '../workbench/state/player';
import { Sounds, type KnownSound } from '../workbench/state/sounds';
import { Time, type TimeState } from '../workbench/state/time';
import { BROWSER_DRAFTS, OpenReel, type ReelState } from './open-reel';
import { ReelPictures, type Progress } from './reel-pictures';

/** What is heard of the reel, as a shot. */
interface Heard {
  readonly shot: Shot;
  readonly plan: Plan;
}

/** The item or sound that is chosen, by its id. */
interface Chosen {
  readonly id: string | null;
}

/** An open reel with what plays it. */
export class ReelSession {
  readonly doc: OpenReel;
  readonly time = new Time(REEL_FIRST);
  readonly sounds: Sounds;
  readonly insets: Insets;
  readonly pictures: ReelPictures;
  readonly player: Player;
  readonly choice: StoreApi<Chosen> = createStore<Chosen>(() => ({ id: null }));
  /** What is heard, laid out by frames of the reel. */
  heard: Heard;
  private readonly sound: SoundPlayer;

  constructor(readonly opened: OpenedReel) {
    this.doc = new OpenReel(opened, { keep: api.keepReel }, BROWSER_DRAFTS);
    this.sounds = new Sounds(
      soundDoor,
      () => this.heard.shot,
      () => this.insetsCame(),
    );
    this.insets = new Insets(api, (shot) => {
      this.sounds.follow(shot);
      return this.sounds.tables(shot);
    });
    this.heard = this.hear(this.doc.now.reel);
    this.pictures = new ReelPictures((shot) => this.insets.planOf(shot));
    const played = Object.defineProperty({ now: this.heard, evaluate: () => undefined }, 'now', {
      get: () => this.heard,
    });
    this.sound = new SoundPlayer(played, { shotOf: () => null }, readAsset);
    this.player = new Player(this.time, played, this.sound);
    this.insets.store.subscribe(() => this.insetsCame());
    this.doc.store.subscribe((now, before) => {
      if (now.reel !== before.reel) this.reelCame(now.reel);
    });
    this.time.store.subscribe((now, before) => {
      if (now.frame !== before.frame) this.pictures.at(now.frame);
    });
    this.reelCame(this.doc.now.reel);
  }

  get reel(): Reel {
    return this.doc.now.reel;
  }

  get frames(): number {
    return reelFrames(this.reel);
  }

  choose(id: string | null): void {
    this.choice.setState({ id });
  }

  goTo(frame: number): void {
    this.player.stop();
    this.time.at(Math.max(REEL_FIRST, Math.min(Math.max(1, this.frames), Math.round(frame))));
  }

  play(): void {
    if (this.time.now.playing) {
      this.player.stop();
      return;
    }
    if (this.frames === 0) return;
    this.sound.prepare();
    const { frame } = this.time.now;
    this.player.play(frame >= this.frames ? REEL_FIRST : frame);
  }

  close(): void {
    this.player.stop();
    this.sound.close();
    this.sounds.close();
    this.insets.close();
    this.pictures.close();
    this.doc.close();
  }

  /** What a shot of the project is, as the reel asks for it. */
  nameOf(shot: string, otherwise: string): string {
    return this.insets.of(shot).name ?? otherwise;
  }

  private hear(reel: Reel): Heard {
    const shot = soundShot(reel, (id) => this.insets.shotOf(id));
    return { shot, plan: compile(shot, {}) };
  }

  private reelCame(reel: Reel): void {
    this.insets.followAll(shotsOfReel(reel));
    this.heard = this.hear(reel);
    this.sounds.follow(this.heard.shot);
    this.sound.changed();
    this.pictures.setReel(reel);
    if (this.time.now.frame > Math.max(1, this.frames)) this.goTo(this.frames);
    const { id } = this.choice.getState();
    if (id !== null && ![...reel.items, ...reel.sounds].some((each) => each.id === id)) this.choose(null);
  }

  private insetsCame(): void {
    this.heard = this.hear(this.reel);
    this.sounds.follow(this.heard.shot);
    this.sound.changed();
    this.pictures.look();
  }
}

const Context = createContext<ReelSession | null>(null);
export const ReelSessionProvider = Context.Provider;
export const useReelSession = (): ReelSession => useContext(Context)!;
export const useReel = <T>(pick: (state: ReelState) => T): T => useStore(useReelSession().doc.store, pick);
export const useReelTime = <T>(pick: (state: TimeState) => T): T =>
  useStore(useReelSession().time.store, pick);
export const useChosen = (): string | null => useStore(useReelSession().choice, ({ id }) => id);
export const useDrawn = <T>(pick: (state: Progress) => T): T =>
  useStore(useReelSession().pictures.store, pick);
export const useReelShots = (): Readonly<Record<string, KnownShot>> =>
  useStore(useReelSession().insets.store);
export const useReelSounds = (): Readonly<Record<string, KnownSound>> =>
  useStore(useReelSession().sounds.store);

/** A shot of the project as a reel takes it. */
export const factsOf = ({ id, name, rate, first, last, width, height }: ShotCard) => ({
  id,
  name,
  rate,
  first,
  last,
  width,
  height,
});

const id = (kind: 'itm' | 'snd'): string => `${kind}_${crypto.randomUUID().slice(0, 13)}`;
export const newItemId = (): string => id('itm');
export const newSoundId = (): string => id('snd');
