import { SAMPLE_COUNTS, type Setup } from '../../../../core/document';

const OF_SHOT = 'shot';

type Samples = NonNullable<Setup['samples']>;

interface Props<Value> {
  id?: string;
  value: Value;
  className: string;
  onChange(samples: Value): void;
}

/** How many pictures each frame is built up from; given what the shot says, it can be left at that, which is `null`. */
export function SampleSelect(props: Props<Samples> | (Props<Samples | null> & { ofShot: Samples })) {
  const ofShot = 'ofShot' in props ? props.ofShot : null;
  const choose = (text: string): void => {
    if (text !== OF_SHOT) props.onChange(Number(text) as Samples);
    else if ('ofShot' in props) props.onChange(null);
  };
  return (
    <select
      {...(props.id ? { id: props.id } : {})}
      className={`${props.className} ${ofShot === null ? 'w-[70px]' : 'w-[132px] flex-none'}`}
      title="1 is quick; soft shadows, blur of what moves and depth of focus ask for 8 to 64"
      value={props.value ?? OF_SHOT}
      onChange={(event) => choose(event.target.value)}
    >
      {ofShot !== null && <option value={OF_SHOT}>{ofShot}, as the shot</option>}
      {SAMPLE_COUNTS.map((count) => (
        <option key={count} value={count}>
          {count}
        </option>
      ))}
    </select>
  );
}
