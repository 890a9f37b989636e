import { ContextMenu } from 'radix-ui';
import { EXTENDS, trackOf, type Shot } from '../../../../core/document';
import {
  insertKeys,
  removeAllKeys,
  removeKeys,
  reverseKeys,
  scaleKeys,
  setExtend,
  setStretch,
  snapKeys,
  stretchManner,
  type KeyAddress,
} from '../../../../core/edit';
import { EASING_NAMES } from '../../../../core/easing';
import { copyChosen, pasteCopied } from '../copy-paste';
import { focusPanel } from '../panels';
import { goTo } from '../actions/time';
import { evaluatorAt } from '../actions/values';
import { useSession, useChoice, useCopied, useShot, type Session } from '../session';
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
  const shot = useShot((state) => state.shot);
  const clipboard = useCopied();
  const chosen = useChoice((state) => state.chosen);
  const { target } = props;
  // What cannot be done here is left out.
  const item = (words: string, run: () => void, disabled = false, alarm = false) =>
    disabled ? null : (
      <ContextMenu.Item className={`menu-item ${alarm ? 'text-now' : ''}`} onSelect={() => setTimeout(run)}>
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
        {item('Show the whole range', () => session.time.show(null))}
        {item('Paste keys at the playhead', () => pasteCopied(session), clipboard?.kind !== 'keys')}
      </ContextMenu.Content>
    );
  if (target.kind === 'marker') {
    const marker = shot.markers[target.id];
    return (
      <ContextMenu.Content className="menu-surface" onCloseAutoFocus={returnFocus}>
        {item('Go there', () => marker && goTo(session, marker.frame))}
        {item('Rename', () => props.onRenameMarker(target.id))}
        {item('Remove the marker', () => props.onRemoveMarker(target.id), false, true)}
      </ContextMenu.Content>
    );
  }
  const { keys, stretches } = target;
  const track = trackOf(shot, target.address);
  const span = spanOf(shot, keys);
  const manners = new Set(
    stretches.map((entry) => stretchManner(shot, entry)).filter((manner) => manner !== null),
  );
  const [inForce] = manners;
  const now = manners.size === 0 ? null : manners.size > 1 ? 'several ways' : mannerWords(inForce!);
  const mark = (on: boolean) => <span className="inline-block w-3.5">{on ? '✓' : ''}</span>;
  const byEquation = manners.size === 1 && (EASING_NAMES as readonly string[]).includes(inForce!);
  const group = (words: string) => (
    <ContextMenu.Label className="px-2 pb-0.5 pt-1.5 text-xs font-bold text-ink-3">{words}</ContextMenu.Label>
  );
  return (
    <ContextMenu.Content className="menu-surface" onCloseAutoFocus={returnFocus}>
      {now !== null && (
        <ContextMenu.Group>
          {group(`${target.onKey ? 'From here on it moves' : 'This stretch moves'}: ${now}`)}
          {STRETCHES.filter(([manner]) => !target.colour || manner !== 'ease').map(([manner, words]) => (
            <ContextMenu.Item
              key={manner}
              className="menu-item"
              aria-current={manners.size === 1 && inForce === manner}
              onSelect={() => session.edit((current) => setStretch(current, stretches, manner))}
            >
              {mark(manners.size === 1 && inForce === manner)}
              {words}
            </ContextMenu.Item>
          ))}
          <ContextMenu.Sub>
            <ContextMenu.SubTrigger className="menu-item">
              {mark(byEquation)}
              By an equation
            </ContextMenu.SubTrigger>
            <ContextMenu.Portal>
              <ContextMenu.SubContent className="menu-surface max-h-80 overflow-y-auto">
                {EASING_NAMES.map((name) => (
                  <ContextMenu.Item
                    key={name}
                    className="menu-item"
                    onSelect={() => session.edit((current) => setStretch(current, stretches, name))}
                  >
                    {mannerWords(name)}
                  </ContextMenu.Item>
                ))}
              </ContextMenu.SubContent>
            </ContextMenu.Portal>
          </ContextMenu.Sub>
          {line}
        </ContextMenu.Group>
      )}
      <ContextMenu.Group>
        {group(target.onKey ? (keys.length > 1 ? `${keys.length} keys` : 'This key') : 'Keys')}
        {!target.onKey &&
          item(
            'Put a key in here, the curve stays',
            () => session.edit((current) => insertKeys(current, [target.address], target.frame)),
            !track,
          )}
        {target.onKey && (
          <>
            {item('Copy', () => copyChosen(session))}
            {item('Half as long', () => scaled(session, keys, span, 0.5), !span)}
            {item('Twice as long', () => scaled(session, keys, span, 2), !span)}
            {item('Reverse', () => session.edit((current) => reverseKeys(current, keys)), !span)}
            {item(
              'Move to whole frames',
              () => session.edit((current) => snapKeys(current, keys)),
              keys.every(({ address, key }) => Number.isInteger(trackOf(shot, address)?.keys[key]?.frame)),
            )}
            {item(
              keys.length > 1 ? `Remove ${keys.length} keys` : 'Remove the key',
              () => session.edit((current) => removeKeys(current, keys)),
              false,
              true,
            )}
          </>
        )}
        {item('Paste keys at the playhead', () => pasteCopied(session), clipboard?.kind !== 'keys')}
        {stagger}
      </ContextMenu.Group>
      {track && (
        <ContextMenu.Group>
          {line}
          {group('Outside its keys')}
          {(['before', 'after'] as const).map((side) => (
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
                      onSelect={() =>
                        session.edit((current) => setExtend(current, target.address, side, extend))
                      }
                    >
                      {mark(track[side] === extend)}
                      {EXTEND_WORDS[extend]}
                    </ContextMenu.Item>
                  ))}
                </ContextMenu.SubContent>
              </ContextMenu.Portal>
            </ContextMenu.Sub>
          ))}
          {item(
            'Delete all keys of this lane',
            () =>
              session.edit((current) =>
                removeAllKeys(current, evaluatorAt(session, session.time.now.frame), [target.address]),
              ),
            false,
            true,
          )}
        </ContextMenu.Group>
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
