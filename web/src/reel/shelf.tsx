import { FileInput, Music, Square, Type } from 'lucide-react';
import { toast } from 'sonner';
import type { ShotCard } from '../../../wire';
import { formatLength } from '../shared/format';
import { addShot, addSoundFile, addTitle, edit } from './reel-edits';
import { useReelSession } from './reel-session';
import { openTimeline } from './timeline-file';

const told = (work: Promise<unknown>): void =>
  void work.catch((error: unknown) => toast.error(error instanceof Error ? error.message : String(error)));

/** What can be put into the reel: the shots of its project, titles, sounds, a timeline from elsewhere. */
export function Shelf({ shots }: { shots: readonly ShotCard[] }) {
  const session = useReelSession();
  const bringIn = (): void =>
    openTimeline(shots, (name, reel, notes) => {
      edit(session, () => reel);
      session.goTo(1);
      toast.success(
        `${name} is the reel now: ${reel.items.length} shots and titles. Undo brings back what was.`,
      );
      if (notes.length > 0) toast(notes.join(' '), { duration: 30_000, closeButton: true });
    });
  const entry = (words: string, title: string, icon: React.ReactNode, run: () => void) => (
    <button type="button" className="btn h-7 justify-start" title={title} onClick={run}>
      {icon}
      {words}
    </button>
  );
  return (
    <section className="panel flex min-h-0 flex-col" aria-label="What can be put in">
      <h2 className="flex h-8 flex-none items-center border-b border-line-soft bg-head px-2.5 font-bold">
        Put in
        <span className="ml-auto font-medium text-ink-3">after what is chosen</span>
      </h2>
      <div className="grid flex-none grid-cols-2 gap-1.5 border-b border-line-soft p-2">
        {entry('Title', 'Words on a plain ground', <Type size={14} aria-hidden="true" />, () =>
          told(addTitle(session, 'Title')),
        )}
        {entry(
          'Black',
          'A black picture, for a fade or a pause',
          <Square size={14} aria-hidden="true" />,
          () => told(addTitle(session, '')),
        )}
        {entry(
          'Sound...',
          'A sound across the shots, from the playhead on',
          <Music size={14} aria-hidden="true" />,
          () => addSoundFile(session),
        )}
        {entry(
          'Timeline...',
          'OpenTimelineIO from another program takes the place of the reel',
          <FileInput size={14} aria-hidden="true" />,
          bringIn,
        )}
      </div>
      <ul className="min-h-0 flex-1 overflow-y-auto">
        {shots.map((card) => (
          <li key={card.id}>
            <button
              type="button"
              className="flex w-full items-center gap-2 border-b border-line-soft px-2 py-1.5 text-left hover:bg-raised"
              title={`Put ${card.name} into the reel`}
              onClick={() => addShot(session, card)}
            >
              <span className="block h-9 w-16 flex-none overflow-hidden rounded bg-film">
                {card.pictureRevision !== null && (
                  <img
                    src={`/api/shots/${card.id}/picture?revision=${card.pictureRevision}`}
                    alt=""
                    className="size-full object-cover"
                  />
                )}
              </span>
              <span className="min-w-0">
                <b className="block truncate">{card.name}</b>
                <span className="block truncate text-xs text-ink-2">
                  {formatLength(card.last - card.first + 1, card.rate)}
                </span>
              </span>
            </button>
          </li>
        ))}
      </ul>
      {shots.length === 0 && (
        <p className="flex-1 p-3 leading-relaxed text-ink-2">
          This project has no shots yet. Make one on the Projects page.
        </p>
      )}
    </section>
  );
}
