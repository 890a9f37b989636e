import { toast } from 'sonner';
import type { Camera } from 'three';
import { linkOf, type Shot } from '../../../../core/document';
import { movePivot } from '../../../../core/edit';
import { formatNumber } from '../../shared/format';
import { beginDrag } from '../../ui/drag';
import { keepPhases, phaseTargets, tryPhases } from '../links/phase-targets';
import { tellWarning } from '../parts/parts-actions';
import { stop } from '../actions/time';
import { preview, setChannels, snapshot } from '../actions/values';
import type { Session } from '../session';
import type { HandleAxes } from '../state/view-settings';
import { PartDrag, type DragKind, type Grip } from './drag';
import type { Axis, HandleFrame } from './handle-geometry';
import { nearestSnap, otherPoints, partPoints, POINT_REACH_PX, type SnapPoint } from './snap-points';
import type { ViewPainter } from './view-painter';

const TYPED_LETTER = /^[0-9.,+\-*/() a-zA-Z°=]$/;
const NAMES: Record<DragKind, string> = {
  move: 'location',
  turn: 'rotation',
  size: 'scale',
  pivot: 'pivot',
};

/** Address of the channel that a handle changes. */
export function channelOfGrip(part: string, kind: DragKind, axis: Axis): string {
  return `${part}/${NAMES[kind]}.${axis}`;
}

/** What is shown beside the pointer while a handle is dragged. */
export interface Shown {
  readonly grip: Grip;
  readonly label: string;
  readonly x: number;
  readonly y: number;
  /** What has been typed in place of dragging. */
  readonly typed: string;
  /** Why what has been typed cannot be taken. */
  readonly reason: string | null;
  readonly snap: SnapPoint | null;
}

/** What a drag of a handle begins with. */
export interface GestureStart {
  readonly session: Session;
  readonly painter: ViewPainter;
  readonly camera: Camera;
  readonly width: number;
  readonly height: number;
  /** The part whose handles they are, the last chosen one. */
  readonly id: string;
  readonly frame: HandleFrame;
  readonly mode: HandleAxes;
  readonly grip: Grip;
  show(shown: Shown | null): void;
}

/** Where the pointer is, and the keys that change what it does. */
interface Pointer {
  readonly x: number;
  readonly y: number;
}

/**
 * One drag of a handle: values are tried in the view as it goes, a number can be typed, and at its end they are kept as one
 * edit or put back. A part that turns by a link is turned by its phase.
 */
export class HandleGesture {
  private readonly still: ReturnType<typeof snapshot>;
  private readonly shot: Shot;
  private readonly drag: PartDrag;
  private readonly snaps: readonly SnapPoint[];
  private readonly phases: ReadonlyMap<string, number>;
  private readonly turned: string;
  private last: ReturnType<PartDrag['to']>;
  private moved = false;
  private typed = '';
  private end: ((keep: boolean) => void) | null = null;

  /** Why it cannot begin, or `null`. */
  readonly refusal: string | null;

  constructor(
    private readonly of: GestureStart,
    private pointer: Pointer,
  ) {
    const { session, painter, camera, width, height, id, frame, mode, grip } = of;
    stop(session);
    this.shot = session.shot;
    this.still = snapshot(session);
    const { chosen } = session.choice.now;
    const { snap } = session.view.now;
    this.turned = channelOfGrip(id, 'turn', grip.axes[0]!);
    this.phases =
      grip.kind === 'turn' && mode === 'parent' && linkOf(this.shot, this.turned)
        ? phaseTargets(this.shot, chosen, this.turned)
        : new Map<string, number>();
    const view = { camera, width, height };
    this.drag = new PartDrag(this.shot, this.still, chosen, grip, mode, frame, view, pointer.x, pointer.y);
    this.refusal = this.byPhase ? null : this.drag.refusal();
    const places = grip.kind === 'move' || grip.kind === 'pivot';
    this.snaps = [
      ...(grip.kind === 'pivot' ? partPoints(this.shot, this.still, painter.picture, id).slice(1) : []),
      ...(snap.points && places ? otherPoints(this.shot, this.still, painter.picture, chosen) : []),
    ];
    this.last = this.drag.to({ ...pointer, fine: false, grid: false, snap: null });
  }

  private get byPhase(): boolean {
    return this.phases.has(this.turned);
  }

  /** Degrees by which the phase is dragged. */
  private phaseBy(): number {
    return (this.last.values[this.turned] as number) - this.still.number(this.turned);
  }

  /**
   * Follows the pointer from its press on.
   * @param place where an event is in the drawn picture
   * @param onEnd told when it is over
   */
  begin(
    element: Element,
    event: PointerEvent,
    place: (event: PointerEvent) => Pointer,
    onEnd: () => void,
  ): (keep: boolean) => void {
    const { session, id, grip } = this.of;
    session.choice.showChannel(channelOfGrip(id, grip.kind, grip.axes[0]!));
    this.end = beginDrag(element, event, {
      move: (next) => this.follow(next, place(next)),
      key: (pressed) => this.type(pressed),
      end: (keep) => {
        onEnd();
        this.finish(keep);
      },
    });
    this.show(null, null);
    return this.end;
  }

  private show(reason: string | null, snap: SnapPoint | null): void {
    const label = this.byPhase
      ? `Phase ${formatNumber(this.phases.get(this.turned)! + this.phaseBy(), 1)}°`
      : this.last.label;
    this.of.show({ grip: this.of.grip, label, ...this.pointer, typed: this.typed, reason, snap });
  }

  private tryValues(): void {
    const { session } = this.of;
    if (this.byPhase) tryPhases(session, this.phases, this.phaseBy());
    else preview(session, this.last.values);
  }

  private follow(event: PointerEvent, pointer: Pointer): void {
    const { session, camera, width, height } = this.of;
    this.pointer = pointer;
    if (this.typed !== '') return;
    this.moved = true;
    const snap = event.altKey
      ? null
      : nearestSnap(this.snaps, pointer.x, pointer.y, camera, width, height, POINT_REACH_PX);
    const grid = session.view.now.snap.grid !== event.ctrlKey;
    this.last = this.drag.to({ ...pointer, fine: event.shiftKey, grid, snap });
    this.tryValues();
    this.show(null, snap);
  }

  /** Takes a key; says whether it meant the drag. */
  private type(event: KeyboardEvent): boolean {
    if (event.key === 'Enter') {
      this.end?.(true);
      return true;
    }
    if (event.key === 'Backspace') this.typed = this.typed.slice(0, -1);
    else if (TYPED_LETTER.test(event.key) && !event.ctrlKey && !event.metaKey) this.typed += event.key;
    else return false;
    if (this.typed === '') {
      this.show(null, null);
      return true;
    }
    const result = this.drag.typed(this.typed);
    if (result.ok) {
      this.last = result.dragged;
      this.moved = true;
      this.tryValues();
    }
    this.show(result.ok ? null : result.reason, null);
    return true;
  }

  private finish(keep: boolean): void {
    const { session, grip, show } = this.of;
    show(null);
    const wrong = this.typed !== '' && !this.drag.typed(this.typed).ok;
    const kept = keep && this.moved && !wrong;
    if (this.byPhase) keepPhases(session, this.phases, kept ? this.phaseBy() : 0);
    else if (!kept) preview(session, null);
    else if (grip.kind === 'pivot') this.keepPivot();
    else setChannels(session, Object.entries(this.last.values));
  }

  private keepPivot(): void {
    const { session, id } = this.of;
    preview(session, null);
    session.edit((now) => {
      const [x, y, z] = (['x', 'y', 'z'] as const).map(
        (axis) => this.last.values[channelOfGrip(id, 'pivot', axis)] as number,
      );
      const { change, warning } = movePivot(now, snapshot(session), id, [x!, y!, z!]);
      tellWarning(warning, now.parts[id]!.name);
      return change;
    });
  }
}

/** Begins a drag of a handle, unless nothing of it can be dragged, which is told. */
export function beginHandle(
  start: GestureStart,
  element: SVGElement,
  event: PointerEvent,
  onEnd: () => void,
): ((keep: boolean) => void) | null {
  const box = (element.ownerSVGElement ?? element).getBoundingClientRect();
  const place = ({ clientX, clientY }: PointerEvent): Pointer => ({
    x: clientX - box.left,
    y: clientY - box.top,
  });
  const gesture = new HandleGesture(start, place(event));
  if (gesture.refusal) {
    toast.error(gesture.refusal);
    return null;
  }
  return gesture.begin(element, event, place, onEnd);
}
