import { ArrowDown } from 'lucide-react';
import { useMemo } from 'react';
import { splitAddress, tableOf, usersOf } from '../../../../core/document';
import { channelName } from '../../../../core/edit';
import { whyStill } from '../../../../core/check';
import { choose } from '../actions/choosing';
import { useSession, useChoice, useSheets, useShot } from '../session';
import { DialogFrame, DialogLeave, DialogTitle } from '../../ui/dialog-frame';

/** Walks from a channel back to where its motion stops, in words; each step can be gone to. */
export function WhyDialog() {
  const session = useSession();
  const open = useSheets((state) => state.open === 'why');
  const close = (): void => session.sheets.show(null);
  return (
    <DialogFrame open={open} onClose={close} className="top-[16%] w-[560px] p-4">
      <Answer onDone={close} />
    </DialogFrame>
  );
}

function Answer({ onDone }: { onDone(): void }) {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const plan = useShot((state) => state.plan);
  const channel = useChoice((state) => state.channel);
  const steps = useMemo(() => (channel === null ? [] : whyStill(plan, channel)), [plan, channel]);
  if (channel === null) return <DialogTitle>No value is chosen</DialogTitle>;
  const moves = steps[0]?.code === 'moves';
  return (
    <>
      <DialogTitle className="mb-3">
        {moves ? 'It moves: ' : 'Why nothing moves: '}
        {channelName(shot, channel)}
      </DialogTitle>
      <ol className="flex max-h-[50vh] flex-col gap-1 overflow-y-auto">
        {steps.map((step, i) => (
          <li key={`${step.address} ${step.code}`} style={{ paddingLeft: Math.min(step.depth, 6) * 16 }}>
            <button
              type="button"
              className={`flex w-full items-start gap-2 rounded-md border px-2.5 py-1.5 text-left leading-relaxed hover:border-teal ${i === steps.length - 1 && !moves ? 'border-now bg-now-wash' : 'border-line-soft bg-raised'}`}
              title="Go there"
              onClick={() => {
                const { owner } = splitAddress(step.address);
                const part = tableOf(owner) === 'parts' ? owner : usersOf(shot, owner)[0];
                if (part) choose(session, [part]);
                session.choice.showChannel(step.address);
                onDone();
              }}
            >
              {step.depth > 0 && (
                <ArrowDown size={13} className="mt-1 flex-none text-ink-3" aria-hidden="true" />
              )}
              <span>{step.text}</span>
            </button>
          </li>
        ))}
      </ol>
      <p className="mt-3 flex items-center text-ink-2">
        The last step is where the motion stops; a click goes there.
        <DialogLeave className="ml-auto">Close</DialogLeave>
      </p>
    </>
  );
}
