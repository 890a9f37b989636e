import { useState } from 'react';
import { addressOf, channelsOf, channelsReachedFrom, pinName, type Channel } from '../../../../core/document';
import { channelLabel, pinsOf } from '../../../../core/edit';
import { useShot } from '../session';
import { PartSelect } from './part-select';

/** Something else that can be picked of a part. */
export interface OtherPick {
  readonly label: string;
  readonly value: string;
}

/** Picks a value: a part, then one of its channels, or something else of it. */
export function ValuePick(props: {
  /** Part that is offered first. */
  part: string | null;
  fits(channel: Channel): boolean;
  others?(part: string): readonly OtherPick[];
  /** @param value address of a channel, or the value of something else */
  onPick(value: string): void;
}) {
  const { fits, others, onPick } = props;
  const shot = useShot((state) => state.shot);
  const [chosen, setPart] = useState(props.part);
  const part = chosen !== null && shot.parts[chosen] ? chosen : null;
  const channels =
    part === null
      ? []
      : [
          ...channelsReachedFrom(shot, part),
          ...pinsOf(shot, part).flatMap((pin) =>
            channelsOf(shot, pin).map((spec) => ({ owner: pin, path: spec.path, spec })),
          ),
        ];
  const nameOf = ({ owner, spec }: Channel): string =>
    shot.pins[owner] ? `${pinName(shot, shot.pins[owner])}: ${channelLabel(spec)}` : channelLabel(spec);
  return (
    <>
      <span className="flex w-40">
        <PartSelect
          shot={shot}
          value={part}
          none="a part..."
          title="Part"
          fits={() => true}
          onChoose={setPart}
        />
      </span>
      <select
        aria-label="What of it"
        className="input-field h-[22px] w-44 px-1"
        value=""
        disabled={part === null}
        onChange={(event) => onPick(event.target.value)}
      >
        <option value="">add a value...</option>
        {(part === null ? [] : (others?.(part) ?? [])).map(({ label, value }) => (
          <option key={value} value={value}>
            {label}
          </option>
        ))}
        {channels
          .filter((channel) => channel.spec.kind === 'number' && fits(channel))
          .map((channel) => (
            <option key={addressOf(channel)} value={addressOf(channel)}>
              {nameOf(channel)}
            </option>
          ))}
      </select>
    </>
  );
}
