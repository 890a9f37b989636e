import { expect, test as base, type Browser, type Page } from '@playwright/test';

/** After so many tests a page is closed, so that what one might hold on to does not pile up. */
const TESTS_OF_A_PAGE = 15;

const SCREEN = { width: 1280, height: 800 };

/** Where nothing of Whirl stands but its frame. */
const NOWHERE = '/nowhere';

/** Goes to another address as a link of the page does, without loading Whirl anew. */
export async function goWithin(page: Page, path: string): Promise<void> {
  await page.evaluate((to) => {
    history.pushState({}, '', to);
    dispatchEvent(new PopStateEvent('popstate'));
  }, path);
}

const standing = new WeakSet<Page>();

/** Whether Whirl is loaded there and nothing is open, so that a test can go on in it. */
export function standsReady(page: Page, server: string): boolean {
  return standing.has(page) && page.url() === `${server}${NOWHERE}`;
}

/**
 * The page of a worker. Loading Whirl takes a second and a half of a processor, going from shot to shot a fraction of
 * it: tests that need no page of their own go on in the one that the test before has left.
 */
class SamePage {
  private page: Page | null = null;
  private tests = 0;

  constructor(private readonly browser: Browser) {}

  async take(): Promise<Page> {
    if (!this.page || this.tests >= TESTS_OF_A_PAGE) {
      await this.drop();
      const context = await this.browser.newContext({ viewport: SCREEN });
      this.page = await context.newPage();
      this.tests = 0;
    }
    this.tests++;
    return this.page;
  }

  /** Leaves what a test has opened, and nothing of it for the next one. */
  async leave(): Promise<void> {
    const page = this.page!;
    standing.delete(page);
    for (const other of page.context().pages()) if (other !== page) await other.close();
    for (const event of ['pageerror', 'console', 'dialog', 'request', 'response', 'download'] as const)
      page.removeAllListeners(event);
    if (!/^http.*\/shots\//.test(page.url())) return;
    try {
      await page.mouse.move(0, 0);
      await page.setViewportSize(SCREEN);
      await goWithin(page, NOWHERE);
      await expect(page.getByText('There is nothing at this address')).toBeVisible({ timeout: 10_000 });
      await page.evaluate(() => {
        localStorage.clear();
        sessionStorage.clear();
      });
      standing.add(page);
    } catch (error) {
      // Told, since it may be a fault of leaving a shot; the test itself has passed.
      process.stderr.write(`The page of a test could not be gone on with: ${String(error)}\n`);
      await this.drop();
    }
  }

  async drop(): Promise<void> {
    await this.page?.context().close();
    this.page = null;
  }
}

/** Tests that go on in the page which the test before has left. What a test changes beyond shots needs a page of its own. */
export const test = base.extend<{ ownPage: boolean }, { samePage: SamePage }>({
  /** A page that is closed after the test, for what stays in it: another clock, another theme. */
  ownPage: [false, { option: true }],
  samePage: [
    async ({ browser }, use) => {
      const same = new SamePage(browser);
      await use(same);
      await same.drop();
    },
    { scope: 'worker' },
  ],
  page: async ({ samePage, ownPage }, use, info) => {
    if (ownPage) await samePage.drop();
    await use(await samePage.take());
    if (info.status === info.expectedStatus && !ownPage) await samePage.leave();
    else await samePage.drop();
  },
  context: async ({ page }, use) => use(page.context()),
});
