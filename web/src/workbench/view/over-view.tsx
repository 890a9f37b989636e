import type { Camera } from 'three';
import { ClearanceMarks } from '../clearance/clearance-marks';
import { PinMarks } from '../pins/pin-marks';
import { PinTool } from '../pins/pin-tool';
import { useChoice, useShot, useViewSettings } from '../session';
import { Handles } from './handles';
import { JointArcs } from './joint-arcs';
import { Measure } from './measure';
import { SceneMarks } from './scene-marks';
import { Trail } from './trail';
import type { ViewPainter } from './view-painter';
import type { Area } from './view-size';

/** What is drawn over the picture: marks of the scene, handles, trail, arcs, findings, pins, and what the tool shows. */
export function OverView({
  painter,
  camera,
  area,
  isShot,
  pick,
}: {
  painter: ViewPainter;
  camera: Camera;
  area: Area;
  isShot: boolean;
  pick(hits: readonly string[], more: boolean, spot: null): void;
}) {
  const tool = useViewSettings((state) => state.tool);
  const trail = useViewSettings((state) => state.trail);
  const active = useChoice((state) => state.chosen.at(-1));
  const parts = useShot((state) => state.shot.parts);
  const handles = !isShot && tool !== 'measure' && tool !== 'pin';
  return (
    <>
      {handles && (
        <div className="absolute" style={{ left: area.left, top: area.top }}>
          <SceneMarks
            camera={camera}
            width={area.width}
            height={area.height}
            onPick={(id, more) => pick([id], more, null)}
          />
        </div>
      )}
      {trail && active && parts[active] && <Trail id={active} camera={camera} {...area} />}
      <ClearanceMarks camera={camera} {...area} />
      {!isShot && <JointArcs camera={camera} {...area} />}
      {!isShot && <PinMarks camera={camera} {...area} />}
      {handles && <Handles painter={painter} camera={camera} {...area} />}
      {tool === 'measure' && <Measure painter={painter} camera={camera} {...area} />}
      {tool === 'pin' && <PinTool painter={painter} camera={camera} {...area} />}
    </>
  );
}
