import type { ChannelSpec } from '../../../../core/document';

/** What helps to judge a number that stands alone in its row: a slider, its unit, or that it is not keyed. */
export function RowHelp(props: {
  spec: ChannelSpec;
  value: number;
  loose: boolean;
  linked: boolean;
  onValue(value: number): void;
  onPreview(value: number): void;
}) {
  const { spec, value, loose, linked } = props;
  if (loose) return <span className="col-span-2 truncate font-semibold text-now">changed, not keyed</span>;
  if (spec.max - spec.min <= 1 && spec.kind === 'number')
    return (
      <input
        type="range"
        aria-label={`${spec.label} slider`}
        className="col-span-2 h-1.5 w-full min-w-0 accent-key"
        min={spec.min}
        max={spec.max}
        step={0.005}
        value={value}
        disabled={linked}
        onChange={(event) => props.onPreview(Number(event.target.value))}
        onPointerUp={(event) => props.onValue(Number(event.currentTarget.value))}
        onKeyUp={(event) => props.onValue(Number(event.currentTarget.value))}
      />
    );
  return <span className="col-span-2 truncate pl-1 text-ink-3">{spec.unit ?? ''}</span>;
}
