import { Group, Matrix4, type Camera, type Mesh } from 'three';
import type { Inset } from '../../core/document';
import { Evaluator, MATRIX_SIZE, type Instances, type Plan } from '../../core/evaluate';
import { innerFrame } from '../../core/inset';
import { setMatrix } from './matrix';
import type { Audience } from './drawn';
import type { Picture } from './picture';

/** Copies of a shot below a repeat that are drawn at most: each is a whole picture. */
const COPIES_DRAWN = 64;

/** Where and how a shot in a shot is drawn. */
export interface InnerPlaces {
  /** Places of its copies below a repeat; `null` where it stands once. */
  readonly places: Instances | null;
  readonly own: Matrix4;
  readonly fade: number;
}

/** The pictures of one part that shows another shot: one, or one for each copy below a repeat. */
export class InnerPictures {
  readonly group = new Group();
  private pictures: Picture[] = [];
  private plan: Plan | null = null;
  private evaluator: Evaluator | null = null;
  private shot: string | null = null;
  private readonly place = new Matrix4();

  constructor(private readonly make: (shot: string) => Picture) {}

  /** Brings the inner shot to the frame that is shown at the outer one's; nothing is drawn where it is not seen. */
  refresh(
    outer: Evaluator,
    shown: { inset: Inset; plan: Plan } | null,
    { places, own, fade }: InnerPlaces,
  ): void {
    const frame = shown && innerFrame(shown.inset, shown.plan.shot.setup, outer.plan.shot.setup, outer.frame);
    if (!shown || frame === null) {
      this.keep(0);
      return;
    }
    const { inset, plan } = shown;
    if (this.shot !== inset.shot) this.keep(0);
    this.shot = inset.shot;
    if (this.plan !== plan || !this.evaluator) {
      this.plan = plan;
      this.evaluator = new Evaluator(plan);
      for (const picture of this.pictures) picture.setPlan(plan);
    }
    this.evaluator.evaluate(frame);
    this.keep(places ? Math.min(COPIES_DRAWN, places.count) : 1);
    this.pictures.forEach((picture, i) => {
      picture.fade = fade;
      picture.update(this.evaluator!);
      if (places) setMatrix(this.place, places.matrices, i * MATRIX_SIZE);
      else this.place.copy(own);
      picture.moveTo(this.place, inset.lights === true);
    });
  }

  /** Keeps as many pictures as are needed. */
  private keep(count: number): void {
    for (const gone of this.pictures.splice(count)) {
      this.group.remove(gone.scene);
      gone.dispose();
    }
    while (this.pictures.length < count) {
      const picture = this.make(this.shot!);
      picture.setPlan(this.plan!);
      this.pictures.push(picture);
      this.group.add(picture.scene);
    }
  }

  get softLights(): boolean {
    return this.pictures.some((picture) => picture.softLights);
  }

  get hasGlass(): boolean {
    return this.pictures.some((picture) => picture.hasGlass);
  }

  /** As `refine` of a picture. */
  refine(camera: Camera, height: number, tolerance: number): void {
    for (const picture of this.pictures) picture.refine(camera, height, tolerance);
  }

  /** Hides what the trays of the inner shot hide from an audience. */
  showTo(audience: Audience): void {
    for (const picture of this.pictures) picture.showTo(audience);
  }

  /** Meshes that are shown, for picking. */
  pickable(): Mesh[] {
    return this.pictures.flatMap((picture) => picture.pickable());
  }

  /** Moves what is drawn to where the shot round it is shown. */
  moveTo(place: Matrix4, lit: boolean): void {
    for (const picture of this.pictures) picture.moveTo(place, lit);
  }

  dispose(): void {
    this.keep(0);
  }
}
