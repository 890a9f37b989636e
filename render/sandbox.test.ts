import { describe, expect, it } from 'vitest';
import { inSandbox, whyNoBrowser } from './sandbox';

describe('the sandbox of the browser that draws', () => {
  it('is used by everybody but root, unless it is said that something else fences the machine in', () => {
    expect(inSandbox({}, 1000)).toBe(true);
    expect(inSandbox({}, undefined)).toBe(true);
    expect(inSandbox({}, 0)).toBe(false);
    expect(inSandbox({ WHIRL_SANDBOX: 'off' }, 1000)).toBe(false);
    expect(inSandbox({ WHIRL_SANDBOX: 'on' }, 1000)).toBe(true);
  });

  it('is named with the cures where it cannot be made, and chromium where it does not start at all', () => {
    // As Chromium 150 says it in a container without user namespaces.
    const refused = new Error(
      'browserType.launch: Target closed\nNo usable sandbox! If this is a Debian system ...',
    );
    expect(whyNoBrowser(refused)).toContain('WHIRL_SANDBOX=off');
    expect(whyNoBrowser(refused)).toContain('No usable sandbox');
    const missing = new Error(
      "Failed to launch chromium because executable doesn't exist at /usr/bin/chromium",
    );
    expect(whyNoBrowser(missing)).toContain("Is Debian's chromium installed?");
    expect(whyNoBrowser(missing)).not.toContain('WHIRL_SANDBOX');
  });
});
