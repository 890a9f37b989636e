import { channelAt, linkOf } from '../../../../core/document';
import { keyChannels } from '../../../../core/edit';
import { typedValue } from '../../../../core/formula';
import { describeValue, editableValue } from '../../shared/format';
import { valueNow } from '../actions/values';
import { useSession, useShot } from '../session';
import { ExactField } from '../shaping/exact-field';
import { typedEdit } from '../shaping/typed-edit';

/** The value of a lane at the playhead; what is typed is keyed there. Colours and switches have none. */
export function LaneValue({ address, name }: { address: string; name: string }) {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  useShot((state) => state.tick);
  const spec = channelAt(shot, address)?.spec;
  if (!spec || spec.kind === 'colour' || spec.kind === 'switch') return null;
  const value = valueNow(session, address, spec) as number;
  const linked = linkOf(shot, address) !== null;
  return (
    <span className="flex-none" onClick={(event) => event.stopPropagation()}>
      <ExactField
        label={`${name} at the playhead`}
        // What cannot be typed over is to be read: all of its digits would not stand there.
        text={(linked ? describeValue : editableValue)(spec, value, shot.setup.unit)}
        disabled={linked}
        title={
          linked
            ? 'Linked: its formula says what it is'
            : 'Value at the playhead: what is typed is keyed here'
        }
        className="w-[66px] font-normal [&_input]:h-[19px] [&_input]:px-1"
        onType={(text) => {
          const read = typedValue(shot, address, text, value);
          if (!read.ok) return read.error.message;
          const refused = typedEdit(session, (now) =>
            keyChannels(now, session.time.now.frame, [[address, read.value]]),
          );
          if (refused === null && address in session.keying.now.loose) {
            session.keying.letGo([address]);
            session.evaluate();
          }
          return refused;
        }}
      />
    </span>
  );
}
