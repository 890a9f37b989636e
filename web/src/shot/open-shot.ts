import { createStore, type StoreApi } from 'zustand/vanilla';
import { checkStructure, type Shot, type Value } from '../../../core/document';
import { apply, invert, isEmpty, OpenedClip, type Change } from '../../../core/edit';
import { compile, Evaluator, type LoudnessTables, type Plan } from '../../../core/evaluate';
import {
  doneAgain,
  NO_HISTORY,
  overForeign,
  recorded,
  takenBack,
  type History,
  type Loose,
  type Step,
} from './history';
import { Outbox, type KeptState, type ShotServer } from './outbox';
import type { TabStore } from './tab-store';

export interface ShotState extends History {
  readonly name: string;
  /** The document that is worked on: the shot, or the shot with a clip open in it. */
  readonly shot: Shot;
  /** The shot as it is kept. */
  readonly document: Shot;
  /** Showing whose clip is open. */
  readonly opened: string | null;
  /** Plan of what is shown: of the shot, or of one that is tried. */
  readonly plan: Plan;
  /** A document that is shown to try it, while the shot stays what it is. */
  readonly trying: boolean;
  readonly kept: KeptState;
  /** Counts evaluations: whatever shows values listens to it. */
  readonly tick: number;
}

/** Where an open shot comes from and goes to. */
export interface ShotSource {
  readonly name: string;
  readonly revision: number;
  readonly document: Shot;
  readonly server: ShotServer;
  readonly store: TabStore;
  told(message: string): void;
  cameIn(changes: readonly Change[], clash: boolean): void;
}

const ALL_KEPT: KeptState = { state: 'kept', waiting: 0, stored: true, reason: null };

/** An open shot: its document with its values at one frame, what can be undone, and what is on its way to the server. */
export class OpenShot {
  readonly state: StoreApi<ShotState>;
  /** Values at the frame; evaluated anew before `tick` changes. */
  evaluator: Evaluator;
  private frame: number;
  private overrides: readonly (readonly [string, Value])[] = [];
  private readonly outbox: Outbox;
  private loudness: LoudnessTables = {};
  private lens: OpenedClip | null = null;

  private constructor({ name, revision, document, server, store, told, cameIn }: ShotSource) {
    const plan = compile(document);
    this.frame = document.setup.first;
    this.evaluator = new Evaluator(plan);
    this.evaluator.evaluate(this.frame);
    this.state = createStore<ShotState>(() => ({
      ...NO_HISTORY,
      name,
      shot: document,
      document,
      opened: null,
      plan,
      trying: false,
      kept: ALL_KEPT,
      tick: 0,
    }));
    this.outbox = new Outbox(
      server,
      store,
      {
        replaced: (shot, by) => this.takeIn(shot, by),
        state: (kept) => this.state.setState({ kept }),
        told,
        cameIn,
      },
      revision,
      document,
    );
  }

  /** Opens a shot with whatever earlier pages could not send. */
  static async open(source: ShotSource): Promise<OpenShot> {
    const open = new OpenShot(source);
    const shot = await open.outbox.takeOver();
    if (shot !== source.document) open.show(shot, {});
    return open;
  }

  /** Stops sending; what waits is taken over by the next page. */
  close(): void {
    this.outbox.close();
  }

  get now(): ShotState {
    return this.state.getState();
  }

  /** Takes over the name that the server has for the shot now. */
  rename(name: string): void {
    this.state.setState({ name });
  }

  /** Whether leaving the page now would lose something, or leave it unsent for long. */
  get leavesSomething(): boolean {
    return this.outbox.leavesSomething;
  }

  /** Somebody else has brought the shot to a revision. */
  news(revision: number): void {
    this.outbox.news(revision);
  }

  /** Tries at once to send what is held. */
  hurry(): void {
    this.outbox.hurry();
  }

  /** Works out the values at a frame, with some values other than the document has them. */
  evaluate(frame: number, overrides: Loose): void {
    this.frame = frame;
    this.overrides = Object.entries(overrides);
    this.work();
    this.state.setState(({ tick }) => ({ tick: tick + 1 }));
  }

  /** Shows values other than those of the document for the time of a drag; the next evaluation ends it. */
  preview(values: Loose): void {
    this.evaluator.setOverrides(Object.entries(values));
    this.evaluator.evaluate(this.frame);
    this.state.setState(({ tick }) => ({ tick: tick + 1 }));
  }

  private work(): void {
    this.evaluator.setOverrides(this.overrides);
    this.evaluator.evaluate(this.frame);
  }

  /** Shows another document, to try it; `null` shows the shot again. Nothing is changed or kept by it. */
  try(shot: Shot | null): void {
    if (shot === null && !this.now.trying) return;
    const plan = compile(shot ?? this.now.shot, this.loudness, this.evaluator.plan);
    this.evaluator = new Evaluator(plan);
    this.work();
    this.state.setState(({ tick }) => ({ plan, trying: shot !== null, tick: tick + 1 }));
  }

  /** Takes in tables of sounds that came or went; values are worked out anew only where others are known. */
  takeLoudness(loudness: LoudnessTables): void {
    const ids = Object.keys(loudness);
    const same =
      ids.length === Object.keys(this.loudness).length &&
      ids.every((id) => loudness[id] === this.loudness[id]);
    if (!same) this.hear(loudness);
  }

  /** Takes in how loud the shot's sounds are, for the formulas that read it. */
  hear(loudness: LoudnessTables): void {
    this.loudness = loudness;
    const plan = compile(this.now.shot, loudness);
    this.evaluator = new Evaluator(plan);
    this.work();
    this.state.setState(({ tick }) => ({ plan, trying: false, tick: tick + 1 }));
  }

  /** Makes a change of what is worked on, keeps it, and lets undo take it back. */
  commit(change: Change): void {
    this.commitDocument(this.lens ? this.lens.back(this.now.document, change) : change);
  }

  /** Makes a change of the shot as it is kept, whatever clip is open in it. */
  commitDocument(change: Change): void {
    if (isEmpty(change)) return;
    this.make(change, recorded(this.now, { kind: 'change', change }));
  }

  /**
   * Opens the clip of a showing: its keys stand in the channels that it moves, and are edited there. `null` closes it.
   * @returns frames of the shot between which it is seen
   */
  openClip(showing: string | null): { first: number; last: number } | null {
    this.lens = showing === null ? null : new OpenedClip(showing);
    this.show(this.now.document, {});
    return this.lens?.span(this.now.document) ?? null;
  }

  /** Remembers unkeyed values that were dropped, as a step that undo brings back. */
  recordDropped(frame: number, loose: Loose): void {
    this.state.setState((now) => recorded(now, { kind: 'dropped', frame, loose }));
  }

  /** Forgets such a step: its values have been brought back another way. */
  forgetDropped(loose: Loose): void {
    this.state.setState(({ undo }) => ({
      undo: undo.filter((step) => !(step.kind === 'dropped' && step.loose === loose)),
    }));
  }

  /**
   * Takes back the latest step.
   * @returns what it was; a dropped step is for the caller to bring back. `null` where there is none
   * @throws RangeError, with nothing changed, where what others did since does not let it be taken back
   */
  undo(): Step | null {
    const step = this.now.undo.at(-1);
    if (!step) return null;
    const history = takenBack(this.now);
    if (step.kind === 'dropped') this.state.setState(history);
    else {
      const back = invert(step.change);
      this.make({ ...back, label: `Undo: ${back.label}` }, history);
    }
    return step;
  }

  /** Does again what was taken back last. @throws RangeError as `undo` does */
  redo(): Step | null {
    const step = this.now.redo.at(-1);
    if (step?.kind !== 'change') return null;
    this.make(step.change, doneAgain(this.now));
    return step;
  }

  private make(change: Change, history: History): void {
    if (change.patches.some(({ path }) => path[0] === 'parts' && path.length === 2)) {
      const [problem] = checkStructure(apply(this.now.document, change));
      if (problem)
        throw new RangeError(`"${change.label}" does not fit what the shot is now. ${problem.message}`);
    }
    this.show(
      this.outbox.add(change),
      history,
      change.patches.map((patch) => patch.path),
    );
  }

  /** What came in: the history goes on from it. */
  private takeIn(shot: Shot, by: Change): void {
    this.show(
      shot,
      overForeign(this.now, this.now.document, by),
      by.patches.map((patch) => patch.path),
    );
  }

  /** Shows another document of the shot. @param paths places in which it differs, where that is known */
  private show(document: Shot, history: Partial<History>, paths?: readonly (readonly string[])[]): void {
    const open = this.lens?.shown(document) ?? null;
    // A clip that has gone, or whose showing has, is not open any longer.
    if (open === null) this.lens = null;
    const shot = open ?? document;
    const next = { ...history, shot, document, opened: this.lens?.showing ?? null };
    // Most edits change values and keys: what depends on them is worked out in place, without a new plan.
    const inPlace = paths && !this.lens && this.now.opened === null;
    if (inPlace && !this.now.trying && this.overrides.length === 0 && this.evaluator.update(shot, paths)) {
      const plan = { ...this.evaluator.plan };
      this.state.setState(({ tick }) => ({ ...next, plan, tick: tick + 1 }));
      return;
    }
    const plan = compile(shot, this.loudness, this.evaluator.plan);
    this.evaluator = new Evaluator(plan);
    this.work();
    this.state.setState(({ tick }) => ({ ...next, plan, trying: false, tick: tick + 1 }));
  }
}
