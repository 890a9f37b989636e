import { existsSync } from 'node:fs';

/** Debian's Chromium without the windows of a browser: lighter, and it comes up sooner. */
const WITHOUT_WINDOWS = '/usr/bin/chromium-headless-shell';

/** Path of the browser that draws: the one that is set, the lighter one where it is installed, or Debian's chromium. */
export const CHROMIUM =
  process.env.WHIRL_CHROMIUM ?? (existsSync(WITHOUT_WINDOWS) ? WITHOUT_WINDOWS : '/usr/bin/chromium');
