/** Repeatable random numbers from 0 up to 1: the same seed, the same row. Park and Miller 1988. */
export function seeded(seed: number): () => number {
  let state = seed % 2147483647 || 1;
  return () => (state = (state * 16807) % 2147483647) / 2147483647;
}
