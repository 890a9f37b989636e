import { useMemo } from 'react';
import { channelName } from '../../../../core/edit';
import { compile, responseOverTime, responseToInput } from '../../../../core/evaluate';
import { useShot } from '../session';
import { factWords } from './fact-words';
import type { Trial } from './recipe-trial';

const PLOT = { width: 328, height: 64, points: 120, most: 4 };

/** Formulas, facts and a plot of what the recipe gives. */
export function Outcome({ trial }: { trial: Trial & { ok: true } }) {
  const { shot, written, driver } = trial;
  const loudness = useShot((state) => state.plan.loudness);
  const plot = useMemo(() => {
    const plan = compile(shot, loudness);
    const { first, last } = shot.setup;
    const moves =
      driver === null ||
      new Set(responseOverTime(plan, driver, first, last, 24).y.map((value) => value.toFixed(6))).size > 1;
    const curves = written.links.slice(0, PLOT.most).map(([address]) => {
      const { y } = moves
        ? responseOverTime(plan, address, first, last, PLOT.points)
        : responseToInput(plan, address, driver, first, 0, 360, PLOT.points);
      const [low, high] = [Math.min(...y), Math.max(...y)];
      const points = y
        .map((value, i) => {
          const share = high - low > 1e-9 ? (value - low) / (high - low) : 0.5;
          return `${((i / (y.length - 1)) * PLOT.width).toFixed(1)},${(PLOT.height - 4 - share * (PLOT.height - 8)).toFixed(1)}`;
        })
        .join(' ');
      return { address, points };
    });
    return { moves, curves };
  }, [shot, written, driver, loudness]);
  return (
    <>
      {(written.warnings ?? []).map((warning) => (
        <p
          key={warning}
          className="rounded bg-brass-wash px-2 py-1 leading-snug"
          data-testid="recipe-warning"
        >
          {warning}
        </p>
      ))}
      <svg
        width={PLOT.width}
        height={PLOT.height}
        className="flex-none rounded border border-line-soft bg-raised"
        role="img"
        aria-label="What the driven values do"
      >
        {plot.curves.map(({ address, points }, i) => (
          <polyline
            key={address}
            points={points}
            fill="none"
            stroke="var(--color-link)"
            strokeWidth={i === 0 ? 1.8 : 1}
            opacity={1 - i * 0.22}
          />
        ))}
      </svg>
      <p className="text-ink-3">
        {plot.moves
          ? 'over the range of the shot'
          : `over one turn of ${channelName(shot, driver!)}, which does not move yet: key it`}
      </p>
      {written.facts && (
        <dl className="num grid grid-cols-2 gap-x-3 text-ink-2">
          {Object.entries(written.facts).map(([name, value]) => (
            <div key={name} className="flex justify-between gap-2">
              <dt className="truncate">{name}</dt>
              <dd>{factWords(name, value, shot.setup.unit)}</dd>
            </div>
          ))}
        </dl>
      )}
      <ul aria-label="Formulas">
        {written.links.map(([address, formula]) => (
          <li key={address} className="mb-1">
            <span className="font-semibold">{channelName(shot, address)}</span>
            <code className="num block break-words text-link">= {formula}</code>
          </li>
        ))}
      </ul>
    </>
  );
}
