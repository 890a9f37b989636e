import { memo, useMemo } from 'react';
import { partDefinition } from '../../../../core/document';
import { METRES_PER_UNIT } from '../../../../core/formula';
import { Chip, Chips } from '../../ui/chips';
import { stepIn } from '../../shared/steps';
import { toggleCompare } from '../actions/comparing';
import { useCompare, useSession, useSheets, useShot, useViewSettings } from '../session';
import type { HandleAxes, Tool, ViewSide } from '../state/view-settings';

const SIDES: readonly [ViewSide, string][] = [
  ['free', 'Free'],
  ['front', 'Front'],
  ['side', 'Side'],
  ['top', 'Top'],
  ['shot', 'Shot'],
];
const TOOLS: readonly [Tool, string, string][] = [
  ['pick', 'Pick', 'Choose parts (Q). Drag turns the view, Shift slides it, Ctrl draws a box'],
  ['move', 'Move', 'Move the chosen parts (M)'],
  ['turn', 'Turn', 'Turn the chosen parts (T)'],
  ['size', 'Size', 'Size the chosen parts (Z)'],
  ['pivot', 'Pivot', 'Move the pivot; the part stays where it is (P)'],
  ['measure', 'Measure', 'Distance and angle between two points (D)'],
  ['pin', 'Join', 'Join parts by pins: click a point, then the point or the line that holds it (Y)'],
];
const AXES_WORDS: readonly [HandleAxes, string, string][] = [
  ['parent', 'Channels', 'Handles lie along what each channel changes: one handle, one value'],
  ['own', 'Own', "Handles lie along the part's own axes"],
  ['world', 'World', "Handles lie along the world's axes"],
];

/** The two bars at the top lie beside one another in a view that is so wide, pixels. */
const BOTH_BARS = 500;

/** What can be set about the view: whence one looks, what is shown, the tool and how it works. */
export const ViewBars = memo(function ViewBars({
  isShot,
  width,
  left,
  right,
}: {
  isShot: boolean;
  /** Of the view that is left by a viewfinder beside it, pixels. */
  width: number;
  /** Between which pixels the bar of tools has room. */
  left: number;
  right: number;
}) {
  const session = useSession();
  const side = useViewSettings((state) => state.side);
  const tool = useViewSettings((state) => state.tool);
  return (
    <>
      <Chips className="left-2.5 top-[calc(10px+var(--bar-message,0px))]" label="Look from">
        {SIDES.map(([key, words]) => (
          <Chip key={key} on={side === key} onClick={() => session.view.look(key)}>
            {words}
          </Chip>
        ))}
      </Chips>
      <ShowBar width={width} />
      <div
        className="absolute bottom-2.5 flex flex-wrap items-end gap-1.5"
        style={{ left: left + 10, maxWidth: Math.max(260, right - left - 20) }}
      >
        {!isShot && tool !== 'pick' && tool !== 'measure' && tool !== 'pin' && <HandlesBar />}
        {!isShot && (
          <Chips label="Tool">
            {TOOLS.map(([key, words, title]) => (
              <Chip key={key} on={tool === key} title={title} onClick={() => session.view.take(key)}>
                {words}
              </Chip>
            ))}
          </Chips>
        )}
        {isShot && (
          <span className="rounded-md bg-strip/75 px-2 py-1 text-paper">
            Drag looks about, Shift slides, the wheel goes ahead
          </span>
        )}
      </div>
    </>
  );
});

/** What is shown beside the parts themselves. */
function ShowBar({ width }: { width: number }) {
  const session = useSession();
  const trail = useViewSettings((state) => state.trail);
  const ghosts = useViewSettings((state) => state.ghosts);
  const draft = useViewSettings((state) => state.draft);
  const finder = useViewSettings((state) => state.finder);
  const compared = useCompare((state) => state.with !== null);
  return (
    <Chips
      className={
        width < BOTH_BARS
          ? 'left-2.5 top-[calc(42px+var(--bar-message,0px))]'
          : 'top-[calc(10px+var(--bar-message,0px))]'
      }
      right={width < BOTH_BARS ? undefined : `calc(100% - ${width - 10}px)`}
      label="Show"
    >
      <Chip
        on={trail}
        onClick={() => session.view.toggle('trail')}
        title="Where the chosen part goes: a dot for each frame, larger ones at keys, which can be dragged"
      >
        Trail
      </Chip>
      <Chip
        on={ghosts}
        onClick={() => session.view.toggle('ghosts')}
        title="The chosen parts some frames before and after"
      >
        Ghosts
      </Chip>
      <Chip
        on={compared}
        onClick={() => toggleCompare(session)}
        title="Two states of the shot, swiped or side by side (Alt+O)"
      >
        Compare
      </Chip>
      <Chip
        on={draft}
        onClick={() => session.view.toggle('draft')}
        title="Draws the view coarser and without shadows: faster on a computer without a graphics card. Films stay as they are."
      >
        Draft
      </Chip>
      <Chip
        on={finder !== 'off'}
        onClick={() => session.view.find(finder === 'off' ? 'small' : 'off')}
        title="What the camera takes"
      >
        Viewfinder
      </Chip>
    </Chips>
  );
}

/** How the handles of a tool lie, and what they catch on. */
function HandlesBar() {
  const session = useSession();
  const tool = useViewSettings((state) => state.tool);
  const axes = useViewSettings((state) => state.axes);
  const snap = useViewSettings((state) => state.snap);
  const locked = useViewSettings((state) => state.lockedAxes);
  const unit = useShot((state) => state.shot.setup.unit);
  return (
    <div className="flex w-full gap-1.5">
      <Chips label="Axes">
        {(['x', 'y', 'z'] as const).map((axis) => {
          const free = !locked.includes(axis);
          return (
            <button
              key={axis}
              type="button"
              aria-pressed={free}
              title={`${free ? 'Lock' : 'Free'} ${axis.toUpperCase()} (Alt+${axis.toUpperCase()})`}
              className="h-[26px] w-6 border-r border-line-soft font-semibold last:border-0"
              style={
                free
                  ? { background: `var(--color-${axis})`, color: 'var(--color-on-axis)' }
                  : { color: 'var(--color-ink-3)' }
              }
              onClick={() => session.view.toggleLock(axis)}
            >
              {axis.toUpperCase()}
            </button>
          );
        })}
      </Chips>
      {tool !== 'size' && (
        <Chips label="Handles along">
          {AXES_WORDS.map(([key, words, title]) => (
            <Chip key={key} on={axes === key} title={title} onClick={() => session.view.along(key)}>
              {words}
            </Chip>
          ))}
        </Chips>
      )}
      <Chips label="Catch on">
        <Chip
          on={snap.grid}
          title={`Steps of ${stepIn(unit) / METRES_PER_UNIT[unit]} ${unit}, of 15 degrees, of a tenth in size (hold Ctrl to change over)`}
          onClick={() => session.view.toggleSnap('grid')}
        >
          Steps
        </Chip>
        <Chip
          on={snap.points}
          title="Pivots, corners, edge middles and middles of other parts (hold Alt to let go)"
          onClick={() => session.view.toggleSnap('points')}
        >
          Points
        </Chip>
      </Chips>
    </div>
  );
}

/** What to do first, in a shot that holds nothing yet but what every new one has. */
export function FirstHint() {
  const session = useSession();
  const parts = useShot((state) => state.shot.parts);
  const recipe = useSheets((state) => state.recipe !== null);
  const bare = useMemo(() => {
    const all = Object.values(parts);
    return (
      all.filter((part) => !partDefinition(part.kind).given).length <= 1 &&
      all.every((part) => Object.keys(part.tracks).length === 0)
    );
  }, [parts]);
  if (!bare || recipe) return null;
  return (
    <div className="absolute left-1/2 top-[22%] w-[330px] -translate-x-1/2 rounded-lg bg-raised/95 px-4 py-3 shadow-lg">
      <b className="mb-1 block text-[13px]">A floor, a camera and light are here. Now bring something in.</b>
      <p className="mb-2.5 leading-relaxed text-ink-2">
        Add a part, or drop pictures, SVG outlines, meshes and sounds on this view. Then go to a frame, change
        a value and press K to key it.
      </p>
      <span className="flex gap-2">
        <button type="button" className="btn btn-strong" onClick={() => session.sheets.show('add')}>
          Add (N)
        </button>
        <button type="button" className="btn" onClick={() => session.sheets.show('shot')}>
          Set up the shot (Shift+S)
        </button>
      </span>
    </div>
  );
}
