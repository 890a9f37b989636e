import { defineConfig } from '@playwright/test';
import { CHROMIUM } from '../render/chromium';

process.env.WHIRL_DRAW_PAGE ??= new URL('../dist/draw-page.js', import.meta.url).pathname;
const base = process.env.WHIRL_TEST_BASE ?? '.whirl-test';

export default defineConfig({
  testDir: '.',
  ...(process.env.WHIRL_GREP ? { grep: new RegExp(process.env.WHIRL_GREP) } : {}),
  outputDir: `../test-results`,
  globalSetup: './global-setup.ts',
  workers: 2,
  fullyParallel: true,
  // Generous: a machine that others keep busy is slow, not wrong.
  timeout: 600_000,
  expect: { timeout: 90_000 },
  // What failed is told at the end, where it is not lost among the tests that passed.
  reporter: [['dot'], ['json', { outputFile: `${base}/e2e.json` }]],
  use: {
    browserName: 'chromium',
    viewport: { width: 1280, height: 800 },
    trace: 'off',
    // A step that cannot be taken is told long before the time of the whole test is up.
    actionTimeout: 120_000,
    launchOptions: {
      executablePath: CHROMIUM,
      chromiumSandbox: process.getuid?.() !== 0,
      args: [
        '--disable-quic',
        '--no-first-run',
        '--disable-background-networking',
        '--disable-component-update',
        '--disable-sync',
        '--use-angle=gl-egl',
        // Without a graphics card the page itself is painted and put together sooner by Chromium itself.
        '--disable-gpu-rasterization',
        '--disable-gpu-compositing',
        '--ignore-gpu-blocklist',
        '--host-resolver-rules=MAP * ~NOTFOUND , EXCLUDE 127.0.0.1 , EXCLUDE localhost',
      ],
    },
  },
});
