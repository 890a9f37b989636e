import { useRef, useState } from 'react';
import { METRES_PER_UNIT } from '../../../../core/formula';
import { useSession, useShot } from '../session';
import { bringIn, type BringOptions } from './bring-in';

/** Brings files in, with what is asked of pictures. */
export function BringFoot() {
  const session = useSession();
  const unit = useShot((state) => state.shot.setup.unit);
  const [sizing, setSizing] = useState<'pixels' | 'height'>('pixels');
  const [height, setHeight] = useState('1');
  const [box, setBox] = useState(false);
  const chooser = useRef<HTMLInputElement>(null);
  const tall = Number(height) * METRES_PER_UNIT[unit];
  const wrongHeight = sizing === 'height' && !(tall > 0 && tall <= 1e4);
  const options: BringOptions = {
    pictureSize: sizing === 'pixels' ? { by: 'pixels' } : { by: 'height', metres: tall },
    pictureBox: box,
  };
  return (
    <div className="flex flex-none flex-wrap items-center gap-x-4 gap-y-2 border-t border-line-soft bg-raised px-4 py-2.5">
      <button
        type="button"
        className="btn btn-strong"
        disabled={wrongHeight}
        onClick={() => chooser.current?.click()}
      >
        Bring files in...
      </button>
      <span className="min-w-[60%] flex-1 text-ink-2">
        PNG, JPEG, WebP, MP4, WebM as layers; SVG as outlines; GLB, glTF, OBJ, STL, PLY as meshes; WAV, MP3,
        OGG, FLAC as sounds; MIDI notes as beats. They can also be dropped on the view.
      </span>
      <span className="flex items-center gap-1.5">
        <label htmlFor="picture-size">Pictures are</label>
        <select
          id="picture-size"
          className="input-field px-1"
          value={sizing}
          onChange={(event) => setSizing(event.target.value as 'pixels' | 'height')}
        >
          <option value="pixels">as many pixels as they have (100 px = 1 m)</option>
          <option value="height">as high as typed</option>
        </select>
        {sizing === 'height' && (
          <>
            <input
              aria-label="Height of pictures"
              aria-invalid={wrongHeight}
              className="input-field num w-16"
              value={height}
              onChange={(event) => setHeight(event.target.value)}
              onKeyDown={(event) => event.stopPropagation()}
            />
            {unit}
          </>
        )}
      </span>
      <label className="flex items-center gap-1.5">
        <input
          type="checkbox"
          className="accent-teal"
          checked={box}
          onChange={(event) => setBox(event.target.checked)}
        />
        on the six faces of a box
      </label>
      {wrongHeight && (
        <p role="alert" className="w-full text-now">
          "{height}" is no height: type a number above 0, in {unit}.
        </p>
      )}
      <input
        ref={chooser}
        type="file"
        multiple
        hidden
        data-testid="bring-files"
        accept=".png,.jpg,.jpeg,.webp,.mp4,.mov,.m4v,.webm,.svg,.glb,.gltf,.bin,.obj,.stl,.ply,.wav,.mp3,.ogg,.oga,.flac,.mid,.midi"
        onChange={(event) => {
          const files = [...(event.target.files ?? [])];
          session.sheets.show(null);
          void bringIn(session, files, options);
        }}
      />
    </div>
  );
}
