import { createContext, useContext } from 'react';
import { toast } from 'sonner';
import { createStore, useStore, type StoreApi } from 'zustand';
import {
  channelAt,
  linkOf,
  splitAddress,
  trackOf,
  type ChannelSpec,
  type Shot,
  type Value,
} from '../../../core/document';
import {
  apply,
  channelName,
  compose,
  EditRefused,
  invert,
  isEmpty,
  keyAt,
  keyChannels,
  movePivot,
  removeKeys,
  setValues,
  type Change,
  type CopiedKeys,
  type KeyAddress,
  type Pose,
} from '../../../core/edit';
import { compile, Evaluator, type Plan } from '../../../core/evaluate';
import type { Roles, Settings } from '../../../core/recipe';
import { framesPerSecond } from '../../../core/time';
import { Assets } from '../../../draw';
import { readAsset, type OpenedShot } from '../shared/api';
import { BackgroundChecks } from './checks/background-checks';
import { LaneCurves } from './keys/lane-curves';
import { Outbox, type KeptState } from './outbox';
import { anchorPose, isPosed } from './pose-keying';
import { tellOnce } from './tell-once';
import { draftKept } from './view/draft';

export type Tool = 'pick' | 'move' | 'turn' | 'size' | 'pivot' | 'measure';
export type ViewSide = 'free' | 'front' | 'side' | 'top' | 'shot';
/** Along which axes handles lie: the part's own, those its channels act along, or the world's. */
export type HandleAxes = 'own' | 'parent' | 'world';
/** Groups of channels that K keys for chosen parts. */
export const KEY_SETS = ['place', 'turn', 'size', 'look', 'everything'] as const;
export type KeySet = (typeof KEY_SETS)[number];

/** What dragging in the view catches on. */
export interface ViewSnap {
  /** Steps of a tenth of the shown unit, and of an angle. */
  readonly grid: boolean;
  /** Pivots, corners, edge middles and middles of other parts. */
  readonly points: boolean;
}

export type FootTab = 'keys' | 'links';

/** A recipe on its way: which one, of what, with which numbers; `id` when one of the document is edited. */
export interface OpenRecipe {
  readonly id?: string;
  readonly kind: string | null;
  readonly roles: Roles;
  readonly settings: Settings;
}

/** What was copied last, to be pasted. */
export type Clipboard =
  | { readonly kind: 'keys'; readonly keys: CopiedKeys; readonly owner: string | null }
  | { readonly kind: 'values'; readonly from: string; readonly values: Readonly<Record<string, Value>> }
  | { readonly kind: 'pose'; readonly pose: Pose }
  | { readonly kind: 'link'; readonly from: string };

/** One step that undo takes back: a change, or unkeyed values that scrubbing dropped. */
type Step =
  | { readonly kind: 'change'; readonly change: Change }
  | { readonly kind: 'dropped'; readonly frame: number; readonly loose: Loose };

type Loose = Readonly<Record<string, Value>>;

export interface SessionState {
  readonly name: string;
  readonly shot: Shot;
  readonly plan: Plan;
  readonly frame: number;
  readonly playing: boolean;
  /** Pictures per second that the view reached lately while playing. */
  readonly reached: number | null;
  readonly autoKey: boolean;
  readonly chosen: readonly string[];
  /** Channel shown in the formula bar. */
  readonly channel: string | null;
  readonly chosenKeys: readonly KeyAddress[];
  /** Values changed at this frame and not keyed yet. */
  readonly loose: Loose;
  readonly undo: readonly Step[];
  readonly redo: readonly Step[];
  readonly kept: KeptState;
  readonly tool: Tool;
  readonly side: ViewSide;
  readonly lockedAxes: readonly ('x' | 'y' | 'z')[];
  readonly axes: HandleAxes;
  readonly snap: ViewSnap;
  readonly trail: boolean;
  readonly ghosts: boolean;
  /** The view is drawn coarser and without shadows. */
  readonly draft: boolean;
  readonly finder: 'off' | 'small' | 'large';
  /** The viewfinder shows what lies beyond the frame, dimmed. */
  readonly beyond: boolean;
  readonly safeArea: boolean;
  readonly keySets: readonly KeySet[];
  /** K and J key only what differs: see `pose-keying.ts`. */
  readonly keyDiffering: boolean;
  readonly clipboard: Clipboard | null;
  /** Frames that the timeline shows, from the left edge to the right; null for the whole range. */
  readonly window: { readonly from: number; readonly to: number } | null;
  /** Dragged keys catch on the playhead, other keys, markers and the range. */
  readonly keySnap: boolean;
  /** What lies over the workbench: a sheet or a search. */
  readonly open: 'add' | 'shot' | 'search' | 'keys' | 'render' | 'why' | 'response' | null;
  /** What the foot shows. */
  readonly foot: FootTab;
  /** The recipe that is being written or edited. */
  readonly recipe: OpenRecipe | null;
  /** A document that is shown to try it, while the shot stays what it is. */
  readonly trying: boolean;
  /** A recipe waits for a part to be clicked. */
  readonly picking: boolean;
  /** Parts that are to be deleted once that is confirmed, since others read them. */
  readonly asking: { readonly ids: readonly string[]; readonly readers: readonly string[] } | null;
  /** Channel whose field is to be typed into, until it is. */
  readonly field: string | null;
  /** Typing or dragging a pivot leaves the part where it is. */
  readonly pivotStays: boolean;
  /** Part whose name is being typed. */
  readonly renaming: string | null;
  /** Counts evaluations: whatever shows values listens to it. */
  readonly tick: number;
  /** Counts arrivals of small curves. */
  readonly curved: number;
}

const HISTORY = 500;

/** An open shot: its document, what is shown of it, and everything that can be done to it. */
export class Session {
  readonly store: StoreApi<SessionState>;
  readonly id: string;
  readonly projectName: string;
  /** Values at the current frame; evaluated anew before `tick` changes. */
  evaluator: Evaluator;
  /** Pictures and meshes of the shot, shared by the view and whatever draws previews. */
  readonly assets = new Assets(readAsset);
  /** Small curves of the lanes and of the formula bar. */
  readonly curves = new LaneCurves();
  /** What the checks find, worked out beside the page. */
  readonly checks = new BackgroundChecks();
  private outbox: Outbox | null = null;
  private playStart = { clock: 0, frame: 0 };
  private clock = 0;

  constructor(opened: OpenedShot) {
    this.id = opened.id;
    this.projectName = opened.projectName;
    const plan = compile(opened.document);
    this.evaluator = new Evaluator(plan);
    this.evaluator.evaluate(opened.document.setup.first);
    this.store = createStore<SessionState>(() => ({
      name: opened.name,
      shot: opened.document,
      plan,
      frame: opened.document.setup.first,
      playing: false,
      reached: null,
      autoKey: false,
      chosen: [],
      channel: null,
      chosenKeys: [],
      loose: {},
      undo: [],
      redo: [],
      kept: 'kept',
      tool: 'pick',
      side: 'free',
      lockedAxes: [],
      axes: 'parent',
      snap: { grid: false, points: false },
      trail: false,
      ghosts: false,
      draft: draftKept(),
      finder: 'small',
      beyond: false,
      safeArea: false,
      keySets: ['place', 'turn', 'size'],
      keyDiffering: false,
      clipboard: null,
      window: null,
      keySnap: true,
      open: null,
      foot: 'keys',
      recipe: null,
      trying: false,
      picking: false,
      asking: null,
      field: null,
      pivotStays: true,
      renaming: null,
      tick: 0,
      curved: 0,
    }));
    this.curves.onMore = () => this.store.setState((state) => ({ curved: state.curved + 1 }));
    this.curves.setPlan(plan);
  }

  /** Opens a shot with whatever an earlier visit could not send. */
  static async open(opened: OpenedShot): Promise<Session> {
    const session = new Session(opened);
    const { outbox, shot } = await Outbox.open(opened.id, opened.revision, opened.document, {
      replaced: (next) => session.replace(next),
      state: (kept) => session.store.setState({ kept }),
      told: (message) => toast(message),
    });
    session.outbox = outbox;
    if (shot !== opened.document) session.replace(shot);
    return session;
  }

  close(): void {
    this.stop();
    this.outbox?.close();
    this.assets.dispose();
    this.curves.stop();
    this.checks.close();
  }

  get state(): SessionState {
    return this.store.getState();
  }

  /** Shows another document, to try it; `null` shows the shot again. Nothing is changed or kept by it. */
  try(shot: Shot | null): void {
    if (shot === null && !this.state.trying) return;
    const plan = compile(shot ?? this.state.shot);
    this.evaluator = new Evaluator(plan);
    this.curves.setPlan(plan);
    this.store.setState({ plan, trying: shot !== null });
    this.evaluate();
  }

  private replace(shot: Shot): void {
    const plan = compile(shot);
    this.evaluator = new Evaluator(plan);
    this.curves.setPlan(plan);
    if (this.state.trying) this.store.setState({ trying: false });
    const { chosen, channel, chosenKeys } = this.state;
    this.store.setState({
      shot,
      plan,
      chosen: chosen.filter((id) => shot.parts[id]),
      channel: channel !== null && channelAt(shot, channel) ? channel : null,
      chosenKeys: chosenKeys.filter(({ address, key }) => trackOf(shot, address)?.keys[key]),
    });
    this.evaluate();
  }

  private evaluate(): void {
    const { frame, loose, tick } = this.state;
    this.evaluator.setOverrides(Object.entries(loose));
    this.evaluator.evaluate(frame);
    this.store.setState({ tick: tick + 1 });
  }

  /** Makes a change, keeps it, and lets undo take it back. */
  commit(change: Change): void {
    if (isEmpty(change)) return;
    this.send(change);
    this.store.setState((state) => ({
      undo: [...state.undo, { kind: 'change' as const, change }].slice(-HISTORY),
      redo: [],
    }));
  }

  /** Runs an edit and commits it; what it refuses is told and changes nothing. @returns whether it was done */
  edit(make: (shot: Shot) => Change): boolean {
    try {
      this.commit(make(this.state.shot));
      return true;
    } catch (error) {
      if (!(error instanceof EditRefused)) throw error;
      toast.error(error.message);
      return false;
    }
  }

  private send(change: Change): void {
    const next = apply(this.state.shot, change);
    const paths = change.patches.map((patch) => patch.path);
    // Most edits change values and keys: what depends on them is worked out in place, without a new plan.
    const { loose, trying } = this.state;
    if (!trying && Object.keys(loose).length === 0 && this.evaluator.update(next, paths)) {
      const { chosenKeys, tick } = this.state;
      this.store.setState({
        shot: next,
        plan: { ...this.evaluator.plan },
        chosenKeys: chosenKeys.filter(({ address, key }) => trackOf(next, address)?.keys[key]),
        tick: tick + 1,
      });
      this.curves.setPlan(this.state.plan);
    } else this.replace(next);
    this.outbox?.add(change);
  }

  undo(): void {
    // Values changed and not keyed are the latest thing done.
    if (Object.keys(this.state.loose).length > 0) {
      this.dropLoose();
      return;
    }
    const step = this.state.undo.at(-1);
    if (!step) return;
    if (step.kind === 'dropped') {
      this.store.setState((state) => ({
        undo: state.undo.slice(0, -1),
        frame: step.frame,
        loose: step.loose,
      }));
      this.evaluate();
      return;
    }
    const back = invert(step.change);
    this.store.setState((state) => ({
      undo: state.undo.slice(0, -1),
      redo: [...state.redo, step],
      loose: {},
    }));
    this.send({ ...back, label: `Undo: ${back.label}` });
  }

  redo(): void {
    const step = this.state.redo.at(-1);
    if (step?.kind !== 'change') return;
    this.store.setState((state) => ({
      redo: state.redo.slice(0, -1),
      undo: [...state.undo, step],
      loose: {},
    }));
    this.send(step.change);
  }

  /** Goes to a frame. Values changed and not keyed are lost by it: that is said, and undo brings them back. */
  goTo(frame: number): void {
    const { loose, frame: from } = this.state;
    if (frame === from) return;
    const dropped = Object.keys(loose);
    if (dropped.length > 0) {
      this.store.setState((state) => ({
        loose: {},
        undo: [...state.undo, { kind: 'dropped' as const, frame: from, loose }],
      }));
      toast(
        `${dropped.length === 1 ? channelName(this.state.shot, dropped[0]!) : `${dropped.length} values`} changed at frame ${from} and not keyed: dropped.`,
        {
          action: { label: 'Bring back', onClick: () => this.bringBack(from, loose) },
        },
      );
    }
    this.store.setState({ frame });
    this.evaluate();
  }

  private bringBack(frame: number, loose: Loose): void {
    this.store.setState((state) => ({
      frame,
      loose,
      undo: state.undo.filter((step) => !(step.kind === 'dropped' && step.loose === loose)),
    }));
    this.evaluate();
  }

  /** Changes the evaluated values for the time of a drag, without any edit. */
  preview(values: Loose | null): void {
    const { loose } = this.state;
    this.evaluator.setOverrides(Object.entries(values ? { ...loose, ...values } : loose));
    this.evaluator.evaluate(this.state.frame);
    this.store.setState((state) => ({ tick: state.tick + 1 }));
  }

  /**
   * Gives channels new values as somebody means it now: with auto-key as keys at this frame; without, a channel that
   * has keys is changed for the moment and marked, any other keeps the value. Linked channels are refused.
   */
  setChannels(entries: readonly (readonly [address: string, value: Value])[]): boolean {
    const { shot, autoKey, frame } = this.state;
    const linked = entries.find(([address]) => linkOf(shot, address));
    if (linked) {
      toast.error(`${channelName(shot, linked[0])} is linked: change its formula, or unlink it.`);
      this.preview(null);
      return false;
    }
    const pivots = this.pivotChange(entries);
    if (pivots) return this.edit(() => pivots) || (this.preview(null), false);
    const keyed = (address: string): boolean => autoKey && channelAt(shot, address)?.spec.animatable === true;
    const asKeys = entries.filter(([address]) => keyed(address));
    // What is there already is a change only for auto-key.
    const still = this.snapshot();
    const differs = ([address, value]: readonly [string, Value]): boolean => {
      const now = typeof value === 'number' ? still.number(address) : still.colour(address);
      return JSON.stringify(now) !== JSON.stringify(value);
    };
    const changed = entries.filter((entry) => !keyed(entry[0]) && differs(entry));
    const waits = (address: string): boolean =>
      trackOf(shot, address) !== null || (this.state.keyDiffering && isPosed(shot, address, frame));
    const asLoose = changed.filter(([address]) => waits(address));
    const asValues = changed.filter(([address]) => !waits(address));
    try {
      // Refused here as a key would be, so that nothing unsound can wait to be keyed.
      if (asLoose.length > 0) keyChannels(shot, frame, asLoose);
      const changes = [
        ...(asKeys.length > 0 ? [keyChannels(shot, frame, asKeys)] : []),
        ...(asValues.length > 0 ? [setValues(shot, asValues)] : []),
      ];
      if (asLoose.length > 0) {
        this.store.setState((state) => ({ loose: { ...state.loose, ...Object.fromEntries(asLoose) } }));
        tellOnce(
          'loose',
          `${channelName(shot, asLoose[0]![0])} is keyed: this change holds at frame ${frame} only until you key it (K). Going to another frame drops it; you can bring it back then.`,
        );
        this.evaluate();
      }
      if (changes.length > 0) this.commit(changes.reduce(compose));
      this.preview(null);
      return true;
    } catch (error) {
      if (!(error instanceof EditRefused)) throw error;
      toast.error(error.message);
      this.preview(null);
      return false;
    }
  }

  /** The change for new pivots that leave their parts where they are; `null` where something else is meant. */
  private pivotChange(entries: readonly (readonly [address: string, value: Value])[]): Change | null {
    if (!this.state.pivotStays || this.state.autoKey || Object.keys(this.state.loose).length > 0) return null;
    const parts = new Map<string, [number, number, number]>();
    const still = this.snapshot();
    for (const [address, value] of entries) {
      const { owner, path } = splitAddress(address);
      const axis = ['pivot.x', 'pivot.y', 'pivot.z'].indexOf(path);
      if (axis < 0 || typeof value !== 'number') return null;
      const pivot =
        parts.get(owner) ??
        (['x', 'y', 'z'].map((name) => still.number(`${owner}/pivot.${name}`)) as [number, number, number]);
      pivot[axis] = value;
      parts.set(owner, pivot);
    }
    const { shot } = this.state;
    const linked = [...parts.keys()].some((id) =>
      ['x', 'y', 'z'].some((axis) => linkOf(shot, `${id}/location.${axis}`)),
    );
    if (parts.size === 0 || linked) return null;
    this.preview(null);
    return [...parts].map(([id, pivot]) => movePivot(shot, still, id, pivot).change).reduce(compose);
  }

  /** Puts the caret into the field of a channel. */
  typeInto(address: string): void {
    this.store.setState({ channel: address, field: address });
  }

  /** Value of a channel at the current frame as shown. */
  valueNow(address: string, spec: ChannelSpec): Value {
    return spec.kind === 'colour' ? this.evaluator.colour(address) : this.evaluator.number(address);
  }

  /** Values at another frame, without going there; unkeyed changes do not count. */
  evaluatorAt(frame: number): Evaluator {
    const other = new Evaluator(this.state.plan);
    other.evaluate(frame);
    return other;
  }

  /** What is shown now, standing still: an evaluator that no preview changes. */
  snapshot(): Evaluator {
    const other = new Evaluator(this.state.plan);
    other.setOverrides(Object.entries(this.state.loose));
    other.evaluate(this.state.frame);
    return other;
  }

  /** Value of a channel at the current frame as shown, by its address. */
  valueOf(address: string): Value {
    const spec = channelAt(this.state.shot, address)!.spec;
    return this.valueNow(address, spec);
  }

  /** Keys channels at this frame with the values they have now; changed values are thereby kept. */
  keyNow(addresses: readonly string[]): void {
    const { shot, frame } = this.state;
    const entries = addresses.flatMap((address) => {
      const spec = channelAt(shot, address)?.spec;
      if (!spec?.animatable || linkOf(shot, address)) return [];
      return [[address, this.valueNow(address, spec)] as const];
    });
    if (entries.length === 0) {
      toast('Nothing here can be keyed: linked values follow their formula.');
      return;
    }
    const done = this.edit((current) => {
      const anchored = this.state.keyDiffering ? anchorPose(current, frame, entries) : null;
      if (!anchored) return keyChannels(current, frame, entries);
      return compose(anchored, keyChannels(apply(current, anchored), frame, entries));
    });
    if (done) this.dropLoose(addresses);
  }

  /** Takes away the keys of channels at this frame. */
  unkeyNow(addresses: readonly string[]): void {
    const { shot, frame } = this.state;
    const targets = addresses.flatMap((address) => {
      const key = keyAt(shot, address, frame);
      return key ? [{ address, key }] : [];
    });
    if (targets.length > 0) this.edit((current) => removeKeys(current, targets));
  }

  /** Forgets changed values that were not keyed. */
  dropLoose(addresses: readonly string[] = Object.keys(this.state.loose)): void {
    this.store.setState((state) => ({
      loose: Object.fromEntries(
        Object.entries(state.loose).filter(([address]) => !addresses.includes(address)),
      ),
    }));
    this.evaluate();
  }

  /** Chooses parts; a channel that belongs to none of them is no longer the chosen one. */
  choose(ids: readonly string[]): void {
    const { shot, channel } = this.state;
    const owner = channel === null ? null : splitAddress(channel).owner;
    const stays = ids.some(
      (id) => id === owner || shot.parts[id]?.shape === owner || shot.parts[id]?.look === owner,
    );
    this.store.setState({ chosen: ids, ...(stays ? {} : { channel: null }) });
  }

  /** Runs an edit that makes parts, and chooses what it made. @returns whether it was done */
  make(work: (shot: Shot) => { readonly change: Change; readonly ids: readonly string[] }): boolean {
    let made: readonly string[] = [];
    const done = this.edit((shot) => {
      const result = work(shot);
      made = result.ids;
      return result.change;
    });
    if (done) this.choose(made);
    return done;
  }

  /** Plays from here at the shot's rate. Pictures are dropped when the view is slow, never time. */
  play(): void {
    const { playing, frame, shot } = this.state;
    if (playing) return;
    const from = frame >= shot.setup.last ? shot.setup.first : Math.max(shot.setup.first, Math.floor(frame));
    this.goTo(from);
    this.store.setState({ playing: true });
    this.playStart = { clock: performance.now(), frame: from };
    const step = (now: number): void => {
      const { first, last, rate } = this.state.shot.setup;
      const length = last - first + 1;
      const gone = Math.max(0, Math.floor(((now - this.playStart.clock) / 1000) * framesPerSecond(rate)));
      const next = first + ((this.playStart.frame - first + gone) % length);
      if (next !== this.state.frame) {
        this.store.setState({ frame: next });
        this.evaluate();
      }
      this.clock = requestAnimationFrame(step);
    };
    this.clock = requestAnimationFrame(step);
  }

  stop(): void {
    cancelAnimationFrame(this.clock);
    if (this.state.playing) this.store.setState({ playing: false, reached: null });
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

/** A part of the session's state; the component is drawn again when it changes. */
export function useSessionState<T>(select: (state: SessionState) => T): T {
  return useStore(useSession().store, select);
}
