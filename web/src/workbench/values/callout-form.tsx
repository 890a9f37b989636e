import { setCallout } from '../../../../core/edit';
import { useSession, useShot } from '../session';
import { TextForm } from './text-form';

/** What a callout says. */
export function CalloutForm({ id }: { id: string }) {
  const session = useSession();
  const callout = useShot((state) => state.shot.parts[id]?.callout);
  if (!callout) return null;
  return (
    <TextForm
      key={id}
      label="Text of the callout"
      text={callout.text}
      onWrite={({ text, outline }) => session.edit((shot) => setCallout(shot, id, { text, outline }))}
    />
  );
}
