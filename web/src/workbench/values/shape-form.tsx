import { Popover } from 'radix-ui';
import { toast } from 'sonner';
import { setOutline, setProfile, setText } from '../../../../core/edit';
import { ProfileEditor } from '../add/profile-editor';
import { readSvg } from '../add/svg-outline';
import { chooseFile } from '../choose-file';
import { useSession, useShot, type Session } from '../session';
import { PulleysForm } from './pulleys-form';
import { TextForm } from './text-form';

/** What a shape is besides its sizes: the profile of a lathe, the text of a lettering, what a belt runs round. */
export function ShapeForm({ id }: { id: string }) {
  const session = useSession();
  const shape = useShot((state) => state.shot.shapes[state.shot.parts[id]?.shape ?? '']);
  const shapeId = useShot((state) => state.shot.parts[id]?.shape ?? '');
  if (!shape) return null;
  if (shape.profile)
    return (
      <Popover.Root>
        <div className="px-2.5 pb-1">
          <Popover.Trigger className="btn h-[22px] w-full">Draw the profile...</Popover.Trigger>
        </div>
        <Popover.Portal>
          <Popover.Content className="menu-surface p-3" side="left" align="start" sideOffset={8}>
            <ProfileEditor
              profile={shape.profile}
              onChange={(profile) => session.edit((shot) => setProfile(shot, shapeId, profile))}
            />
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
    );
  if (shape.pulleys) return <PulleysForm shapeId={shapeId} pulleys={shape.pulleys} />;
  if (shape.kind === 'outline')
    return (
      <div className="px-2.5 pb-1">
        <button
          type="button"
          className="btn h-[22px] w-full"
          onClick={() =>
            chooseFile('.svg,image/svg+xml', (file) => void replaceOutline(session, shapeId, file))
          }
        >
          Take another SVG drawing...
        </button>
      </div>
    );
  if (shape.text)
    return (
      <TextForm
        key={shapeId}
        label="Text of the lettering"
        text={shape.text}
        onWrite={({ text, outline }) => session.edit((shot) => setText(shot, shapeId, text, outline))}
      />
    );
  return null;
}

async function replaceOutline(session: Session, shapeId: string, file: File): Promise<void> {
  const svg = readSvg(await file.text());
  if (!svg.ok) {
    toast.error(`${file.name}: ${svg.reason}`);
    return;
  }
  session.edit((shot) => setOutline(shot, shapeId, svg.outline));
}
