import { expect, type Page } from '@playwright/test';
import { addPart, choosePart, field, find, goToFrame, lanePoint, renameChosen, type } from './workbench';

/** One way of working: everything that a test does goes through it, so that a goal can be reached by each. */
export interface Hands {
  readonly name: string;
  add(kind: string): Promise<void>;
  rename(name: string): Promise<void>;
  choose(part: string): Promise<void>;
  type(part: string, channel: string, text: string): Promise<void>;
  goTo(frame: number | string): Promise<void>;
  /** Keys a channel at the current frame. */
  key(part: string, channel: string): Promise<void>;
  /** Sets how a channel moves in the stretch round the current frame, by an equation. */
  ease(part: string, channel: string, easing: string): Promise<void>;
  copyLinked(): Promise<void>;
  ownShape(): Promise<void>;
  hubAbove(): Promise<void>;
  autoKey(): Promise<void>;
}

/** Chooses an item of the menu of the chosen part. */
async function partMenu(page: Page, item: string): Promise<void> {
  await page.getByRole('treeitem', { selected: true }).click({ button: 'right' });
  await page.getByRole('menuitem', { name: item, exact: true }).click();
}

/** With the mouse; the keyboard types only what a field is for. */
export const mouse = (page: Page): Hands => ({
  name: 'the mouse',
  add: (kind) => addPart(page, kind),
  rename: async (name) => {
    await page.getByRole('treeitem', { selected: true }).dblclick();
    await page.getByLabel('New name').fill(name);
    await page.getByLabel('New name').press('Enter');
    await expect(page.getByRole('treeitem', { selected: true })).toContainText(name);
  },
  choose: (part) => choosePart(page, part),
  type: (part, channel, text) => type(page, `${part} ${channel}`, text),
  goTo: (frame) => goToFrame(page, frame),
  key: async (part, channel) => {
    await field(page, `${part} ${channel}`).click({ button: 'right' });
    await page.getByRole('menuitem', { name: `Key only ${channel}` }).click();
  },
  ease: async (part, channel, easing) => {
    const lane = `${part} · ${channel}`;
    await page.getByRole('option', { name: new RegExp(`^${lane}`) }).click();
    const frame = Number(await page.getByLabel('Current frame').inputValue());
    const { x, y } = await lanePoint(page, lane, frame);
    await page.mouse.click(x, y, { button: 'right' });
    await page.getByRole('menuitem', { name: 'By an equation' }).hover();
    await page.getByRole('menuitem', { name: easing, exact: true }).click();
  },
  copyLinked: () => partMenu(page, 'Linked copy'),
  ownShape: () => page.getByRole('button', { name: 'Make its own' }).first().click(),
  hubAbove: () => partMenu(page, 'Put a hub above'),
  autoKey: () => page.getByRole('switch', { name: 'Auto-key' }).click(),
});

/** With the keyboard alone. */
export const keyboard = (page: Page): Hands => {
  const press = (keys: string): Promise<void> => page.keyboard.press(keys);
  const write = (text: string): Promise<void> => page.keyboard.type(text);
  const toItem = async (name: string): Promise<void> => {
    const item = page.getByRole('menuitem', { name, exact: true });
    await expect(item).toBeVisible();
    const active = (): Promise<string> => page.evaluate(() => document.activeElement?.textContent ?? '');
    for (let i = 0; i < 40 && !(await item.evaluate((e) => e === document.activeElement)); i++) {
      const before = await active();
      await press('ArrowDown');
      // The menu goes on a moment later: whoever presses again before has gone past it.
      await expect.poll(active, { intervals: [20] }).not.toBe(before);
    }
    await expect(item).toBeFocused();
  };
  return {
    name: 'the keyboard alone',
    add: async (kind) => {
      await press('n');
      await write(kind);
      await press('Enter');
      await expect(page.getByRole('treeitem', { selected: true })).toContainText(kind);
    },
    rename: (name) => renameChosen(page, name),
    choose: async (part) => {
      await find(page, part);
      await expect(page.getByRole('treeitem', { selected: true })).toContainText(part);
    },
    type: async (part, channel, text) => {
      await find(page, `${part} ${channel}`);
      await expect(field(page, `${part} ${channel}`)).toBeFocused();
      await press('Control+a');
      await write(text);
      await press('Enter');
      await press('Escape');
    },
    goTo: async (frame) => {
      await press('f');
      await expect(page.getByLabel('Current frame')).toBeFocused();
      await write(String(frame));
      await press('Enter');
    },
    key: async () => press('k'),
    ease: async (part, channel, easing) => {
      const lane = page.getByRole('option', { name: new RegExp(`^${part} · ${channel}`) });
      for (
        let i = 0;
        i < 4 && !(await page.locator('#lanes').evaluate((e) => e === document.activeElement));
        i++
      )
        await press('F6');
      for (let i = 0; i < 12 && (await lane.getAttribute('aria-selected')) !== 'true'; i++)
        await press(i === 0 ? 'ArrowUp' : 'ArrowDown');
      await expect(lane).toHaveAttribute('aria-selected', 'true');
      await press('Shift+F10');
      await expect(page.getByRole('menu')).toBeVisible();
      await toItem('By an equation');
      await press('ArrowRight');
      await toItem(easing);
      await press('Enter');
      await expect(page.getByRole('menu')).toHaveCount(0);
    },
    copyLinked: () => press('Control+d'),
    ownShape: () => find(page, 'make its own shape'),
    hubAbove: () => press('Shift+H'),
    autoKey: () => press('a'),
  };
};

export const HANDS = [mouse, keyboard] as const;
