const INSIDE_FROM = 3;
const BREAK = /[^\p{L}\p{N}]+/u;

/** The words that are looked for. */
export const wantedWords = (text: string): string[] =>
  text
    .toLowerCase()
    .split(/[\s:,.·]+/)
    .filter(Boolean);

const begins = (text: string, wanted: readonly string[]): boolean => {
  const tokens = text.toLowerCase().split(BREAK);
  return wanted.every((word) => tokens.some((token) => token.startsWith(word)));
};

/** Whether each word begins a word of a text; longer ones may stand inside of one, too. */
export function matches(text: string, wanted: readonly string[]): boolean {
  const lower = text.toLowerCase();
  const tokens = lower.split(BREAK);
  return wanted.every(
    (word) =>
      tokens.some((token) => token.startsWith(word)) || (word.length >= INSIDE_FROM && lower.includes(word)),
  );
}

/**
 * What was found, the likeliest first: what begins with what was typed, then what has its words at the beginning of
 * words of its first text, then of any of its texts, then the rest; else in the order given.
 */
export function bestFirst<T>(
  found: readonly T[],
  texts: (entry: T) => readonly [string, ...string[]],
  wanted: readonly string[],
): T[] {
  if (wanted.length === 0) return [...found];
  const typed = wanted.join(' ');
  const rank = (entry: T): number => {
    const all = texts(entry);
    if (all[0].toLowerCase().split(BREAK).join(' ').startsWith(typed)) return 0;
    if (begins(all[0], wanted)) return 1;
    return begins(all.join(' '), wanted) ? 2 : 3;
  };
  return found
    .map((entry) => ({ entry, rank: rank(entry) }))
    .sort((a, b) => a.rank - b.rank)
    .map(({ entry }) => entry);
}
