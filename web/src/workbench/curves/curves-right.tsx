import { createContext, memo, useContext, useMemo, useState } from 'react';
import { TabPanel, TabRow, Tabs } from '../../ui/tabs';
import { RULER } from '../keys/lanes-painter';
import { useShot } from '../session';
import { StripFields } from '../clips/strip-fields';
import { KeyFields } from '../shaping/key-fields';
import type { Line } from './lines';
import { Measures } from './measures';
import { Retime } from './retime';

const SIDES = [
  ['key', 'Key'],
  ['measure', 'Measure'],
  ['retime', 'Retime'],
] as const;

type Side = (typeof SIDES)[number][0];

/** The curve that leads and all that are drawn: only what shows them is drawn again while one is dragged. */
const Shown = createContext<{ readonly lead: Line | null; readonly lines: readonly Line[] }>({
  lead: null,
  lines: [],
});

function LeadMeasures() {
  const { lead } = useContext(Shown);
  return lead && <Measures key={lead.address} line={lead} />;
}

function LeadRetime() {
  const { lead, lines } = useContext(Shown);
  const unit = useShot((state) => state.shot.setup.unit);
  return lead && <Retime key={`${lead.address} ${unit}`} line={lead} lines={lines} />;
}

/** Right of the plot: the chosen key in numbers, what the curve that leads measures, and its timing. */
export const CurvesRight = memo(function CurvesRight({
  lead,
  lines,
  width,
}: {
  lead: Line | null;
  lines: readonly Line[];
  width: number;
}) {
  const [side, setSide] = useState<Side>('key');
  const shown = useMemo(() => ({ lead, lines }), [lead, lines]);
  const panel = useMemo(
    () => (
      <aside
        aria-label="Key and measures"
        data-scrolls
        className="absolute bottom-0 right-0 top-0 border-l border-line bg-panel"
        style={{ width }}
      >
        <Tabs<Side> value={side} onChange={setSide} className="flex h-full flex-col">
          <div
            className="flex flex-none items-center border-b border-line-soft bg-head px-1.5"
            style={{ height: RULER }}
          >
            <TabRow label="About the curve" tabs={SIDES} />
          </div>
          <TabPanel value="key" className="min-h-0 flex-1 overflow-y-auto p-2.5">
            <StripFields />
            <KeyFields />
          </TabPanel>
          <TabPanel value="measure" className="min-h-0 flex-1 overflow-y-auto p-2.5">
            <LeadMeasures />
          </TabPanel>
          <TabPanel value="retime" className="min-h-0 flex-1 overflow-y-auto p-2.5">
            <LeadRetime />
          </TabPanel>
        </Tabs>
      </aside>
    ),
    [side, width],
  );
  return <Shown.Provider value={shown}>{panel}</Shown.Provider>;
});
