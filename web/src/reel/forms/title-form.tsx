import { useRef, useState } from 'react';
import { changeItem, TITLE_LINES, TITLE_SIZE, type TitleItem } from '../../../../core/reel';
import { FONTS } from '../../workbench/add/lettering';
import { ColourControl } from '../../workbench/fields/colour-control';
import { NumberBox } from '../../ui/number-box';
import { edit, lettered, TITLE_FONT } from '../reel-edits';
import { useReelSession } from '../reel-session';
import { Head, Length, Row } from './form-parts';

/** A title of the reel: its words and how they look. */
export function TitleForm({ item }: { item: TitleItem }) {
  const session = useReelSession();
  const written = item.lines.map(({ text }) => text.text).join('\n');
  const font = item.lines[0]?.text.font ?? TITLE_FONT;
  const [typed, setTyped] = useState<string | null>(null);
  const [reason, setReason] = useState<string | null>(null);
  const change = (more: Partial<TitleItem>, kind = ''): void =>
    edit(session, (reel) => changeItem(reel, item, more), kind);
  const write = (text: string, inFont: string): void => {
    if (text.split('\n').filter((line) => line.trim() !== '').length > TITLE_LINES) {
      setReason(`A title has at most ${TITLE_LINES} lines.`);
      return;
    }
    lettered(text, inFont).then(
      (lines) => {
        setTyped(null);
        setReason(null);
        change({ lines });
      },
      (error: unknown) => setReason(error instanceof Error ? error.message : String(error)),
    );
  };
  return (
    <>
      <Head kind="title" name={written.split('\n')[0] || 'Black'} />
      <div className="py-1.5">
        <div className="px-2.5 pb-1">
          <textarea
            aria-label="Words of the title"
            rows={3}
            className="input-field h-auto w-full resize-none py-1 leading-snug"
            value={typed ?? written}
            placeholder="No words: a plain picture"
            onChange={(event) => setTyped(event.target.value)}
            onBlur={() => typed !== null && typed !== written && write(typed, font)}
            onKeyDown={(event) => {
              event.stopPropagation();
              if (event.key === 'Enter' && (event.ctrlKey || event.metaKey)) event.currentTarget.blur();
              if (event.key === 'Escape') {
                setTyped(null);
                setReason(null);
              }
            }}
          />
          {reason && (
            <p role="alert" className="text-now">
              {reason}
            </p>
          )}
        </div>
        <Row label="Font">
          <select
            aria-label="Font"
            className="input-field h-[22px] min-w-0 flex-1"
            value={font}
            disabled={item.lines.length === 0}
            onChange={(event) => write(typed ?? written, event.target.value)}
          >
            {FONTS.map(({ id, name }) => (
              <option key={id} value={id}>
                {name}
              </option>
            ))}
          </select>
        </Row>
        <Row label="Letter size">
          <NumberBox
            label="Letter size"
            value={item.size * 100}
            min={TITLE_SIZE.least * 100}
            max={TITLE_SIZE.most * 100}
            digits={1}
            onValue={(percent) => change({ size: percent / 100 }, `size ${item.id}`)}
          />
          <span className="text-ink-3">% of the height</span>
        </Row>
        <Row label="Letters">
          <Colour name="Letters" value={item.ink} onValue={(ink) => change({ ink }, `ink ${item.id}`)} />
        </Row>
        <Row label="Ground">
          <Colour
            name="Ground"
            value={item.ground}
            onValue={(ground) => change({ ground }, `ground ${item.id}`)}
          />
        </Row>
        <Row label="Length">
          <Length item={item} />
        </Row>
      </div>
    </>
  );
}

function Colour(props: {
  name: string;
  value: TitleItem['ink'];
  onValue(value: [number, number, number]): void;
}) {
  const { name, value, onValue } = props;
  /** What it was before the picker was opened: Escape puts that back. */
  const before = useRef<TitleItem['ink'] | null>(null);
  return (
    <span className="flex items-center gap-1.5 [&>button]:w-9 [&>button]:flex-none [&>input]:w-24">
      <ColourControl
        name={name}
        value={value}
        mixed={false}
        onPreview={(shown) => {
          if (shown) before.current ??= value;
          const put = shown ?? before.current;
          if (!shown) before.current = null;
          if (put) onValue([...put]);
        }}
        onValue={(chosen) => {
          before.current = null;
          onValue(chosen);
        }}
      />
    </span>
  );
}
