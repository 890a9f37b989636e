import { SAMPLE_COUNTS, type Setup } from '../../../../core/document';

type Samples = NonNullable<Setup['samples']>;

/** How many pictures each frame is built up from. */
export function SampleSelect(props: {
  id?: string;
  value: Samples;
  className: string;
  onChange(samples: Samples): void;
}) {
  return (
    <select
      {...(props.id ? { id: props.id } : {})}
      className={`${props.className} w-[70px]`}
      title="1 is quick; soft shadows, blur of what moves and depth of focus ask for 8 to 64"
      value={props.value}
      onChange={(event) => props.onChange(Number(event.target.value) as Samples)}
    >
      {SAMPLE_COUNTS.map((count) => (
        <option key={count} value={count}>
          {count}
        </option>
      ))}
    </select>
  );
}
