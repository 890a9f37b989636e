import { useEffect, useRef, useState } from 'react';
import { filmFormat } from '../../../../core/film';
import { useSession, useShot } from '../session';
import { FirstDrawing } from './first-drawing';
import { requestOf, type FilmForm } from './film-form';

/** Room for the picture, pixels of the page. */
const ROOM = { width: 266, height: 190 };
const WAITS_MS = 300;

/** The first picture of the film, small, as it will be. */
export function FirstPicture({ form }: { form: FilmForm }) {
  const session = useSession();
  const plan = useShot((state) => state.plan);
  const drawing = useRef<FirstDrawing | null>(null);
  // The picture that is there, and the frame that it shows: while another one is drawn it is not that one.
  const [shown, setShown] = useState<{ address: string; frame: number } | null>(null);
  const [failure, setFailure] = useState<string | null>(null);
  const { first, width, height, alpha, samples, effects } = requestOf(form);
  const sound = [first, width, height].every(Number.isInteger) && width > 0 && height > 0;
  const scale = Math.min(ROOM.width / width, ROOM.height / height, 1);
  const size = sound
    ? { width: Math.max(1, Math.round(width * scale)), height: Math.max(1, Math.round(height * scale)) }
    : null;

  useEffect(
    () => () => {
      drawing.current?.dispose();
      drawing.current = null;
    },
    [],
  );
  const [w, h] = [size?.width ?? 0, size?.height ?? 0];
  useEffect(() => {
    if (w === 0 || plan.shot.setup.camera === null) return;
    let there = true;
    const timer = setTimeout(() => {
      const draw = async (): Promise<void> => {
        drawing.current ??= new FirstDrawing(session);
        const blob = await drawing.current.draw({
          frame: first,
          width: w,
          height: h,
          alpha,
          samples,
          effects,
        });
        if (!there || !blob) return;
        setFailure(null);
        setShown({ address: URL.createObjectURL(blob), frame: first });
      };
      draw().catch((error: unknown) => {
        if (there) setFailure(error instanceof Error ? error.message : String(error));
      });
    }, WAITS_MS);
    return () => {
      there = false;
      clearTimeout(timer);
    };
  }, [session, plan, first, w, h, alpha, samples, effects]);
  useEffect(() => () => (shown ? URL.revokeObjectURL(shown.address) : undefined), [shown]);

  if (!size || plan.shot.setup.camera === null) return null;
  return (
    <figure className="mb-3">
      <div
        className={`flex items-center justify-center overflow-hidden rounded-md ${alpha ? 'checkered' : 'bg-film'}`}
        style={size}
      >
        {shown && (
          <img
            src={shown.address}
            alt={`Frame ${shown.frame} as it will be`}
            {...size}
            data-frame={shown.frame}
          />
        )}
      </div>
      <figcaption className="mt-1 text-ink-2">
        {failure !== null && `It cannot be drawn here: ${failure}. `}
        {filmFormat(form.format).still ? `Frame ${first}` : `The first frame, ${first}`}
      </figcaption>
    </figure>
  );
}
