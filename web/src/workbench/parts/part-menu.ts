import { partDefinition } from '../../../../core/document';
import { putIntoTray, takeShotWith, traysOf } from '../../../../core/edit';
import type { MenuEntries } from '../../ui/menu';
import { entryOf } from '../commands';
import type { Session } from '../session';
import { askToRemove } from './parts-actions';

/** Menu of a part in the tree, made from the list of commands; the part has been chosen by asking for it. */
export function partMenu(session: Session, id: string): MenuEntries {
  const { shot } = session;
  const part = shot.parts[id];
  if (!part) return [];
  const { chosen } = session.choice.now;
  const trays = traysOf(shot);
  const command = (name: string, label: string) => entryOf(session, name, { label });
  const parent = part.parent === null ? undefined : shot.parts[part.parent]?.name;
  return [
    entryOf(session, 'rename', { label: 'Rename', later: true }),
    command('copy-linked', 'Linked copy'),
    command('duplicate', 'Duplicate with its own shape and look'),
    {
      label: 'Mirrored copy',
      entries: [
        command('mirror-x', 'across X'),
        command('mirror-y', 'across Y'),
        command('mirror-z', 'across Z'),
      ],
    },
    'line',
    command('group', 'Group'),
    command('hub-above', 'Put a hub above'),
    command('take-out', `Take out of ${parent ?? 'its parent'}`),
    {
      label: 'Tray',
      disabled: trays.length === 0 && !part.tray,
      entries: [
        ...trays.map((tray) => ({
          label: shot.trays[tray]!.name,
          run: () => session.edit((now) => putIntoTray(now, session.choice.now.chosen, tray)),
        })),
        {
          label: 'none',
          disabled: !part.tray,
          run: () => session.edit((now) => putIntoTray(now, session.choice.now.chosen, null)),
        },
      ],
    },
    'line',
    command('pose', 'Key the pose, with all below'),
    command('copy-pose', 'Copy the pose'),
    command('paste-pose', 'Paste the pose here'),
    command('paste-mirrored', 'Paste the pose mirrored'),
    command('poses', 'Poses of the project...'),
    ...(part.aim || part.follow ? [command('bake-way', 'Bake its way into keys')] : []),
    ...(part.kind === 'repeat' ? [command('unpack-copies', 'Turn its copies into parts')] : []),
    ...(partDefinition(part.kind).takes
      ? ([
          'line',
          {
            label: 'Take the shot with it',
            disabled: shot.setup.camera === id,
            run: () => session.edit((now) => takeShotWith(now, id)),
          },
        ] as const)
      : []),
    'line',
    {
      label: 'Delete',
      alarm: true,
      later: true,
      run: () => askToRemove(session, chosen.includes(id) ? chosen : [id]),
    },
  ];
}
