/** How often work under way is asked about. */
const LOOK_MS = 1000;

/**
 * What `work` gives, or null when it was given up meanwhile: then `breakOff` is called, once, and what `work` ends with
 * does not count. A question that fails (the database is away) leaves the work alone.
 * @throws what `work` throws when it was not given up
 */
export async function unlessGivenUp<T>(
  work: Promise<T>,
  isGivenUp: () => Promise<boolean>,
  breakOff: () => Promise<void>,
): Promise<T | null> {
  let broken = false;
  const looking = setInterval(() => {
    isGivenUp().then(
      (givenUp) => {
        if (!givenUp || broken) return;
        broken = true;
        void breakOff();
      },
      () => undefined,
    );
  }, LOOK_MS);
  try {
    return await work;
  } catch (error) {
    if (!broken) throw error;
    return null;
  } finally {
    clearInterval(looking);
  }
}
