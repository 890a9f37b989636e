import { channelsOf, picturesOf, programPaths, type Owner, type Shot } from '../document';
import { COPY_LOOK_SIZE, Evaluator, MATRIX_SIZE, type Plan } from '../evaluate';
import { subFrame, videoPicture } from '../film';
import { innerFrame } from '../inset';

/** Takes one piece after another of what a frame means. */
export type Take = (piece: string | Uint8Array) => void;

/** What of an owner does not come from its values: how it is built, and with which program it is drawn. */
function built(owner: Owner & { readonly name?: string }): object {
  const { name: _name, values: _values, tracks: _tracks, links: _links, ...rest } = owner;
  return { ...rest, programs: programPaths(owner) };
}

/** All of a shot that shows and is the same at every frame. */
function standing(shot: Shot): string {
  const { first: _first, last: _last, ...setup } = shot.setup;
  const parts = Object.entries(shot.parts).map(([id, { locked: _locked, tray, ...part }]) => [
    id,
    built(part),
    tray !== undefined && shot.trays[tray]?.out === true,
  ]);
  const others = [shot.shapes, shot.looks].map((table) =>
    Object.entries<Owner>(table).map(([id, owner]) => [id, built(owner)]),
  );
  return JSON.stringify([setup, parts, others]);
}

/** Slots of all values of parts, shapes and looks. Dials, sounds and the clock show by what they drive. */
function slotsOf({ shot, slots }: Plan): Uint32Array {
  const ids = [shot.parts, shot.shapes, shot.looks].flatMap((table) => Object.keys(table));
  return Uint32Array.from(
    ids.flatMap((id) =>
      channelsOf(shot, id).flatMap(({ path, kind }) => {
        const first = slots.get(`${id}/${path}`)!;
        return kind === 'colour' ? [first, first + 1, first + 2] : [first];
      }),
    ),
  );
}

const bytesOf = (numbers: Float64Array | Uint8Array): Uint8Array =>
  new Uint8Array(numbers.buffer, numbers.byteOffset, numbers.byteLength);

/** A shot with what is evaluated of it. */
interface Read {
  readonly evaluator: Evaluator;
  readonly standing: string;
  /** Slots of the values of what is drawn, and room for what they hold. */
  readonly slots: Uint32Array;
  readonly shown: Float64Array;
  /** Parts that are shown more than once. */
  readonly copied: readonly string[];
}

/**
 * What a frame of a film shows, as pieces to be hashed: two frames of the same pieces are the same picture, drawn by the
 * same means at the same size. Everything evaluated counts, so that frames may be told apart that look the same, never the
 * other way round.
 */
export class FrameMeaning {
  private readonly read = new Map<Plan, Read>();

  /** @param inner plans of the shots that are shown in it, by their ids; `null` for those that are not known */
  constructor(
    private readonly plan: Plan,
    private readonly inner: (shot: string) => Plan | null,
  ) {}

  /** Tells what a frame means. */
  of(frame: number, take: Take): void {
    const { plan } = this;
    const { evaluator } = this.readOf(plan);
    const { camera, samples = 1 } = plan.shot.setup;
    evaluator.evaluate(frame);
    const number = (path: string): number =>
      camera === null ? 0 : evaluator.number(`${camera}/${path}`) || 0;
    const open = number('shutter') / 360;
    // What is laid out differently in each frame goes by its number.
    take(samples > 1 || number('grain') > 0 ? `frame ${frame}` : 'any frame');
    this.tell(plan, frame, frame, take, []);
    if (samples === 1 || open === 0) return;
    for (let i = 0; i < samples; i++)
      this.tell(plan, frame + open * subFrame(frame, i, samples).time, frame, take, []);
  }

  private readOf(plan: Plan): Read {
    let found = this.read.get(plan);
    if (!found) {
      const { shot } = plan;
      const drawn = (id: string): boolean =>
        shot.parts[id]!.shape !== null || shot.parts[id]!.kind === 'shot';
      const slots = slotsOf(plan);
      found = {
        evaluator: new Evaluator(plan),
        standing: standing(shot),
        slots,
        shown: new Float64Array(slots.length),
        copied: plan.nodes.filter((id, node) => plan.nodeWithin[node]! >= 0 && drawn(id)),
      };
      this.read.set(plan, found);
    }
    return found;
  }

  /**
   * Tells a shot at a moment.
   * @param whole the frame, at which videos stand still
   * @param within shots that it lies in
   */
  private tell(plan: Plan, moment: number, whole: number, take: Take, within: readonly string[]): void {
    const { evaluator, standing: words, copied, slots, shown } = this.readOf(plan);
    const { shot } = plan;
    take(words);
    evaluator.evaluate(whole);
    for (const { path, picture } of picturesOf(shot)) {
      if (!picture.video) continue;
      const shift = path[0] === 'looks' ? evaluator.number(`${path[1]!}/video.shift`) : 0;
      take(`video ${videoPicture(picture.video, whole, shot.setup.rate, shift)}`);
    }
    evaluator.evaluate(moment);
    slots.forEach((slot, i) => (shown[i] = evaluator.values[slot]!));
    take(bytesOf(shown));
    take(bytesOf(evaluator.world));
    take(bytesOf(evaluator.shown));
    for (const id of copied) {
      const copies = evaluator.copiesOf(id);
      if (!copies) continue;
      take(`copies ${copies.count}`);
      take(bytesOf(copies.matrices.subarray(0, copies.count * MATRIX_SIZE)));
      take(bytesOf(copies.looks.subarray(0, copies.count * COPY_LOOK_SIZE)));
    }
    for (const [id, { inset }] of Object.entries(shot.parts)) {
      if (!inset || within.includes(inset.shot)) continue;
      const other = this.inner(inset.shot);
      const at = (frame: number): number | null =>
        other && innerFrame(inset, other.shot.setup, shot.setup, frame);
      const [now, still] = [at(moment), at(whole)];
      take(`shown in ${id}: ${now === null ? 'nothing' : 'a shot'}`);
      if (other && now !== null) this.tell(other, now, still ?? now, take, [...within, inset.shot]);
    }
  }
}
