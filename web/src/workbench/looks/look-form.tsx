import { PATTERNS, SHADOWS, type Look, type PatternKind } from '../../../../core/document';
import { changeLook } from '../../../../core/edit';
import { useSession, useShot } from '../session';
import { OptionRow, wordsOf } from '../values/option-row';
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
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] gap-1 px-2.5 pb-1">
      <LookGallery id={lookId} />
      <OptionRow
        label="Pattern"
        title="Made by the program; its sizes are values below"
        value={look.pattern?.kind ?? ''}
        choices={[['', 'none'], ...wordsOf(PATTERNS, PATTERN_WORDS)]}
        onChoose={(kind) =>
          change({ pattern: kind === '' ? undefined : { lies: 'body', ...look.pattern, kind } })
        }
      />
      {look.pattern && (
        <OptionRow
          label="It goes"
          title="Through the body in its own measure, or over the surface as a picture does"
          value={look.pattern.lies}
          choices={[
            ['body', 'through the body'],
            ['surface', 'over the surface'],
          ]}
          onChoose={(lies) => lies !== '' && change({ pattern: { ...look.pattern!, lies } })}
        />
      )}
      <OptionRow
        label="Shadows"
        title="Whether it throws shadows on others and takes theirs"
        value={look.shadow ?? ''}
        choices={[['', 'thrown and taken'], ...wordsOf(SHADOWS, SHADOW_WORDS)]}
        onChoose={(shadow) => change({ shadow: shadow === '' ? undefined : shadow })}
      />
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
