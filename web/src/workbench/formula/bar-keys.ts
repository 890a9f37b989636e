/** What can be done in the bar by a key. */
export interface BarMoves {
  pick(proposal: number): void;
  take(proposal: number): void;
  keep(): void;
  /** Leaves the proposals. */
  close(): void;
  leave(): void;
}

/** What a key does while some proposals are shown, of which one may be picked; `null` for what the text field does with it. */
export function barKey(key: string, proposals: number, picked: number, moves: BarMoves): (() => void) | null {
  const open = proposals > 0;
  if (open && (key === 'ArrowDown' || key === 'ArrowUp')) {
    const by = key === 'ArrowDown' ? 1 : -1;
    return () => moves.pick((picked + by + proposals) % proposals);
  }
  if (open && (key === 'Tab' || (key === 'Enter' && picked >= 0)))
    return () => moves.take(Math.max(0, picked));
  if (key === 'Enter') return moves.keep;
  if (key === 'Escape') return open ? moves.close : moves.leave;
  return null;
}
