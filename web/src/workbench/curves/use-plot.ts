import { useMemo } from 'react';
import { trackOf, type Shot } from '../../../../core/document';
import { markersOf } from '../../../../core/edit';
import { framesPerSecond } from '../../../../core/time';
import { useEvening } from '../../shared/theme';
import { lanesOf, type Lane } from '../keys/lanes';
import { RULER, type RulerPicture } from '../keys/lanes-painter';
import { useChoice, useCurved, usePlot, useSession, useShot } from '../session';
import type { ShownTime } from '../timeline/use-time-window';
import { LINE_COLOURS, lanesToPlot, lineOf, type Line } from './lines';
import { idsByCurve } from './plot-hit';
import { plotMap, type PlotMap } from './plot-map';
import { motionOf, stripsOf, STRIP, type BelowPicture, type PlotPicture } from './plot-painter';
import { rollingFacts } from './rolling';

export const BELOW = 58;

/** What the plot shows. */
export interface PlotContent {
  /** Lanes that can be drawn, with the colours of their curves. */
  readonly lanes: readonly { readonly lane: Lane; readonly line: Line | null }[];
  /** Curves that are drawn. */
  readonly lines: readonly Line[];
  readonly lead: Line | null;
  /** The curve that leads as it is kept, whatever is tried. */
  readonly keptLead: Line | null;
  readonly map: PlotMap;
  readonly picture: PlotPicture;
  readonly ruler: RulerPicture;
}

const shownOf = (
  lanes: PlotContent['lanes'],
  hidden: ReadonlySet<string>,
  only: string | null,
): readonly Line[] => {
  const shown: Line[] = [];
  for (const { line } of lanes)
    if (line && (only === null ? !hidden.has(line.address) : line.address === only)) shown.push(line);
  return shown;
};

/** Curves that are listed as they are kept, and those shown: as they are tried out, and as they are kept. */
function usePlottedLines() {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const trial = usePlot((state) => state.trial);
  const hidden = usePlot((state) => state.hidden);
  const only = usePlot((state) => state.only);
  const chosen = useChoice((state) => state.chosen);
  const channel = useChoice((state) => state.channel);
  const curved = useCurved();
  const allLanes = useMemo(() => lanesOf(shot), [shot]);
  const lanes = useMemo(
    () => lanesToPlot(allLanes, chosen, channel),
    // The channel decides only where no part is chosen.
    [allLanes, chosen, channel],
  );
  const linesOf = (of: Shot): PlotContent['lanes'] =>
    lanes.map((lane, i) => ({
      lane,
      line: lineOf(of, lane, LINE_COLOURS[i % LINE_COLOURS.length]!, session.curves),
    }));
  /** Curves of a trial: those of parts that it leaves alone are the ones that are there. */
  const triedLines = (tried: Shot): PlotContent['lanes'] => {
    if (tried.setup !== shot.setup) return linesOf(tried);
    return lanes.map((lane, i) => {
      const there = listed[i]!;
      if (lane.part !== null && tried.parts[lane.part] === shot.parts[lane.part]) return there;
      const line = lineOf(tried, lane, LINE_COLOURS[i % LINE_COLOURS.length]!, session.curves);
      return line === there.line ? there : { lane, line };
    });
  };
  // Curves of linked channels come later, into the same store.
  // oxlint-disable-next-line react-hooks/exhaustive-deps
  const listed = useMemo(() => linesOf(shot), [lanes, shot, session, curved]);
  // oxlint-disable-next-line react-hooks/exhaustive-deps
  const drawn = useMemo(() => (trial ? triedLines(trial) : listed), [trial, listed]);
  const lines = useMemo(() => shownOf(drawn, hidden, only), [drawn, hidden, only]);
  const kept = useMemo(() => shownOf(listed, hidden, only), [listed, hidden, only]);
  return { allLanes, lanes, listed, lines, kept };
}

/** What is drawn below the plot of the leading curve: its speed, its acceleration or its slip. */
function beneathOf(
  lead: Line,
  of: {
    readonly below: 'speed' | 'acceleration' | 'slip' | 'nothing';
    readonly bottom: number;
    readonly map: PlotMap;
    readonly slip: ReturnType<typeof rollingFacts> | null;
    readonly perSecond: number;
    readonly first: number;
  },
): BelowPicture | null {
  const { below, bottom, map, slip, perSecond, first } = of;
  if (below === 'nothing') return null;
  const base = { top: bottom, height: BELOW };
  const axis = map.axisOf(lead);
  if (below === 'slip') {
    if (!slip) return { ...base, label: 'slip: say in Measure what rolls on what', at: () => 0 };
    const worst = Math.abs(slip.worst.slip) * 1000;
    return {
      ...base,
      label: `slip, at most ${worst.toFixed(worst < 10 ? 2 : 1)} mm`,
      at: (frame) =>
        (slip.values[Math.max(0, Math.min(slip.values.length - 1, Math.round(frame - first)))] ?? 0) * 1000,
    };
  }
  return {
    ...base,
    label: below === 'speed' ? `speed, ${axis.unit || '1'}/s` : `acceleration, ${axis.unit || '1'}/s²`,
    at: motionOf(lead, below, axis.per, perSecond),
  };
}

/** Puts together what the plot is painted from. */
export function usePlotContent(time: ShownTime, width: number, height: number): PlotContent {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const { trial, dragged, before, normalised, below, overlay, rolling, lift, band } = usePlot(
    (state) => state,
  );
  const channel = useChoice((state) => state.channel);
  const chosenKeys = useChoice((state) => state.chosenKeys);
  const curved = useCurved();
  const evening = useEvening();
  const plan = useShot((state) => state.plan);
  const shown = trial ?? shot;
  const { allLanes, lanes, listed, lines, kept } = usePlottedLines();
  const ranged = dragged ? kept : lines;
  const lead = lines.find((line) => line.address === channel) ?? lines[0] ?? null;
  const keptLead = kept.find((line) => line.address === lead?.address) ?? null;
  const { first, last, rate, unit } = shot.setup;
  const perSecond = framesPerSecond(rate);
  const wantsBelow = below !== 'nothing' && lead !== null;
  const bottom = Math.max(RULER + 20, height - (wantsBelow ? BELOW : 0));
  const top = RULER + stripsOf(lines, 0).size * (STRIP + 3);
  const { scale } = time;
  const map = useMemo(
    () => plotMap(ranged, scale, { width, top, bottom }, { normalised, lift }, unit),
    [ranged, scale, width, top, bottom, normalised, lift, unit],
  );
  const old = useMemo(() => {
    if (!before) return [];
    return lines.flatMap((line) => {
      const track = trackOf(before, line.address);
      if (!track || track === line.track || line.linked) return [];
      const lane = lanes.find(({ address }) => address === line.address)!;
      return lineOf(before, lane, line.colour, session.curves) ?? [];
    });
  }, [before, lines, lanes, session]);
  const overlaid = useMemo(() => {
    if (!overlay || !lead) return null;
    const lane = allLanes.find(({ address }) => address === overlay.address);
    const line = lane && lineOf(shown, lane, 'curve-2', session.curves);
    if (!line?.at) return null;
    const { scale: by, offset, shift } = overlay;
    return { line, at: (frame: number) => line.at!(frame - shift) * by + offset };
    // oxlint-disable-next-line react-hooks/exhaustive-deps
  }, [overlay, lead, allLanes, shown, session, curved]);
  const slip = useMemo(() => {
    if (below !== 'slip' || !rolling || !lead) return null;
    return rollingFacts(plan, trial, lead.address, rolling);
  }, [below, rolling, lead, plan, trial]);
  const beneath = useMemo(
    () => (wantsBelow && lead ? beneathOf(lead, { below, bottom, map, slip, perSecond, first }) : null),
    [wantsBelow, below, bottom, lead, map, slip, perSecond, first],
  );
  const chosenIds = useMemo(() => idsByCurve(chosenKeys), [chosenKeys]);
  const moving = useMemo(() => {
    const standing = new Set(kept);
    return new Set(lines.flatMap((line) => (standing.has(line) ? [] : [line.address])));
  }, [lines, kept]);
  const markers = useMemo(
    () =>
      markersOf(shot).map(({ id, marker }) => ({
        id,
        name: marker.beat ? '' : marker.name,
        beat: marker.beat === true,
        frame: marker.frame,
      })),
    [shot],
  );
  const picture = useMemo(
    () => ({
      map,
      lines,
      lead: lead?.address ?? null,
      first,
      last,
      rate: perSecond,
      markers,
      before: old,
      overlay: overlaid,
      band,
      below: beneath,
      moving,
      chosen: chosenIds,
      evening,
    }),
    [
      map,
      lines,
      lead,
      first,
      last,
      perSecond,
      markers,
      old,
      overlaid,
      band,
      beneath,
      moving,
      chosenIds,
      evening,
    ],
  );
  const ruler = useMemo(
    () => ({ width, scale, first, last, rate: perSecond, markers, band: null, evening }),
    [width, scale, first, last, perSecond, markers, evening],
  );
  return { lanes: listed, lines, lead, keptLead, map, picture, ruler };
}
