/** Number of single-letter changes, and swaps of neighbours, from `a` to `b` (optimal string alignment). */
export function editDistance(a: string, b: string): number {
  const width = b.length + 1;
  const rows = new Uint16Array((a.length + 1) * width);
  for (let i = 0; i <= a.length; i++) rows[i * width] = i;
  for (let j = 0; j <= b.length; j++) rows[j] = j;
  for (let i = 1; i <= a.length; i++)
    for (let j = 1; j <= b.length; j++) {
      const same = a[i - 1] === b[j - 1];
      let best = Math.min(
        rows[(i - 1) * width + j]! + 1,
        rows[i * width + j - 1]! + 1,
        rows[(i - 1) * width + j - 1]! + (same ? 0 : 1),
      );
      if (i > 1 && j > 1 && a[i - 1] === b[j - 2] && a[i - 2] === b[j - 1])
        best = Math.min(best, rows[(i - 2) * width + j - 2]! + 1);
      rows[i * width + j] = best;
    }
  return rows[a.length * width + b.length]!;
}

/** The up to `limit` names most like `name`, best first; none that share too little with it. */
export function nearestNames(name: string, names: Iterable<string>, limit = 3): string[] {
  const wanted = name.toLowerCase();
  const ranked: { name: string; distance: number }[] = [];
  for (const candidate of names) {
    const lower = candidate.toLowerCase();
    const distance =
      lower.startsWith(wanted) || wanted.startsWith(lower)
        ? 0.5
        : editDistance(wanted.slice(0, 80), lower.slice(0, 80));
    if (distance <= Math.max(1, Math.ceil(wanted.length / 3))) ranked.push({ name: candidate, distance });
  }
  ranked.sort((a, b) => a.distance - b.distance || (a.name < b.name ? -1 : 1));
  return ranked.slice(0, limit).map((entry) => entry.name);
}
