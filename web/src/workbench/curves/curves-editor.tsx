import { memo, useCallback, useMemo, useRef, useState, type PointerEvent } from 'react';
import { halfway } from '../../../../core/curve';
import { EXTENDS, keyList, trackOf, type Extend } from '../../../../core/document';
import { insertKeys, removeKeys, setExtend } from '../../../../core/edit';
import { MenuOn, type MenuEntries } from '../../ui/menu';
import { TabPanel, TabRow, Tabs } from '../../ui/tabs';
import { choose } from '../actions/choosing';
import { describeValue, formatNumber } from '../../shared/format';
import { entryOf } from '../commands';
import { EXTEND_WORDS } from '../keys/key-words';
import { LaneTip, RubberBox, type LaneTipAt } from '../keys/lane-overlays';
import type { Lane } from '../keys/lanes';
import { RULER } from '../keys/lanes-painter';
import { focusPanel } from '../panels';
import { useChoice, usePlot, useSession, useShot, type Session } from '../session';
import { KeyFields } from '../shaping/key-fields';
import { MannerPalette } from '../shaping/manner-palette';
import { Playhead } from '../timeline/playhead';
import { useSizeOf, useTimeWheel, useTimeWindow } from '../timeline/use-time-window';
import { ZoomBar } from '../timeline/zoom-bar';
import { ChannelList, OutsideWays } from './channel-list';
import { CurveTable } from './curve-table';
import type { Line } from './lines';
import { Measures } from './measures';
import { PlotCanvas } from './plot-canvas';
import { beginPlotDrag, type PlotBox } from './plot-drag';
import { boxOf, edgeAt, plotHit, type PlotHit, type Point } from './plot-hit';
import { plotKey } from './plot-keyboard';
import { ChosenKeys } from './plot-overlays';
import { Retime } from './retime';
import { usePlotContent, type PlotContent } from './use-plot';

const LEFT = 216;
const RIGHT = 222;
const BAR = 18;
const ZOOM_PER_PX = 1.0015;

function lead(session: Session, lane: Pick<Lane, 'address' | 'part'>): void {
  const { chosen } = session.choice.now;
  if (lane.part && chosen.length > 0 && !chosen.includes(lane.part)) choose(session, [lane.part]);
  session.choice.showChannel(lane.address);
}

const pointOf = (event: { clientX: number; clientY: number; currentTarget: Element }): Point => {
  const area = event.currentTarget.getBoundingClientRect();
  return { x: event.clientX - area.left, y: event.clientY - area.top };
};

/** What the pointer is over, in words: value and speed of a curve, or a key. */
function tipOf(session: Session, hit: PlotHit, at: Point, { map }: PlotContent): string | null {
  const { line, peg } = hit;
  if (!line || line.spec.kind === 'colour') return null;
  const { unit } = session.shot.setup;
  if (peg) {
    const key = trackOf(session.shot, peg.address)?.keys[peg.key];
    return key
      ? `frame ${Math.round(key.frame * 100) / 100}: ${describeValue(line.spec, key.value, unit)}`
      : null;
  }
  if (!line.at || hit.handle) return null;
  const frame = map.scale.frame(at.x);
  const { per } = map.axisOf(line);
  const slope = (line.at(frame + 1e-3) - line.at(frame - 1e-3)) / 2e-3 / per;
  const words = `${describeValue(line.spec, line.at(frame), unit)}  ${formatNumber(slope, 2)}/f`;
  if (hit.outside) return `${words}; click to choose how it goes on`;
  const keys = line.track && !line.linked ? keyList(line.track) : [];
  const next = keys.findIndex((key) => key.frame > frame);
  if (next < 1) return words;
  const middle = halfway(line.at, keys[next - 1]!.frame, keys[next]!.frame);
  const share = middle.share === null ? '' : `, ${Math.round(middle.share * 100)} %`;
  return `${words}; halfway ${describeValue(line.spec, middle.value, unit)}${share}`;
}

/** Menu of a peg, of a curve, of a curve outside its keys, and of the empty plot. */
function plotMenu(session: Session, hit: PlotHit | null, frame: number, lines: readonly Line[]): MenuEntries {
  const { line, outside } = hit ?? { line: null, outside: null };
  const { chosenKeys } = session.choice.now;
  if (line && outside) {
    const track = trackOf(session.shot, line.address)!;
    return [
      { heading: outside === 'before' ? 'Before the first key' : 'After the last key' },
      ...EXTENDS.map((extend: Extend) => ({
        label: EXTEND_WORDS[extend],
        current: track[outside] === extend,
        run: () => session.edit((now) => setExtend(now, line.address, outside, extend)),
      })),
    ];
  }
  return [
    line?.track &&
      !line.linked && {
        label: `Put a key in at frame ${frame}, the curve stays`,
        later: true,
        run: () => session.edit((now) => insertKeys(now, [line.address], frame)),
      },
    chosenKeys.length > 0 && entryOf(session, 'copy', { label: 'Copy', later: true }),
    session.clipboard.now.copied?.kind === 'keys' &&
      entryOf(session, 'paste', { label: 'Paste keys at the playhead', later: true }),
    session.clipboard.now.copied?.kind === 'keys' &&
      entryOf(session, 'paste-reversed', { label: 'Paste them reversed', later: true }),
    session.clipboard.now.copied?.kind === 'keys' &&
      entryOf(session, 'paste-onto', { label: 'Paste them into the curve that leads', later: true }),
    chosenKeys.length > 0 && {
      label: chosenKeys.length === 1 ? 'Remove the key' : `Remove ${chosenKeys.length} keys`,
      alarm: true,
      later: true,
      run: () => session.edit((now) => removeKeys(now, chosenKeys)),
    },
    'line',
    {
      label: 'Show all of the values',
      run: () => session.plot.look(null),
    },
    { label: 'Show the whole range', run: () => session.time.show(null) },
    lines.length > 1 && {
      label: session.plot.now.normalised ? 'One scale for each unit' : 'Each curve in full height',
      run: () => session.plot.normalise(!session.plot.now.normalised),
    },
  ];
}

const SIDES = [
  ['key', 'Key'],
  ['measure', 'Measure'],
  ['retime', 'Retime'],
] as const;

type Side = (typeof SIDES)[number][0];

/** The chosen channels as curves over time: their keys, handles, ways to move, and what they measure. */
const CurvesEditor = memo(function CurvesEditor() {
  const session = useSession();
  const box = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const size = useSizeOf(box, { width: 900, height: 240 });
  const chosenKeys = useChoice((state) => state.chosenKeys);
  const normalised = usePlot((state) => state.normalised);
  const unit = useShot((state) => state.shot.setup.unit);
  const [rubber, setRubber] = useState<PlotBox | null>(null);
  const [tip, setTip] = useState<LaneTipAt | null>(null);
  const [aim, setAim] = useState<{ hit: PlotHit; frame: number } | null>(null);
  const [side, setSide] = useState<Side>('key');
  const width = Math.max(80, size.width - LEFT - RIGHT);
  const height = Math.max(RULER + 30, size.height - BAR);
  const time = useTimeWindow(width);
  const content = usePlotContent(time, width, height);
  const { lanes, lines, map, picture, ruler } = content;
  const { first, last } = time;
  const zoomValues = (event: WheelEvent): void => {
    const { zoom, pan } = session.plot.now.lift;
    if (event.ctrlKey || event.metaKey) {
      const factor = Math.min(200 / zoom, Math.max(0.2 / zoom, ZOOM_PER_PX ** -event.deltaY));
      session.plot.look({ zoom: zoom * factor, pan: pan * factor });
    } else session.plot.look({ zoom, pan: pan + event.deltaY / Math.max(40, map.bottom - map.top) });
  };
  useTimeWheel(box, LEFT, time, (_, event) => zoomValues(event));

  const hitOf = (at: Point): PlotHit => plotHit(map, lines, picture.lead, session.choice.now.chosenKeys, at);
  const openMenu = (at: Point): void => {
    const area = canvas.current!.getBoundingClientRect();
    canvas.current!.dispatchEvent(
      new MouseEvent('contextmenu', {
        bubbles: true,
        cancelable: true,
        clientX: area.left + at.x,
        clientY: area.top + at.y,
      }),
    );
  };
  const onPointerDown = (event: PointerEvent<HTMLCanvasElement>): void => {
    const at = pointOf(event);
    const hit = hitOf(at);
    if (event.button !== 0) {
      if (hit.peg && !session.choice.now.chosenKeys.some((key) => key.key === hit.peg!.key))
        session.choice.keys([hit.peg]);
      setAim({ hit, frame: Math.round(map.scale.frame(at.x)) });
      return;
    }
    box.current?.focus({ preventScroll: true });
    beginPlotDrag(
      session,
      { map, lines, markers: picture.markers },
      hit,
      event.nativeEvent,
      event.currentTarget,
      {
        rubber: setRubber,
        tip: setTip,
        lead: (line) => lead(session, line),
        outside: (line, outside, point) => {
          setAim({
            hit: { peg: null, handle: null, line, outside },
            frame: Math.round(map.scale.frame(point.x)),
          });
          // Once the press that chose it is over.
          setTimeout(() => openMenu(point));
        },
      },
    );
  };
  const hover = (event: PointerEvent<HTMLCanvasElement>): void => {
    if (event.buttons) return;
    const at = pointOf(event);
    const hit = hitOf(at);
    const edge = edgeAt(boxOf(map, lines, session.choice.now.chosenKeys), at);
    const cursor =
      hit.handle || hit.peg
        ? 'grab'
        : edge
          ? edge === 'left' || edge === 'right'
            ? 'ew-resize'
            : 'ns-resize'
          : hit.outside
            ? 'pointer'
            : 'default';
    event.currentTarget.style.cursor = cursor;
    const text = tipOf(session, hit, at, content);
    setTip(text === null ? null : { x: at.x, y: at.y - 26, text });
  };
  const leading = content.lead;
  const meant = useMemo(() => (leading ? [leading.address] : []), [leading]);
  const onLead = useCallback((lane: Lane) => lead(session, lane), [session]);
  return (
    <div
      ref={box}
      id="curves"
      tabIndex={0}
      role="group"
      aria-label="Curves"
      className="relative min-h-0 flex-1 overflow-hidden outline-none focus-visible:outline-2"
      data-first-x={LEFT + map.scale.x(first)}
      data-per-frame={map.scale.perFrame}
      data-plot={
        leading
          ? JSON.stringify({
              top: map.y(leading, map.axisOf(leading).high),
              bottom: map.y(leading, map.axisOf(leading).low),
              low: map.axisOf(leading).low,
              high: map.axisOf(leading).high,
            })
          : undefined
      }
      onKeyDown={(event) => {
        if (event.target !== box.current) return;
        const keyboard = {
          lines,
          lead: leading,
          map,
          time,
          takeLead: (line: Line) => lead(session, line),
          menu: () => {
            setAim(null);
            openMenu({
              x: Math.max(0, Math.min(width, map.scale.x(session.time.now.frame))),
              y: (map.top + map.bottom) / 2,
            });
          },
        };
        if (!plotKey(session, event, keyboard)) return;
        event.preventDefault();
        event.stopPropagation();
      }}
    >
      <div
        data-scrolls
        className="absolute bottom-0 left-0 top-0 flex flex-col overflow-hidden border-r border-line"
        style={{ width: LEFT }}
      >
        <div
          className="flex flex-none items-center gap-1.5 border-b border-line-soft bg-head px-2"
          style={{ height: RULER }}
        >
          <span className="truncate text-ink-2">
            {lanes.length} {lanes.length === 1 ? 'curve' : 'curves'}
          </span>
          <button
            type="button"
            aria-pressed={normalised}
            className={`btn ml-auto h-[22px] px-1.5 ${normalised ? 'border-teal text-teal' : ''}`}
            title="Give each curve the full height, whatever its values"
            onClick={() => session.plot.normalise(!normalised)}
          >
            Full height
          </button>
        </div>
        <ChannelList lanes={lanes} lead={leading?.address ?? null} onLead={onLead} />
        <div className="min-h-0 flex-1 overflow-y-auto border-t border-line-soft px-2.5 py-2">
          <MannerPalette addresses={meant} />
        </div>
        {leading && <OutsideWays address={leading.address} />}
      </div>
      <MenuOn
        entries={() =>
          plotMenu(session, aim?.hit ?? null, aim?.frame ?? Math.round(session.time.now.frame), lines)
        }
        onClosed={() => {
          if (document.activeElement === document.body) focusPanel('curves');
        }}
      >
        <PlotCanvas
          ref={canvas}
          picture={picture}
          ruler={ruler}
          left={LEFT}
          width={width}
          height={height}
          onPointerDown={onPointerDown}
          onPointerMove={hover}
          onPointerLeave={() => setTip(null)}
          onDoubleClick={(event) => {
            const at = pointOf(event);
            const { line, peg, outside } = hitOf(at);
            if (!line?.track || line.linked || peg || outside) return;
            session.edit((now) => insertKeys(now, [line.address], Math.round(map.scale.frame(at.x))));
          }}
        />
      </MenuOn>
      <ChosenKeys map={map} lines={lines} chosen={chosenKeys} left={LEFT} />
      <div
        className="absolute bottom-0 border-t border-line-soft bg-panel"
        style={{ left: LEFT, width, height: BAR }}
      >
        <ZoomBar
          window={time.window}
          first={first}
          last={last}
          width={width}
          onChange={(next) => session.time.show(next)}
        />
      </div>
      <Playhead scale={map.scale} left={LEFT} width={width} height={height} />
      {rubber && <RubberBox rubber={rubber} left={LEFT} />}
      {tip && <LaneTip tip={tip} left={LEFT} room={LEFT + width} />}
      {lines.length === 0 && (
        <p className="absolute text-ink-2" style={{ left: LEFT + 24, top: RULER + 20 }}>
          {lanes.length > 0
            ? 'All curves are hidden. The eyes on the left show them again.'
            : 'Nothing here moves yet. Key a value with K, or link it: its curve is drawn here.'}
        </p>
      )}
      <aside
        aria-label="Key and measures"
        data-scrolls
        className="absolute bottom-0 right-0 top-0 border-l border-line bg-panel"
        style={{ width: RIGHT }}
      >
        <Tabs<Side> value={side} onChange={setSide} className="flex h-full flex-col">
          <div
            className="flex flex-none items-center border-b border-line-soft bg-head px-1.5"
            style={{ height: RULER }}
          >
            <TabRow label="About the curve" tabs={SIDES} />
          </div>
          <TabPanel value="key" className="min-h-0 flex-1 overflow-y-auto p-2.5">
            <KeyFields />
          </TabPanel>
          <TabPanel value="measure" className="min-h-0 flex-1 overflow-y-auto p-2.5">
            {leading && <Measures key={leading.address} line={leading} />}
          </TabPanel>
          <TabPanel value="retime" className="min-h-0 flex-1 overflow-y-auto p-2.5">
            {leading && <Retime key={`${leading.address} ${unit}`} line={leading} lines={lines} />}
          </TabPanel>
        </Tabs>
      </aside>
      <CurveTable line={leading} />
    </div>
  );
});

export default CurvesEditor;
