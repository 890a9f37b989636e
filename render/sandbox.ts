/**
 * Whether the browser that draws is started in a sandbox of its own. Root may not, and where something else fences the machine
 * in, a container, `WHIRL_SANDBOX=off` says so.
 * @param uid of the user; `undefined` where there are none
 */
export const inSandbox = (env: NodeJS.ProcessEnv, uid: number | undefined): boolean =>
  env.WHIRL_SANDBOX !== 'off' && uid !== 0;

/** Why no browser could be started, with the cure. */
export function whyNoBrowser(failure: unknown): string {
  const told = failure instanceof Error ? failure.message : String(failure);
  return /sandbox/i.test(told)
    ? `The browser that draws may not make its sandbox here. Allow unprivileged user namespaces, install Debian's chromium-sandbox, or set WHIRL_SANDBOX=off where a container fences the machine in. ${told}`
    : `No browser could be started for drawing. Is Debian's chromium installed? ${told}`;
}
