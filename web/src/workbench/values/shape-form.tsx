import { Popover } from 'radix-ui';
import { useState } from 'react';
import { toast } from 'sonner';
import { TEXT_LIMIT } from '../../../../core/document';
import { setOutline, setProfile, setText } from '../../../../core/edit';
import { FONTS, letteringOutline } from '../add/lettering';
import { ProfileEditor } from '../add/profile-editor';
import { readSvg } from '../add/svg-outline';
import { chooseFile } from '../choose-file';
import { useSession, useShot, type Session } from '../session';

/** What a shape is besides its sizes: the profile of a lathe, the text of a lettering. */
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
  if (shape.text) return <TextForm key={shapeId} shapeId={shapeId} text={shape.text} />;
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

function TextForm({ shapeId, text }: { shapeId: string; text: { text: string; font: string } }) {
  const session = useSession();
  const [typed, setTyped] = useState<string | null>(null);
  const [reason, setReason] = useState<string | null>(null);
  const write = async (next: { text: string; font: string }): Promise<void> => {
    if (next.text.trim() === text.text && next.font === text.font) {
      setTyped(null);
      return;
    }
    const made = await letteringOutline(next.text, next.font);
    if (!made.ok) {
      setReason(made.reason);
      return;
    }
    setReason(null);
    setTyped(null);
    session.edit((shot) => setText(shot, shapeId, made.text, made.outline));
  };
  return (
    <div className="grid gap-1 px-2.5 pb-1">
      <input
        aria-label="Text of the lettering"
        className="input-field h-[22px]"
        value={typed ?? text.text}
        maxLength={TEXT_LIMIT + 100}
        aria-invalid={reason !== null}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={() => typed !== null && void write({ ...text, text: typed })}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === 'Enter' && typed !== null) void write({ ...text, text: typed });
          if (event.key === 'Escape') {
            setTyped(null);
            setReason(null);
          }
        }}
      />
      <p className="text-xs text-ink-2">
        # shows the number below, | parts texts that a choice shows in turn.
      </p>
      {reason && (
        <p role="alert" className="text-now">
          {reason}
        </p>
      )}
      <select
        aria-label="Font"
        className="input-field h-[22px]"
        value={text.font}
        onChange={(event) => void write({ ...text, font: event.target.value })}
      >
        {FONTS.map((font) => (
          <option key={font.id} value={font.id}>
            {font.name}
          </option>
        ))}
      </select>
    </div>
  );
}
