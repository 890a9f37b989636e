import type { CompiledTrack } from '../curve';
import type { Aim, Link, RepeatOptions, Shot } from '../document';
import type {
  Expression,
  FormulaError,
  Linkage,
  MeasureKind,
  NameTable,
  ProbeKind,
  Spring,
} from '../formula';
import type { Phase, Schedule } from './graph';
import type { LoudnessTables, SoundPiece } from './loudness';
import type { CallTable, Program, Segment } from './program';
import type { Showing } from './showing';
import type { SlotTable } from './slot-table';

export const CLOCK_FRAME = 0;
export const CLOCK_TIME = 1;
export const CLOCK_PROGRESS = 2;
/** Number of the copy of a repeat that is being worked out, from 0. */
export const CLOCK_INDEX = 3;
/** The same of the repeat around it. */
export const CLOCK_OUTER = 4;
export const CLOCK_SLOTS = 5;
export const CLOCK_SLOT = {
  frame: CLOCK_FRAME,
  time: CLOCK_TIME,
  progress: CLOCK_PROGRESS,
  index: CLOCK_INDEX,
  outer: CLOCK_OUTER,
} as const;

/** One keyed component: where its value goes and how it is fitted. */
export interface KeyedComponent {
  readonly address: string;
  readonly component: number;
  readonly slot: number;
  readonly track: CompiledTrack;
  /** Numbers that its place among the plan's tracks has room for. */
  readonly room: number;
  readonly fit: number;
  readonly min: number;
  readonly max: number;
}

/** Slots and limits of all keyed components, in their order: reaching into objects costs more than a curve. */
export interface CurveTargets {
  readonly slots: Int32Array;
  readonly fits: Uint8Array;
  readonly lows: Float64Array;
  readonly highs: Float64Array;
  /** Components that are fitted by more than their limits. */
  readonly odd: Int32Array;
}

/** A channel on which clips are shown. */
export interface LayeredChannel {
  readonly address: string;
  readonly slot: number;
  readonly fit: number;
  readonly min: number;
  readonly max: number;
  /** Stored value to go back to where no showing is seen; `null` where keys give it anew each frame. */
  readonly stored: number[] | null;
  /** Lowest first. */
  readonly showings: readonly Showing[];
}

/** One link: its formula, or why it is out of force. */
export interface PlannedLink {
  readonly address: string;
  readonly slot: number;
  /** First slot of its value without the link. */
  readonly ownSlot: number;
  /** Numbers that it gives: 3 for a colour. */
  readonly width: 1 | 3;
  readonly expression: Expression | null;
  readonly error: FormulaError | null;
  readonly fit: number;
  readonly min: number;
  readonly max: number;
}

/** Parts that pins hold together, and where the numbers that they read stand: -1 counts as 0. */
export interface PlannedLinkage {
  readonly linkage: Linkage;
  readonly slots: Int32Array;
}

/** Work restricted to what one value needs: the same work as a whole frame, of chosen items. */
export interface SubPlan {
  readonly keyed: readonly KeyedComponent[];
  readonly oklab: Int32Array;
  readonly layers: readonly LayeredChannel[];
  /** Links out of force that are needed: their channels take their own values. */
  readonly held: readonly PlannedLink[];
  readonly phases: readonly { readonly links: readonly number[]; readonly nodes: readonly number[] }[];
}

/** Something asked of a channel at another moment. */
export interface Probe {
  readonly kind: ProbeKind;
  /** Of a spring that follows. */
  readonly spring?: Spring;
  /** Of a ratchet, the angle from one tooth to the next in degrees. */
  readonly pitch?: number;
  /** Slot of the answer in the numbers of that moment: the component of a colour that is asked. */
  readonly slot: number;
  readonly sub: SubPlan;
  /** Every channel whose change can change the answer, at whatever frame. */
  readonly reads: readonly string[];
}

export interface Measure {
  readonly kind: MeasureKind;
  readonly nodes: readonly number[];
  /** Number of the follow whose path is measured, or -1. */
  readonly follow: number;
}

export interface PlannedAim {
  readonly target: number;
  readonly axis: Aim['axis'];
  readonly up: Aim['up'];
}

export interface PlannedFollow {
  readonly points: Int32Array;
  readonly closed: boolean;
  readonly turn: boolean;
  readonly alongSlot: number;
}

export interface PlannedRepeat {
  readonly node: number;
  readonly pattern: RepeatOptions['pattern'];
  /** Slot of the first place channel of the hub that sets the step, or -1. */
  readonly stepBase: number;
  readonly stepOrder: number;
  readonly copiesSlot: number;
  readonly gapSlot: number;
  readonly spanSlot: number;
  /** Slot of the first of the per-copy channels, which lie side by side. */
  readonly copyBase: number;
  /** Numbers, in `order`, of the links of per-copy channels. */
  readonly links: readonly number[];
  /** Slot of the count of the repeat around it, where a link tells its copies apart; -1 where none does. */
  readonly outerSlot: number;
}

/** What a plan hands on to the next one, so that only what an edit touches is made anew. */
export interface PlanMemory {
  /** Temporary slots, which lie right after the clock. */
  readonly temporaries: number;
  /** Slots of constants; NaN stands for -0. */
  readonly constants: ReadonlyMap<number, number>;
  readonly calls: CallTable;
  /** Instructions of the links in force, by address. */
  readonly segments: ReadonlyMap<string, Segment & { readonly expression: Expression }>;
  /** Ranges [from, to) of `keyed` that belong to an owner. */
  readonly keyedOf: ReadonlyMap<string, readonly [from: number, to: number]>;
  /** The order of work; `null` where there are loops. */
  readonly work: Schedule | null;
  /** Colours whose keys blend in OKLab. */
  readonly oklab: readonly { readonly address: string; readonly slot: number }[];
}

/**
 * A shot made ready for evaluation. Evaluators keep the changing numbers. Slots begin with the clock and the temporaries;
 * then come, in the order in which they were first met, the channels of each owner side by side (three slots for a
 * colour), own values of linked channels, and constants.
 */
export interface Plan extends Program {
  shot: Shot;
  readonly names: NameTable;
  readonly loudness: LoudnessTables;
  readonly slotCount: number;
  /** Slot of a channel; the first of three for a colour. */
  readonly slots: SlotTable;
  /** Numbers that slots start with: stored values and constants. */
  readonly initial: Float64Array;
  readonly keyed: KeyedComponent[];
  /** Tracks of all keyed components, one after another, and where each begins. */
  tracks: Float64Array;
  /** Whether another plan holds the same array of tracks: it must be copied before it is written to. */
  sharesTracks: boolean;
  readonly origins: Int32Array;
  /** What working out all keyed components needs of each, side by side. */
  readonly curves: CurveTargets;
  /** First slots of the colours whose keys blend in OKLab. */
  readonly oklab: Int32Array;
  readonly layers: readonly LayeredChannel[];
  readonly links: readonly PlannedLink[];
  /** Links that the formula checker refuses, by address; those on loops are not among them. */
  readonly errors: ReadonlyMap<string, { readonly link: Link; readonly error: FormulaError }>;
  /** Links in force, each after all it reads. */
  readonly order: readonly PlannedLink[];
  /** Links out of force. */
  readonly held: readonly PlannedLink[];
  readonly linkOf: ReadonlyMap<string, PlannedLink>;
  /** Place in `order` of the links in force. */
  readonly orderOf: ReadonlyMap<string, number>;
  /** Parts in tree order. */
  readonly nodes: readonly string[];
  readonly nodeOf: ReadonlyMap<string, number>;
  /** Slot of the first place channel. */
  readonly nodeBase: Int32Array;
  /** Node of the parent, or -1. */
  readonly nodeParent: Int32Array;
  /** World matrix that a part hangs from: its parent's node, or past the nodes the first copy's frame of a repeat; -1 is the world. */
  readonly nodeFrame: Int32Array;
  readonly nodeOrder: Uint8Array;
  readonly nodeVisible: Int32Array;
  /** 1 where the world matrix can change from frame to frame. */
  readonly nodeMoves: Uint8Array;
  /** 1 for parts that neither aim nor follow a path nor repeat. */
  readonly nodePlain: Uint8Array;
  readonly nodeAim: readonly (PlannedAim | null)[];
  /** Number of the follow of a part, or -1. */
  readonly nodeFollow: Int32Array;
  /** Number of the repeat that a part is, or -1; and of the nearest repeat it hangs below, or -1. */
  readonly nodeRepeat: Int32Array;
  readonly nodeWithin: Int32Array;
  readonly follows: readonly PlannedFollow[];
  readonly repeats: readonly PlannedRepeat[];
  /** Nodes in the order in which they are worked out. */
  readonly nodeSequence: Int32Array;
  readonly phases: readonly Phase[];
  readonly probes: readonly Probe[];
  readonly measures: readonly Measure[];
  /** Sounds whose level is asked, and the frames at which they begin. */
  readonly levels: readonly { readonly sound: string; readonly piece: SoundPiece }[];
  /** Linkages of pinned parts, and what links ask of them: x, y or turn (0, 1, 2) of a body. */
  readonly linkages: readonly PlannedLinkage[];
  readonly pinned: readonly {
    readonly linkage: number;
    readonly body: number;
    readonly component: number;
  }[];
  /** Why the aim or follow of a part is out of force. */
  readonly optionErrors: ReadonlyMap<string, string>;
  readonly memory: PlanMemory;
}
