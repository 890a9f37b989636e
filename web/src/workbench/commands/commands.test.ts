import { describe, expect, it, vi } from 'vitest';
import type { Shot } from '../../../../core/document';
import { keyChannels, setLink } from '../../../../core/edit';
import { emptyShot, hub, shape, solid } from '../../../../core/testing/random-shot';
import type { MenuAction, MenuEntries } from '../../ui/menu';
import { choose } from '../actions/choosing';
import { workbench } from '../actions/testing';
import { setChannels } from '../actions/values';
import { keyMenu } from '../keys/key-menu';
import { partMenu } from '../parts/part-menu';
import type { Session } from '../session';
import { rowMenu } from '../values/row-menu';
import { rowsOf } from '../values/rows';
import { canRun, COMMANDS, entryOf } from './index';

const told = vi.hoisted(() => [] as string[]);
vi.mock('sonner', () => ({ toast: (message: string) => told.push(message) }));

const start: Shot = {
  ...emptyShot(),
  parts: {
    prt_mast: hub('Mast'),
    prt_flag: solid('Flag', 'shp_a', { parent: 'prt_mast', order: 1 }),
    prt_eye: hub('Eye', { kind: 'camera', order: 2 }),
  },
  shapes: { shp_a: shape('box') },
  looks: { lok_a: { name: 'Cloth', values: {}, tracks: {}, links: {} } },
};

const words = (entries: MenuEntries): string[] =>
  entries.flatMap((entry) =>
    entry && typeof entry === 'object' && 'label' in entry ? [entry.label as string] : [],
  );

function action(entries: MenuEntries, label: string): MenuAction {
  const found = entries
    .flatMap((entry) => (entry && typeof entry === 'object' && 'entries' in entry ? entry.entries : [entry]))
    .find((entry) => entry && typeof entry === 'object' && 'run' in entry && entry.label === label);
  if (!found) throw new Error(`There is no "${label}" among ${words(entries).join(', ')}.`);
  return found as MenuAction;
}

const idle = (session: Session): string[] =>
  COMMANDS.filter((command) => !canRun(session, command)).map(({ id }) => id);

describe('the list of commands', () => {
  it('has each id, and each combination of keys, once', () => {
    const ids = COMMANDS.map(({ id }) => id);
    expect(new Set(ids).size).toBe(ids.length);
    const keys = COMMANDS.flatMap(({ keys: combinations }) => combinations?.split(', ') ?? []);
    expect(new Set(keys).size).toBe(keys.length);
    // What has a key is told with it in the help.
    for (const { id, keys: has, shown } of COMMANDS) expect(shown !== undefined, id).toBe(has !== undefined);
  });
  it('knows what has nothing to work on', async () => {
    const session = await workbench(start);
    expect(idle(session)).toEqual(
      expect.arrayContaining(['undo', 'redo', 'group', 'rename', 'paste', 'paste-pose', 'reverse', 'drop']),
    );
    choose(session, ['prt_flag']);
    setChannels(session, [['prt_flag/location.x', 2]]);
    expect(idle(session)).not.toContain('undo');
    for (const id of ['group', 'rename', 'take-out', 'own-shape']) expect(idle(session)).not.toContain(id);
    // One part alone cannot hang below another, and a mast hangs from nothing.
    expect(idle(session)).toContain('hang');
    choose(session, ['prt_mast']);
    expect(idle(session)).toEqual(expect.arrayContaining(['take-out', 'own-shape', 'own-look']));
  });
  it('refuses an entry for what it has not', async () => {
    const session = await workbench(start);
    expect(() => entryOf(session, 'brew')).toThrow('no command "brew"');
  });
});

describe('menus made from it', () => {
  it('of a part: what can be done with it, and nothing that cannot', async () => {
    const session = await workbench(start);
    choose(session, ['prt_flag']);
    const menu = partMenu(session, 'prt_flag');
    expect(action(menu, 'Take out of Mast').disabled).toBe(false);
    expect(action(menu, 'Paste the pose here').disabled).toBe(true);
    expect(words(menu)).not.toContain('Take the shot with it');
    action(menu, 'Take out of Mast').run();
    expect(session.shot.parts.prt_flag!.parent).toBeNull();
    choose(session, ['prt_eye']);
    action(partMenu(session, 'prt_eye'), 'Take the shot with it').run();
    expect(session.shot.setup.camera).toBe('prt_eye');
  });
  it('of a part: a linked copy is one of the part, also while keys are chosen', async () => {
    const session = await workbench(start);
    choose(session, ['prt_flag']);
    session.choice.keys([{ address: 'prt_flag/location.x', key: 'key_1' }]);
    action(partMenu(session, 'prt_flag'), 'Linked copy').run();
    expect(Object.keys(session.shot.parts)).toHaveLength(4);
  });
  it('of a value: keys, and links of the channel that is meant', async () => {
    const session = await workbench(start);
    choose(session, ['prt_flag']);
    const row = rowsOf(session.shot, ['prt_flag']).find(({ label }) => label === 'Location')!;
    const addresses = row.cells.flatMap((cell) => cell.addresses);
    const menu = () =>
      rowMenu(session, {
        row,
        addresses,
        states: addresses.map(() => 'still'),
        active: 'prt_flag/location.y',
        pivotStays: false,
        each: () => undefined,
        writeFormula: () => undefined,
      });
    expect(action(menu(), 'Remove the key here').disabled).toBe(true);
    expect(action(menu(), 'Copy the link').disabled).toBe(true);
    action(menu(), 'Key only location Y').run();
    expect(Object.keys(session.shot.parts.prt_flag!.tracks)).toEqual(['location.y']);
    expect(words(menu())).not.toContain('The part stays where it is');
  });
  it('of the ruler: what lies outside the range cannot begin or end it', async () => {
    const session = await workbench(start);
    const asks = { mark: vi.fn(), renameMarker: vi.fn(), removeMarker: vi.fn(), stagger: vi.fn() };
    const at = (frame: number) => keyMenu(session, { kind: 'ruler', frame }, asks);
    expect(words(at(60))).not.toContain('Begin the range here');
    action(at(12), 'Begin the range here').run();
    expect(session.shot.setup.first).toBe(12);
    expect(words(at(12))).not.toContain('End the range here');
    // A lane that nothing has keyed yet says what can be done at the frame, in place of an empty menu.
    const lane = {
      kind: 'lane',
      address: 'prt_flag/location.x',
      frame: 20.4,
      keys: [],
      stretches: [],
    } as const;
    const empty = keyMenu(session, { ...lane, onKey: false, colour: false }, asks);
    expect(words(empty)).toContain('Put a marker here');
    action(at(20), 'Put a marker here').run();
    expect(asks.mark).toHaveBeenCalledWith(20);
  });
  it('of a keyed colour: how it blends from key to key, in its row and in its lane', async () => {
    const session = await workbench(start);
    choose(session, ['prt_flag']);
    const row = rowsOf(session.shot, ['prt_flag']).find(({ label }) => label === 'Colour')!;
    const addresses = row.cells.flatMap((cell) => cell.addresses);
    const menu = () =>
      rowMenu(session, {
        row,
        addresses,
        states: addresses.map(() => 'still'),
        active: null,
        pivotStays: false,
        each: () => undefined,
        writeFormula: () => undefined,
      });
    expect(words(menu())).not.toContain('Between its keys it blends');
    session.edit((now) => keyChannels(now, 1, [['lok_a/colour', [1, 0, 0]]]));
    expect(action(menu(), 'As light').current).toBe(true);
    action(menu(), 'Evenly to the eye').run();
    expect(session.shot.looks.lok_a!.tracks.colour!.blend).toBe('oklab');
    const asks = { mark: vi.fn(), renameMarker: vi.fn(), removeMarker: vi.fn(), stagger: vi.fn() };
    const lane = { kind: 'lane', address: 'lok_a/colour', frame: 1, keys: [], stretches: [] } as const;
    const inLane = keyMenu(session, { ...lane, onKey: false, colour: true }, asks);
    expect(action(inLane, 'Evenly to the eye').current).toBe(true);
    action(inLane, 'As light').run();
    expect(session.shot.looks.lok_a!.tracks.colour!.blend).toBeUndefined();
  });
});

describe('what commands do with the chosen link', () => {
  it('tidies its formula, and tells where there is nothing to tidy or to plot', async () => {
    const session = await workbench(start);
    const run = (id: string): void => COMMANDS.find((command) => command.id === id)!.run(session);
    session.edit((now) => setLink(now, 'prt_flag/rotation.z', '((frame))*(2deg)'));
    session.choice.showChannel('prt_flag/rotation.z');
    run('tidy-formula');
    expect(session.shot.parts.prt_flag!.links['rotation.z']!.formula).toBe('frame * 2deg');
    run('tidy-formula');
    expect(told.at(-1)).toContain('tidy already');
    session.choice.showChannel('lok_a/colour');
    run('response');
    expect(told.at(-1)).toContain('A colour is not plotted');
    expect(session.sheets.now.open).toBeNull();
  });
});
