import { ArrowLeft, ArrowRight, Trash2 } from 'lucide-react';
import { JoinForm } from './forms/join-form';
import { ReelForm } from './forms/reel-form';
import { ShotForm } from './forms/shot-form';
import { SoundForm } from './forms/sound-form';
import { TitleForm } from './forms/title-form';
import { moveChosen, removeChosen } from './reel-edits';
import { useChosen, useReel, useReelSession } from './reel-session';

/** What is chosen in the reel, with all that it has; the reel itself where nothing is. */
export function ItemForm() {
  const reel = useReel((state) => state.reel);
  const chosen = useChosen();
  const at = reel.items.findIndex(({ id }) => id === chosen);
  const item = reel.items[at];
  const sound = reel.sounds.find(({ id }) => id === chosen);
  return (
    <section className="panel flex min-h-0 flex-col overflow-y-auto" aria-label="Values">
      {item ? (
        <>
          {item.kind === 'shot' ? <ShotForm item={item} /> : <TitleForm key={item.id} item={item} />}
          <JoinForm item={item} at={at} />
          <Deeds moves />
        </>
      ) : sound ? (
        <>
          <SoundForm sound={sound} />
          <Deeds moves={false} />
        </>
      ) : (
        <ReelForm />
      )}
    </section>
  );
}

function Deeds({ moves }: { moves: boolean }) {
  const session = useReelSession();
  return (
    <div className="flex gap-1.5 border-t border-line-soft p-2">
      {moves && (
        <>
          <button
            type="button"
            className="btn h-[24px]"
            title="One place earlier (Alt+Left)"
            onClick={() => moveChosen(session, -1)}
          >
            <ArrowLeft size={13} aria-hidden="true" />
            Earlier
          </button>
          <button
            type="button"
            className="btn h-[24px]"
            title="One place later (Alt+Right)"
            onClick={() => moveChosen(session, 1)}
          >
            Later
            <ArrowRight size={13} aria-hidden="true" />
          </button>
        </>
      )}
      <button
        type="button"
        className="btn ml-auto h-[24px] text-now"
        title="Take it out of the reel (Delete)"
        onClick={() => removeChosen(session)}
      >
        <Trash2 size={13} aria-hidden="true" />
        Take out
      </button>
    </div>
  );
}
