import { Dialog } from 'radix-ui';
import { ArrowDown } from 'lucide-react';
import { useMemo } from 'react';
import { splitAddress, tableOf, usersOf } from '../../../../core/document';
import { channelName } from '../../../../core/edit';
import { whyStill } from '../../../../core/check';
import { choose } from '../actions/choosing';
import { useSession, useChoice, useSheets, useShot } from '../session';

/** Walks from a channel back to where its motion stops, in words; each step can be gone to. */
export function WhyDialog() {
  const session = useSession();
  const open = useSheets((state) => state.open === 'why');
  const close = (): void => session.sheets.show(null);
  return (
    <Dialog.Root open={open} onOpenChange={(next) => !next && close()}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-shade/30" />
        <Dialog.Content
          className="panel fixed left-1/2 top-[16%] z-50 w-[560px] max-w-[94vw] -translate-x-1/2 p-4 shadow-2xl"
          aria-describedby={undefined}
        >
          <Answer onDone={close} />
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

function Answer({ onDone }: { onDone(): void }) {
  const session = useSession();
  const shot = useShot((state) => state.shot);
  const plan = useShot((state) => state.plan);
  const channel = useChoice((state) => state.channel);
  const steps = useMemo(() => (channel === null ? [] : whyStill(plan, channel)), [plan, channel]);
  if (channel === null) return <Dialog.Title>No value is chosen</Dialog.Title>;
  const moves = steps[0]?.code === 'moves';
  return (
    <>
      <Dialog.Title className="mb-3 text-[15px] font-bold">
        {moves ? 'It moves: ' : 'Why nothing moves: '}
        {channelName(shot, channel)}
      </Dialog.Title>
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
        <Dialog.Close className="btn ml-auto">Close</Dialog.Close>
      </p>
    </>
  );
}
