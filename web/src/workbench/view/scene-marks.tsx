import { useMemo } from 'react';
import type { Camera } from 'three';
import { partDefinition, type PartKind } from '../../../../core/document';
import { standingOf } from '../../../../core/edit';
import { PartGlyph } from '../fields/glyphs';
import { useSession, useChoice, useShot } from '../session';
import { toPixel } from './handle-geometry';
import { pivotOf } from './part-place';

/** More empty hubs than this are marked only beside what is chosen. */
const HUBS_AT_MOST = 60;

/** A solid is seen by its shape, a callout by its words. */
function isMarked(kind: PartKind): boolean {
  const { solid, role } = partDefinition(kind);
  return !solid && role !== 'label';
}

/** Marks of what has no shape to be seen by: cameras, lights, empty hubs, and the hubs next to what is chosen. */
export function SceneMarks(props: {
  camera: Camera;
  width: number;
  height: number;
  onPick(id: string, more: boolean): void;
}) {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const chosen = useChoice((state) => state.chosen);
  useShot((state) => state.tick);
  const ids = useMemo(() => {
    const standing = standingOf(shot);
    const all = Object.keys(shot.parts).filter(
      (id) => isMarked(shot.parts[id]!.kind) && !standing.away.has(id) && !standing.locked.has(id),
    );
    const isHub = (id: string): boolean => partDefinition(shot.parts[id]!.kind).carries;
    // A hub that carries something is chosen by that; its mark would only hide it.
    const carrying = new Set<string>();
    for (const part of Object.values(shot.parts))
      if (partDefinition(part.kind).solid)
        for (let up = part.parent; up !== null && !carrying.has(up); up = shot.parts[up]!.parent)
          carrying.add(up);
    const near = (id: string): boolean =>
      chosen.some(
        (other) => other === id || shot.parts[other]?.parent === id || shot.parts[id]!.parent === other,
      );
    const empty = all.filter((id) => isHub(id) && !carrying.has(id));
    const marked = new Set(empty.length <= HUBS_AT_MOST ? empty : []);
    return all.filter((id) => !isHub(id) || marked.has(id) || near(id));
  }, [shot, chosen]);
  return (
    <>
      {ids.map((id) => {
        const { x, y, ahead } = toPixel(
          pivotOf(session.evaluator, id),
          props.camera,
          props.width,
          props.height,
        );
        if (!ahead || x < 0 || y < 0 || x > props.width || y > props.height) return null;
        const { kind, name } = shot.parts[id]!;
        const quiet = partDefinition(kind).carries;
        return (
          <button
            key={id}
            type="button"
            tabIndex={-1}
            aria-label={`Choose ${name}`}
            title={name}
            className={`on-view pointer-events-auto absolute flex size-[18px] -translate-x-1/2 -translate-y-1/2 items-center justify-center rounded-full ${chosen.includes(id) ? 'bg-teal text-on-teal' : quiet ? 'text-ink/45 hover:bg-raised hover:text-ink' : 'bg-raised/75 text-ink-2 hover:text-ink'}`}
            style={{ left: x, top: y }}
            onPointerDown={(event) => event.stopPropagation()}
            onClick={(event) => props.onPick(id, event.ctrlKey || event.metaKey || event.shiftKey)}
          >
            <PartGlyph kind={kind} size={quiet ? 12 : 14} />
          </button>
        );
      })}
    </>
  );
}
