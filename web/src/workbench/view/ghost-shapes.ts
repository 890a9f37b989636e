import { Group, Mesh, MeshBasicMaterial, type Camera, type WebGLRenderer } from 'three';
import { isWithinAny } from '../../../../core/document';
import { Evaluator, type Plan } from '../../../../core/evaluate';
import type { Picture } from '../../../../draw';
import { viewColour } from '../../shared/theme';
import type { Session } from '../session';
import { matrixAt } from './part-place';

const STEPS = [-3, -2, -1, 1, 2, 3];
const GAP_S = 1 / 6;

/** Shapes of the chosen parts a few frames before and after, where they stand elsewhere then. */
export class GhostShapes {
  private readonly group = new Group();
  private at: { plan: Plan; evaluator: Evaluator } | null = null;
  private readonly before = new MeshBasicMaterial({
    color: viewColour('key'),
    transparent: true,
    opacity: 0.18,
    depthWrite: false,
  });
  private readonly after = new MeshBasicMaterial({
    color: viewColour('teal'),
    transparent: true,
    opacity: 0.26,
    depthWrite: false,
  });

  draw(renderer: WebGLRenderer, session: Session, picture: Picture, camera: Camera, frame: number): void {
    const { shot, plan } = session.doc.now;
    if (this.at?.plan !== plan) this.at = { plan, evaluator: new Evaluator(plan) };
    const { evaluator } = this.at;
    const { rate, first, last } = shot.setup;
    const gap = Math.max(1, Math.round((GAP_S * rate.num) / rate.den));
    const roots = new Set(session.choice.now.chosen);
    const solids = plan.nodes.filter((id) => shot.parts[id]!.shape !== null && isWithinAny(shot, id, roots));
    this.group.clear();
    for (const step of STEPS) {
      const at = frame + step * gap;
      if (at < first || at > last) continue;
      evaluator.evaluate(at);
      for (const id of solids) {
        const node = plan.nodeOf.get(id)!;
        const world = matrixAt(evaluator, node);
        if (evaluator.shown[node] !== 1 || world.equals(matrixAt(session.evaluator, node))) continue;
        const mesh = new Mesh(
          picture.geometryOf(shot.parts[id]!.shape!)!,
          step < 0 ? this.before : this.after,
        );
        mesh.matrixAutoUpdate = false;
        mesh.matrix.copy(world);
        this.group.add(mesh);
      }
    }
    this.group.updateMatrixWorld(true);
    renderer.render(this.group, camera);
  }

  dispose(): void {
    this.before.dispose();
    this.after.dispose();
  }
}
