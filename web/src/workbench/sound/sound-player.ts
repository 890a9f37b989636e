import type { Shot } from '../../../../core/document';
import { compile, pieceOf, type Plan } from '../../../../core/evaluate';
import { insetsOf, withInnerSounds, type ShotLibrary } from '../../../../core/inset';
import { between, endOf, fadeAt, levelsOver, secondsPlayed, type Heard } from '../../../../core/sound';
import { framesPerSecond } from '../../../../core/time';
import type { AudioClock, FrameRange } from '../state/player';

/** Numbers of a curve of loudness per second. */
const GAIN_RATE = 100;
/** Time between the wish to play and the first sound, so that all of it is ready. */
const LEAD_SECONDS = 0.02;
/** Rounds are laid out so long before they begin. */
const AHEAD_SECONDS = 1.5;
const LOOK_MS = 300;
/** Least length of what is heard at a frame that is gone to. */
const SCRUB_SECONDS = 0.06;

/** A sound clock that does not move for so long leads no more. */
const STANDS_MS = 1500;

/** What plays now. */
interface Round {
  /** Moment of the browser's sound clock at which the first frame is heard. */
  readonly starts: number;
  readonly from: number;
  readonly range: FrameRange;
}

/** Lets the sounds of a shot be heard, in play and at frames that are gone to. Its clock leads while it plays. */
export class SoundPlayer implements AudioClock {
  private context: AudioContext | null = null;
  private out: GainNode | null = null;
  private readonly files = new Map<string, Promise<AudioBuffer | null>>();
  private readonly ready = new Map<string, AudioBuffer>();
  private nodes: AudioScheduledSourceNode[] = [];
  private round: Round | null = null;
  private withInner: { of: Plan; inner: readonly (Shot | null)[]; plan: Plan } | null = null;
  /** Seconds from the first start to the end of the last round that is laid out. */
  private laidUntil = 0;
  private looking: ReturnType<typeof setInterval> | undefined;

  constructor(
    private readonly doc: { readonly now: { readonly shot: Shot; readonly plan: Plan } },
    private readonly library: ShotLibrary,
    private readonly readAsset: (hash: string) => Promise<Uint8Array>,
  ) {}

  /** The plan of all that is heard: the shot's sounds, and those of the shots in it. */
  private heard(): Plan {
    const { plan, shot } = this.doc.now;
    const inner = insetsOf(shot).map((id) => this.library.shotOf(id));
    if (inner.every((other) => other === null)) return plan;
    const known = this.withInner;
    if (known?.of === plan && inner.every((other, i) => other === known.inner[i])) return known.plan;
    const made = compile(withInnerSounds(shot, this.library), plan.loudness);
    this.withInner = { of: plan, inner, plan: made };
    return made;
  }

  private audible(): boolean {
    return Object.values(this.heard().shot.sounds).some(({ asset, muted }) => asset && !muted);
  }

  private open(): AudioContext {
    if (!this.context) {
      this.context = new AudioContext({ latencyHint: 'interactive' });
      this.out = this.context.createGain();
      this.out.connect(this.context.destination);
    }
    void this.context.resume();
    return this.context;
  }

  private buffer(asset: string): Promise<AudioBuffer | null> {
    let file = this.files.get(asset);
    if (!file) {
      file = this.readAsset(asset)
        .then((bytes) => this.open().decodeAudioData(Uint8Array.from(bytes).buffer))
        .then(
          (buffer) => {
            this.ready.set(asset, buffer);
            return buffer;
          },
          () => null,
        );
      this.files.set(asset, file);
    }
    return file;
  }

  /** Readies the browser's sound and the files of all sounds, so that they are heard at once when it plays. */
  prepare(): void {
    if (!this.audible()) return;
    this.open();
    for (const { asset, muted } of Object.values(this.heard().shot.sounds))
      if (asset && !muted) void this.buffer(asset);
  }

  /** The files of all that is heard, decoded; `null` where nothing is. */
  async decoded(): Promise<{ plan: Plan; files: Record<string, Heard>; rate: number } | null> {
    if (!this.audible()) return null;
    const { sampleRate: rate } = this.open();
    const plan = this.heard();
    const files: Record<string, Heard> = {};
    for (const [id, { asset, muted }] of Object.entries(plan.shot.sounds)) {
      const buffer = asset && !muted ? await this.buffer(asset) : null;
      if (!buffer) continue;
      const sides = Math.min(2, buffer.numberOfChannels);
      files[id] = { channels: Array.from({ length: sides }, (_, i) => buffer.getChannelData(i)), rate };
    }
    return { plan, files, rate };
  }

  start(from: number, range: FrameRange): (() => number | null) | null {
    if (!this.audible()) return null;
    const context = this.open();
    this.silence();
    const round: Round = { starts: context.currentTime + LEAD_SECONDS, from, range };
    this.round = round;
    this.laidUntil = 0;
    this.lay();
    this.looking = setInterval(() => this.lay(), LOOK_MS);
    for (const { asset, muted } of Object.values(this.heard().shot.sounds))
      if (asset && !muted && !this.ready.has(asset))
        void this.buffer(asset).then((buffer) => buffer && this.round === round && this.changed());
    let last = { clock: -1, moved: performance.now() };
    let stands = false;
    return () => {
      // A browser that lets nothing be heard before a click does not run its clock either.
      if (stands || context.state !== 'running') return null;
      if (context.currentTime !== last.clock) last = { clock: context.currentTime, moved: performance.now() };
      // A device that was taken away must not hold up the picture.
      else stands = performance.now() - last.moved > STANDS_MS;
      return this.heardAt(context) - round.starts;
    };
  }

  /** Moment of the sound clock that is heard now. */
  private heardAt(context: AudioContext): number {
    const { contextTime, performanceTime } = context.getOutputTimestamp();
    if (contextTime !== undefined && performanceTime !== undefined && performanceTime > 0) {
      const at = contextTime + (performance.now() - performanceTime) / 1000;
      // A stamp that is long past, as after a pause, says nothing.
      if (Math.abs(context.currentTime - at) < 0.5) return at;
    }
    return context.currentTime - (context.outputLatency || context.baseLatency || 0);
  }

  stop(): void {
    this.round = null;
    clearInterval(this.looking);
    this.silence();
  }

  /** The shot's sounds are others now: what plays is laid out anew from here. */
  changed(): void {
    const { round, context } = this;
    if (!round || !context) {
      if (context) this.prepare();
      return;
    }
    this.silence();
    const fps = framesPerSecond(this.doc.now.shot.setup.rate);
    const length = (round.range.last - round.range.first + 1) / fps;
    const gone = Math.max(0, context.currentTime - round.starts);
    // From the beginning of the round that plays now: what is past of it is left out.
    const first = (round.range.last - round.from + 1) / fps;
    this.laidUntil = gone < first ? 0 : first + Math.floor((gone - first) / length) * length;
    this.lay();
  }

  private silence(): void {
    for (const node of this.nodes) {
      node.onended = null;
      try {
        node.stop();
      } catch {
        // One that was never begun cannot be stopped.
      }
      node.disconnect();
    }
    this.nodes = [];
  }

  /** Lays out the rounds that begin soon. */
  private lay(): void {
    const { round, context } = this;
    if (!round || !context) return;
    const { setup } = this.doc.now.shot;
    const fps = framesPerSecond(setup.rate);
    const { first, last } = round.range;
    while (round.starts + this.laidUntil < context.currentTime + AHEAD_SECONDS) {
      const from = this.laidUntil === 0 ? round.from : first;
      this.layRange(round.starts + this.laidUntil, from, last);
      this.laidUntil += (last - from + 1) / fps;
    }
  }

  /** Lays out what is heard from one frame to another, beginning at a moment of the sound clock. */
  private layRange(moment: number, first: number, last: number): void {
    const plan = this.heard();
    const { shot } = plan;
    const context = this.context!;
    const fps = framesPerSecond(shot.setup.rate);
    const whole = (last - first + 1) / fps;
    const levels = levelsOver(plan, first, last);
    for (const [id, sound] of Object.entries(shot.sounds)) {
      const buffer = sound.asset && !sound.muted ? this.ready.get(sound.asset) : undefined;
      if (!buffer) continue;
      const piece = pieceOf(sound);
      const plays = secondsPlayed(piece, buffer.duration);
      const ends = endOf(shot, sound, buffer.duration);
      const begins = (sound.start - first) / fps;
      // What lies before this moment is past.
      const past = Math.max(0, context.currentTime - moment);
      const from = Math.max(past, begins, 0);
      const to = Math.min(whole, begins + ends);
      if (!(to - from > 0.005) || !(plays > 0)) continue;
      const source = new AudioBufferSourceNode(context, {
        buffer,
        loop: piece.loop,
        loopStart: piece.from,
        loopEnd: piece.from + plays,
      });
      const gain = new GainNode(context, { gain: 0 });
      const count = Math.max(2, Math.ceil((to - from) * GAIN_RATE) + 1);
      const curve = Float32Array.from({ length: count }, (_, i) => {
        const at = from + ((to - from) * i) / (count - 1);
        return between(levels[id]!, at * fps) * fadeAt(sound, at - begins, ends);
      });
      gain.gain.setValueCurveAtTime(curve, moment + from, to - from);
      source.connect(gain).connect(this.out!);
      const within = from - begins;
      source.start(moment + from, piece.from + (piece.loop ? within % plays : within));
      source.stop(moment + to);
      this.nodes.push(source);
      source.onended = () => {
        gain.disconnect();
        this.nodes = this.nodes.filter((node) => node !== source);
      };
    }
  }

  /** Lets the stretch of one frame be heard, at once. */
  scrub(frame: number): void {
    if (!this.context || this.round || !this.audible()) return;
    const context = this.open();
    if (context.state !== 'running') return;
    this.silence();
    const fps = framesPerSecond(this.doc.now.shot.setup.rate);
    const frames = Math.max(1, Math.ceil(SCRUB_SECONDS * fps));
    this.layRange(context.currentTime, frame, frame + frames - 1);
  }

  close(): void {
    this.stop();
    void this.context?.close();
  }
}
