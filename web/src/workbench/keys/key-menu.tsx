import { ContextMenu } from 'radix-ui';
import { EXTENDS, trackOf, type Shot } from '../../../../core/document';
import {
  insertKeys,
  removeKeys,
  reverseKeys,
  scaleKeys,
  setExtend,
  setStretch,
  snapKeys,
  type KeyAddress,
} from '../../../../core/edit';
import { EASING_NAMES } from '../../../../core/easing';
import { copyChosen, pasteCopied } from '../copy-paste';
import { focusPanel } from '../panels';
import { useSession, useSessionState, type Session } from '../session';
import { EXTEND_WORDS, mannerWords, STRETCHES } from './key-words';

/** What the pointer was over when a menu was asked for. */
export type MenuTarget =
  | { readonly kind: 'marker'; readonly id: string }
  | { readonly kind: 'ruler'; readonly frame: number }
  | {
      readonly kind: 'lane';
      readonly address: string;
      readonly frame: number;
      /** Keys that are meant: the chosen ones, or the one under the pointer. */
      readonly keys: readonly KeyAddress[];
      /** Keys with which stretches that are meant begin. */
      readonly stretches: readonly KeyAddress[];
      readonly onKey: boolean;
      readonly colour: boolean;
    };

const line = <ContextMenu.Separator className="my-1 h-px bg-line-soft" />;

function spanOf(shot: Shot, keys: readonly KeyAddress[]): { from: number; to: number } | null {
  const frames = keys.flatMap(({ address, key }) => trackOf(shot, address)?.keys[key]?.frame ?? []);
  return frames.length > 1 ? { from: Math.min(...frames), to: Math.max(...frames) } : null;
}

/** The keyboard goes back to the lanes, unless what was chosen has taken it already. */
function returnFocus(event: Event): void {
  event.preventDefault();
  if (document.activeElement === document.body) focusPanel('lanes');
}

/** Menu of a peg, of a stretch, of an empty lane, of the ruler and of a marker. */
export function KeyMenu(props: {
  target: MenuTarget | null;
  onMark(frame: number): void;
  onRenameMarker(id: string): void;
  onRemoveMarker(id: string): void;
  onStagger(): void;
}) {
  const session = useSession();
  const shot = useSessionState((state) => state.shot);
  const clipboard = useSessionState((state) => state.clipboard);
  const chosen = useSessionState((state) => state.chosen);
  const { target } = props;
  const item = (words: string, run: () => void, disabled = false, alarm = false) => (
    <ContextMenu.Item
      className={`menu-item ${alarm ? 'text-now' : ''}`}
      disabled={disabled}
      onSelect={() => setTimeout(run)}
    >
      {words}
    </ContextMenu.Item>
  );
  const stagger = item(
    'Stagger the chosen parts...',
    props.onStagger,
    chosen.filter((id) => shot.parts[id]).length < 2,
  );
  if (!target || target.kind === 'ruler')
    return (
      <ContextMenu.Content className="menu-surface" onCloseAutoFocus={returnFocus}>
        {item('Put a marker here', () => target && props.onMark(target.frame))}
        {item(
          'Begin the range here',
          () => target && session.edit((now) => rangeChange(now, { first: target.frame })),
          !target || target.frame >= shot.setup.last,
        )}
        {item(
          'End the range here',
          () => target && session.edit((now) => rangeChange(now, { last: target.frame })),
          !target || target.frame <= shot.setup.first,
        )}
        {line}
        {item('Show the whole range', () => session.store.setState({ window: null }))}
        {item('Paste keys at the playhead', () => pasteCopied(session), clipboard?.kind !== 'keys')}
      </ContextMenu.Content>
    );
  if (target.kind === 'marker') {
    const marker = shot.markers[target.id];
    return (
      <ContextMenu.Content className="menu-surface" onCloseAutoFocus={returnFocus}>
        {item('Go there', () => marker && session.goTo(marker.frame))}
        {item('Rename', () => props.onRenameMarker(target.id))}
        {item('Remove the marker', () => props.onRemoveMarker(target.id), false, true)}
      </ContextMenu.Content>
    );
  }
  const { keys, stretches } = target;
  const track = trackOf(shot, target.address);
  const span = spanOf(shot, keys);
  return (
    <ContextMenu.Content className="menu-surface" onCloseAutoFocus={returnFocus}>
      {stretches.length > 0 && (
        <>
          <ContextMenu.Label className="px-2 py-1 text-xs font-bold text-ink-3">
            {target.onKey ? 'From here on' : 'This stretch'}
          </ContextMenu.Label>
          {STRETCHES.filter(([manner]) => !target.colour || manner !== 'ease').map(([manner, words]) => (
            <ContextMenu.Item
              key={manner}
              className="menu-item"
              onSelect={() => session.edit((now) => setStretch(now, stretches, manner))}
            >
              {words}
            </ContextMenu.Item>
          ))}
          <ContextMenu.Sub>
            <ContextMenu.SubTrigger className="menu-item">By an equation</ContextMenu.SubTrigger>
            <ContextMenu.Portal>
              <ContextMenu.SubContent className="menu-surface max-h-80 overflow-y-auto">
                {EASING_NAMES.map((name) => (
                  <ContextMenu.Item
                    key={name}
                    className="menu-item"
                    onSelect={() => session.edit((now) => setStretch(now, stretches, name))}
                  >
                    {mannerWords(name)}
                  </ContextMenu.Item>
                ))}
              </ContextMenu.SubContent>
            </ContextMenu.Portal>
          </ContextMenu.Sub>
          {line}
        </>
      )}
      {!target.onKey &&
        item(
          'Put a key in here, the curve stays',
          () => session.edit((now) => insertKeys(now, [target.address], target.frame)),
          !track,
        )}
      {target.onKey && (
        <>
          {item('Copy', () => copyChosen(session))}
          {item('Half as long', () => scaled(session, keys, span, 0.5), !span)}
          {item('Twice as long', () => scaled(session, keys, span, 2), !span)}
          {item('Reverse', () => session.edit((now) => reverseKeys(now, keys)), !span)}
          {item('Move to whole frames', () => session.edit((now) => snapKeys(now, keys)))}
        </>
      )}
      {item('Paste keys at the playhead', () => pasteCopied(session), clipboard?.kind !== 'keys')}
      {stagger}
      {track &&
        (['before', 'after'] as const).map((side) => (
          <ContextMenu.Sub key={side}>
            <ContextMenu.SubTrigger className="menu-item">
              {side === 'before' ? 'Before the first' : 'After the last'}: {EXTEND_WORDS[track[side]]}
            </ContextMenu.SubTrigger>
            <ContextMenu.Portal>
              <ContextMenu.SubContent className="menu-surface">
                {EXTENDS.map((extend) => (
                  <ContextMenu.Item
                    key={extend}
                    className="menu-item"
                    onSelect={() => session.edit((now) => setExtend(now, target.address, side, extend))}
                  >
                    {EXTEND_WORDS[extend]}
                  </ContextMenu.Item>
                ))}
              </ContextMenu.SubContent>
            </ContextMenu.Portal>
          </ContextMenu.Sub>
        ))}
      {target.onKey && (
        <>
          {line}
          {item(
            keys.length > 1 ? `Remove ${keys.length} keys` : 'Remove the key',
            () => session.edit((now) => removeKeys(now, keys)),
            false,
            true,
          )}
        </>
      )}
    </ContextMenu.Content>
  );
}

function scaled(
  session: Session,
  keys: readonly KeyAddress[],
  span: { from: number } | null,
  factor: number,
): void {
  if (span) session.edit((now) => scaleKeys(now, keys, span.from, factor));
}

function rangeChange(shot: Shot, range: { first?: number; last?: number }) {
  return {
    label: 'Change the range',
    patches: Object.entries(range).map(([key, after]) => ({
      path: ['setup', key],
      before: shot.setup[key as 'first' | 'last'],
      after: Math.round(after),
    })),
  };
}
