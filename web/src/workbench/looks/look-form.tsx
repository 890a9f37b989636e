import { PATTERNS, SHADOWS, type Look, type PatternKind } from '../../../../core/document';
import { changeLook } from '../../../../core/edit';
import { useSession, useShot } from '../session';
import { LookGallery } from './look-gallery';
import { PictureList } from './picture-list';

const PATTERN_WORDS: Record<PatternKind, string> = {
  stripes: 'stripes',
  checks: 'checks',
  dots: 'dots',
  gradient: 'gradient',
  wood: 'wood',
  brushed: 'brushed metal',
  hammered: 'hammered',
  ruler: 'numbered ruler',
};

type Shadow = NonNullable<Look['shadow']>;

const SHADOW_WORDS: Record<Shadow, string> = {
  thrown: 'only thrown',
  taken: 'only taken',
  none: 'neither',
  only: 'nothing else is seen',
};

/** What a look has beside its values: where it comes from, its pattern, shadows, sides and pictures. */
export function LookForm({ id }: { id: string }) {
  const session = useSession();
  const part = useShot((state) => state.shot.parts[id]);
  const look = useShot((state) => (part?.look ? state.shot.looks[part.look] : undefined));
  if (!part?.look || !look) return null;
  const lookId = part.look;
  const change = (options: Parameters<typeof changeLook>[2]): void => {
    session.edit((shot) => changeLook(shot, lookId, options));
  };
  const label = 'w-[82px] flex-none truncate text-ink-2';
  const select = 'input-field h-[22px] min-w-0 flex-1 px-1';
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-1 px-2.5 pb-1">
      <LookGallery id={lookId} />
      <label className="flex items-center gap-1.5">
        <span className={label}>Pattern</span>
        <select
          className={select}
          value={look.pattern?.kind ?? ''}
          title="Made by the program; its sizes are values below"
          onChange={(event) => {
            const kind = event.target.value as PatternKind | '';
            change({ pattern: kind === '' ? undefined : { lies: 'body', ...look.pattern, kind } });
          }}
        >
          <option value="">none</option>
          {PATTERNS.map((kind) => (
            <option key={kind} value={kind}>
              {PATTERN_WORDS[kind]}
            </option>
          ))}
        </select>
        {look.pattern && (
          <select
            className="input-field h-[22px] w-[92px] flex-none px-1"
            aria-label="How the pattern lies"
            title="Through the body in its own measure, or over the surface as a picture does"
            value={look.pattern.lies}
            onChange={(event) =>
              change({ pattern: { ...look.pattern!, lies: event.target.value as 'body' | 'surface' } })
            }
          >
            <option value="body">through it</option>
            <option value="surface">over it</option>
          </select>
        )}
      </label>
      <label className="flex items-center gap-1.5">
        <span className={label}>Shadows</span>
        <select
          className={select}
          value={look.shadow ?? ''}
          title="Whether it throws shadows on others and takes theirs"
          onChange={(event) => change({ shadow: (event.target.value || undefined) as Shadow | undefined })}
        >
          <option value="">thrown and taken</option>
          {SHADOWS.map((shadow) => (
            <option key={shadow} value={shadow}>
              {SHADOW_WORDS[shadow]}
            </option>
          ))}
        </select>
      </label>
      <label
        className="flex items-center gap-1.5 pl-[88px]"
        title="Cloth, paper and open shapes are seen from both sides"
      >
        <input
          type="checkbox"
          className="accent-teal"
          checked={look.twoSided === true}
          onChange={() => change({ twoSided: look.twoSided ? undefined : true })}
        />
        seen from behind, too
      </label>
      <PictureList id={id} />
    </div>
  );
}
