import { createContext, useContext } from 'react';
import { toast } from 'sonner';
import { useStore } from 'zustand';
import { channelAt, type Shot } from '../../../core/document';
import { EditRefused, type Change } from '../../../core/edit';
import type { Evaluator } from '../../../core/evaluate';
import { Assets } from '../../../draw';
import type { OpenedShot } from '../../../wire';
import { api, readAsset, soundDoor } from '../shared/api';
import { followShot, serverOf } from '../shot/follow';
import { OpenShot, type ShotState } from '../shot/open-shot';
import { BROWSER_STORE, pageDoor, tabStore } from '../shot/tab-store';
import { BackgroundChecks } from './checks/background-checks';
import { LaneCurves } from './keys/lane-curves';
import { Calm } from './state/calm';
import { Choice, type ChoiceState } from './state/choice';
import { ClearanceCheck, type ClearanceState } from './clearance/clearance-check';
import { Clipboard, type Copied } from './state/clipboard';
import { Compare, type CompareState } from './state/compare';
import { Insets, type KnownShot } from './state/insets';
import { Keying, type KeyingState } from './state/keying';
import { Player } from './state/player';
import { Plot, type PlotState } from './state/plot';
import { SoundPlayer } from './sound/sound-player';
import { Sounds, type KnownSound } from './state/sounds';
import { Sheets, type SheetsState } from './state/sheets';
import { Strips, type StripsState } from './state/strips';
import { Elsewhere, partsTouched } from './state/elsewhere';
import { Time, type TimeState } from './state/time';
import { ViewSettings, type ViewState } from './state/view-settings';

/** The workbench of one open shot: the shot, and the slices of what is shown of it. */
export class Session {
  readonly choice = new Choice();
  readonly view = new ViewSettings();
  readonly keying = new Keying();
  readonly sheets = new Sheets();
  readonly clipboard = new Clipboard();
  readonly elsewhere = new Elsewhere();
  readonly plot = new Plot();
  readonly strips = new Strips();
  readonly clearance = new ClearanceCheck();
  readonly compare: Compare;
  /** Tells of new values once they have come to rest. */
  readonly calm = new Calm();
  readonly time: Time;
  readonly player: Player;
  readonly sounds: Sounds;
  /** Other shots that this one shows. */
  readonly insets: Insets;
  readonly heard: SoundPlayer;
  /** Pictures and meshes of the shot, shared by the view and whatever draws previews. */
  readonly assets = new Assets(readAsset);
  /** Small curves of the lanes and of the formula bar. */
  readonly curves = new LaneCurves();
  /** What the checks find, worked out beside the page. */
  readonly checks = new BackgroundChecks();
  private readonly unfollow: () => void;

  private constructor(
    readonly id: string,
    readonly project: { readonly id: string; readonly name: string },
    readonly doc: OpenShot,
  ) {
    this.time = new Time(doc.now.shot.setup.first);
    this.compare = new Compare(doc.now.shot);
    this.sounds = new Sounds(
      soundDoor,
      () => doc.now.shot,
      (tables) => doc.hear(tables),
    );
    this.sounds.follow(doc.now.shot);
    this.insets = new Insets(api, (shot) => {
      this.sounds.follow(shot);
      return this.sounds.tables(shot);
    });
    this.insets.follow(doc.now.shot);
    this.heard = new SoundPlayer(doc, this.insets, readAsset);
    this.insets.store.subscribe(() => this.heard.changed());
    this.player = new Player(this.time, doc, this.heard);
    this.curves.setPlan(doc.now.plan);
    doc.state.subscribe((now, before) => {
      if (now.tick !== before.tick) this.calm.changed();
      if (now.shot !== before.shot) this.keepTo(now.shot);
      if (now.shot.parts !== before.shot.parts) this.insets.follow(now.shot);
      if (now.document !== before.document) this.strips.keepTo(now.document);
      if (now.opened !== before.opened) this.plot.forget();
      if (now.shot.sounds !== before.shot.sounds) this.soundsChanged();
      if (now.plan !== before.plan) this.curves.setPlan(now.plan);
    });
    this.choice.store.subscribe(({ chosenKeys }) => {
      if (chosenKeys.length > 0) this.strips.choose([]);
    });
    this.unfollow = followShot(id, (revision) => doc.news(revision));
  }

  /** Opens a shot with whatever an earlier visit could not send. */
  static async open(opened: OpenedShot): Promise<Session> {
    const page = crypto.randomUUID();
    let session: Session | null = null as Session | null;
    const doc = await OpenShot.open({
      name: opened.name,
      revision: opened.revision,
      document: opened.document,
      server: serverOf(opened.id),
      store: tabStore(opened.id, page, BROWSER_STORE, pageDoor(page)),
      told: (message) => toast(message),
      cameIn: (changes, clash) => session?.cameIn(changes, clash),
    });
    session = new Session(opened.id, { id: opened.projectId, name: opened.projectName }, doc);
    return session;
  }

  close(): void {
    this.player.stop();
    this.calm.stop();
    this.heard.close();
    this.sounds.close();
    this.insets.close();
    this.unfollow();
    this.doc.close();
    this.elsewhere.close();
    this.assets.dispose();
    this.curves.stop();
    this.checks.close();
    this.clearance.end();
  }

  /** Lets go of whatever the document has no longer. */
  private keepTo(shot: Shot): void {
    this.choice.keepTo(shot);
    this.clearance.keepTo(shot);
    const gone = Object.keys(this.keying.now.loose).filter((address) => !channelAt(shot, address));
    if (gone.length > 0) this.keying.letGo(gone);
    const { renaming, asking } = this.sheets.now;
    if (renaming !== null && !shot.parts[renaming]) this.sheets.rename(null);
    if (asking?.ids.some((id) => !shot.parts[id])) this.sheets.ask(null);
  }

  private soundsChanged(): void {
    const { shot } = this;
    this.sounds.follow(shot);
    this.doc.takeLoudness(this.sounds.tables(shot));
    this.heard.changed();
  }

  /** Tells what others did, in one place, so that many changes do not cover the page, and marks where it happened. */
  private cameIn(changes: readonly Change[], clash: boolean): void {
    const what =
      changes.length === 1
        ? `Made elsewhere: ${changes[0]!.label}.`
        : `${changes.length} changes made elsewhere.`;
    const parts = partsTouched(this.shot, changes);
    this.elsewhere.mark(parts);
    // What became of one's own edit is read in peace, and no later message takes its place.
    toast(clash ? `${what} Your later change of the same place stands.` : what, {
      ...(clash ? { id: 'clash', duration: 30_000, closeButton: true } : { id: 'elsewhere' }),
      action:
        parts.length > 0 ? { label: 'Show', onClick: () => this.choice.parts(this.shot, parts) } : undefined,
    });
  }

  /** The document as it is now. */
  get shot(): Shot {
    return this.doc.now.shot;
  }

  /** Values at the current frame. */
  get evaluator(): Evaluator {
    return this.doc.evaluator;
  }

  /** Works out the values at the current frame, those changed and not keyed among them. */
  evaluate(): void {
    this.doc.evaluate(this.time.now.frame, this.keying.now.loose);
  }

  /** Makes a change, keeps it, and lets undo take it back. */
  commit(change: Change): void {
    const before = this.shot;
    this.doc.commit(change);
    if (this.shot !== before) this.plot.edited(before);
  }

  /** Runs an edit and commits it; what it refuses is told and changes nothing. @returns whether it was done */
  edit(make: (shot: Shot) => Change): boolean {
    return this.attempt(() => this.commit(make(this.shot)));
  }

  /** As `edit`, of the shot as it is kept, whatever clip is open in it. */
  editDocument(make: (shot: Shot) => Change): boolean {
    return this.attempt(() => this.doc.commitDocument(make(this.doc.now.document)));
  }

  private attempt(act: () => void): boolean {
    try {
      act();
      return true;
    } catch (error) {
      if (!(error instanceof EditRefused)) throw error;
      toast.error(error.message);
      return false;
    }
  }
}

const SessionContext = createContext<Session | null>(null);
export const SessionProvider = SessionContext.Provider;

/** The open shot. @throws Error outside a workbench */
export function useSession(): Session {
  const session = useContext(SessionContext);
  if (!session) throw new Error('useSession needs a SessionProvider above it.');
  return session;
}

/* Each hook reads of one slice; the component is drawn again when what it reads changes. */

export const useShot = <T>(select: (state: ShotState) => T): T => useStore(useSession().doc.state, select);

/**
 * Has a component drawn again after the frame or the values have changed, a moment later and not for every picture of a
 * drag or of play-back: for what stands beside the work and would only make it slower.
 * @returns the frame of the time line
 */
export function useCalmly(): number {
  const session = useSession();
  useStore(session.calm.state);
  return session.time.now.frame;
}

export const useChoice = <T>(select: (state: ChoiceState) => T): T =>
  useStore(useSession().choice.store, select);
export const useViewSettings = <T>(select: (state: ViewState) => T): T =>
  useStore(useSession().view.store, select);
export const useTime = <T>(select: (state: TimeState) => T): T => useStore(useSession().time.store, select);
export const useKeying = <T>(select: (state: KeyingState) => T): T =>
  useStore(useSession().keying.store, select);
export const usePlot = <T>(select: (state: PlotState) => T): T => useStore(useSession().plot.store, select);
export const useStrips = <T>(select: (state: StripsState) => T): T =>
  useStore(useSession().strips.store, select);
export const useClearance = <T>(select: (state: ClearanceState) => T): T =>
  useStore(useSession().clearance.store, select);
export const useCompare = <T>(select: (state: CompareState) => T): T =>
  useStore(useSession().compare.store, select);
export const useSheets = <T>(select: (state: SheetsState) => T): T =>
  useStore(useSession().sheets.store, select);
/** Whether somebody else has changed a part a moment ago. */
export const useMarked = (id: string): boolean =>
  useStore(useSession().elsewhere.store, ({ parts }) => parts.has(id));
export const useCopied = (): Copied | null => useStore(useSession().clipboard.store, (state) => state.copied);
/** What is known of a file of sound. */
export const useKnownSound = (asset: string | undefined): KnownSound | null =>
  useStore(useSession().sounds.store, (state) => (asset === undefined ? null : (state[asset] ?? null)));
/** What is known of another shot that this one shows. */
export const useKnownShot = (id: string | undefined): KnownShot | null =>
  useStore(useSession().insets.store, (state) => (id === undefined ? null : (state[id] ?? null)));
/** Counts arrivals of small curves. */
export const useCurved = (): number => useStore(useSession().curves.arrivals, (state) => state.count);
