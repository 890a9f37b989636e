import { all, create, type EvalFunction } from 'mathjs';
import { AnimationClip, AnimationMixer, Euler, NumberKeyframeTrack, Object3D } from 'three';
import { sortedKeys, type Shot } from '../core/document';
import { sliderPosition } from '../core/mechanism';

/**
 * The same work by general-purpose libraries: three's mixer for curves (its smooth tracks; it has no handles in this
 * form), mathjs for formulas, three's matrices for the tree.
 */
export function libraryStack(shot: Shot): { frame(frame: number): number; formulas(): void } {
  const math = create(all!, {});
  math.import(
    { slider: (angle: number, throwLength: number, rod: number) => sliderPosition(angle, throwLength, rod) },
    { override: true },
  );
  const root = new Object3D();
  const objects = new Map<string, Object3D>();
  const values: Record<string, Record<string, number>> = {};
  const tracks: NumberKeyframeTrack[] = [];
  for (const [id, part] of Object.entries(shot.parts)) {
    const object = new Object3D();
    object.name = id;
    object.matrixAutoUpdate = true;
    objects.set(id, object);
    (part.parent === null ? root : objects.get(part.parent)!).add(object);
    const record: Record<string, number> = {
      lx: 0,
      ly: 0,
      lz: (part.values['location.z'] as number) ?? 0,
      rx: (part.values['rotation.x'] as number) ?? 0,
      rz: 0,
      sx: 1,
    };
    values[id] = record;
    (object as unknown as { record: typeof record }).record = record;
    for (const [path, short] of [
      ['location.x', 'lx'],
      ['location.y', 'ly'],
      ['rotation.z', 'rz'],
    ] as const) {
      const keys = sortedKeys(part.tracks[path]!).map((entry) => entry.key);
      tracks.push(
        new NumberKeyframeTrack(
          `${id}.record[${short}]`,
          keys.map((key) => key.frame),
          keys.map((key) => key.value as number),
        ),
      );
    }
  }
  const mixer = new AnimationMixer(root);
  mixer.clipAction(new AnimationClip('all', -1, tracks)).play();
  const formulas: {
    id: string;
    code: EvalFunction;
    scope: Record<string, number>;
    source: [string, string];
  }[] = [];
  for (const [id, part] of Object.entries(shot.parts)) {
    const link = part.links['scale.x'];
    if (!link) continue;
    const [name, owner] = Object.entries(link.refs)[0]!;
    const short = link.formula.includes('location.x') ? 'lx' : 'sx';
    const text = link.formula
      .replaceAll(`${name}.location.x / 1m`, 'v')
      .replaceAll(`${name}.scale.x`, 'v')
      .replaceAll('40deg', '(40 * pi / 180)')
      .replaceAll('90deg', '90')
      .replaceAll(/(\d)m\b/g, '$1')
      .replace(/ \/ 1$/, '');
    const ternary = text
      .replace(/^if\((.*), (.*), (.*)\)$/, '($1) ? ($2) : ($3)')
      .replace(/clamp\((.*), -5, 5\)/, 'min(max($1, -5), 5)');
    formulas.push({ id, code: math.compile(ternary), scope: { v: 0 }, source: [owner, short] });
  }
  const euler = new Euler();
  const runFormulas = (): void => {
    for (const { id, code, scope, source } of formulas) {
      scope.v = values[source[0]]![source[1]]!;
      values[id]!.sx = Number(code.evaluate(scope));
    }
  };
  const runFrame = (frame: number): number => {
    mixer.setTime(frame);
    runFormulas();
    for (const [id, object] of objects) {
      const v = values[id]!;
      object.position.set(v.lx!, v.ly!, v.lz);
      euler.set((v.rx! * Math.PI) / 180, 0, (v.rz! * Math.PI) / 180);
      object.quaternion.setFromEuler(euler);
      object.scale.set(v.sx!, 1, 1);
    }
    root.updateMatrixWorld(true);
    return objects.get('prt_999')!.matrixWorld.elements[12];
  };
  return { frame: runFrame, formulas: runFormulas };
}
