import { CONDITIONS, type Chain } from './chain';

/**
 * In which order a chain is solved: which bodies have to be found together, after which others. From the pattern of
 * conditions and unknowns alone: the canonical splitting of Dulmage and Mendelsohn, "Coverings of bipartite graphs"
 * (1958), over a largest matching, its even part split by Tarjan's strong components.
 */
export interface Group {
  /** Bodies of which anything is found here. */
  readonly bodies: readonly number[];
  /** Unknowns found here: body * 3 + (0 x, 1 y, 2 turn). */
  readonly unknowns: readonly number[];
  readonly joints: readonly number[];
  /** `over`: more conditions than unknowns, `loose`: fewer, by so many. */
  readonly sort: 'even' | 'over' | 'loose';
  readonly by: number;
}

/**
 * Groups in the order in which they can be solved, each from what is given and from groups before it. A pin counts as
 * one thing: its two conditions are never parted, nor are x, y and turn of a body that one group finds.
 */
export function orderOfSolution(chain: Chain): readonly Group[] {
  const { equations, unknowns, reads } = patternOf(chain);
  const { ofEquation, ofUnknown } = largestMatching(reads, unknowns.length);
  const readers: number[][] = unknowns.map(() => []);
  reads.forEach((list, equation) => list.forEach((unknown) => readers[unknown]!.push(equation)));

  // Reached by alternating ways: from a condition too many back to what it reads, from an unknown too many to its readers.
  const over = new Set<number>();
  const loose = new Set<number>();
  const fromEquation = ofEquation.flatMap((match, equation) => (match < 0 ? [equation] : []));
  for (let at = fromEquation.pop(); at !== undefined; at = fromEquation.pop())
    for (const unknown of reads[at]!) {
      if (over.has(unknown)) continue;
      over.add(unknown);
      fromEquation.push(ofUnknown[unknown]!);
    }
  const fromUnknown = ofUnknown.flatMap((match, unknown) => (match < 0 ? [unknown] : []));
  fromUnknown.forEach((unknown) => loose.add(unknown));
  for (let at = fromUnknown.pop(); at !== undefined; at = fromUnknown.pop())
    for (const equation of readers[at]!) {
      const unknown = ofEquation[equation]!;
      if (unknown < 0 || loose.has(unknown)) continue;
      loose.add(unknown);
      fromUnknown.push(unknown);
    }

  const sortOf = (unknown: number): Group['sort'] =>
    over.has(unknown) ? 'over' : loose.has(unknown) ? 'loose' : 'even';
  const equationSort = (equation: number): Group['sort'] =>
    ofEquation[equation]! < 0 ? 'over' : sortOf(ofEquation[equation]!);
  const group = (members: readonly number[], sort: Group['sort']): Group => {
    const inside = new Set(members);
    const own = equations.flatMap(({ joint }, e) =>
      equationSort(e) === sort &&
      (ofEquation[e]! < 0 ? reads[e]!.some((u) => inside.has(u)) : inside.has(ofEquation[e]!))
        ? [joint]
        : [],
    );
    const sorted = [...members].map((u) => unknowns[u]!).sort((a, b) => a - b);
    return {
      bodies: [...new Set(sorted.map((unknown) => Math.floor(unknown / 3)))],
      unknowns: sorted,
      joints: [...new Set(own)].sort((a, b) => a - b),
      sort,
      by: Math.abs(own.length - members.length),
    };
  };
  const together = (sort: Group['sort']): Group[] => {
    const members = unknowns.flatMap((_, u) => (sortOf(u) === sort ? [u] : []));
    const links = reads.filter((_, e) => equationSort(e) === sort);
    return connected(members, links).map((piece) => group(piece, sort));
  };
  const even = unknowns.flatMap((_, u) => (sortOf(u) === 'even' ? [u] : []));
  const strong = strongComponents(even, (u) =>
    reads[ofUnknown[u]!]!.filter((other) => sortOf(other) === 'even'),
  );
  return [...together('over'), ...strong.map((members) => group(members, 'even')), ...together('loose')];
}

/** Conditions and unknowns of a chain, and which unknowns each condition reads. */
function patternOf(chain: Chain): {
  equations: { joint: number }[];
  unknowns: number[];
  reads: number[][];
} {
  const unknowns: number[] = [];
  const ofBody = chain.found.map((found, body) =>
    [0, 1, 2].flatMap((k) => (found[k] ? [unknowns.push(body * 3 + k) - 1] : [])),
  );
  const equations: { joint: number }[] = [];
  const reads: number[][] = [];
  chain.joints.forEach(({ kind, a, b }, joint) => {
    for (let k = 0; k < CONDITIONS[kind]; k++) {
      equations.push({ joint });
      reads.push([...ofBody[a]!, ...ofBody[b]!]);
    }
  });
  return { equations, unknowns, reads };
}

/** A largest matching of conditions and unknowns, by ways that alternate; -1 where there is none. */
function largestMatching(
  reads: readonly (readonly number[])[],
  count: number,
): { ofEquation: number[]; ofUnknown: number[] } {
  const ofEquation = reads.map(() => -1);
  const ofUnknown = Array.from({ length: count }, () => -1);
  const place = (equation: number, seen: Set<number>): boolean => {
    for (const unknown of reads[equation]!) {
      if (seen.has(unknown)) continue;
      seen.add(unknown);
      if (ofUnknown[unknown]! >= 0 && !place(ofUnknown[unknown]!, seen)) continue;
      ofUnknown[unknown] = equation;
      ofEquation[equation] = unknown;
      return true;
    }
    return false;
  };
  reads.forEach((_, equation) => place(equation, new Set()));
  return { ofEquation, ofUnknown };
}

/** Members in pieces that lists of members hold together. */
function connected(members: readonly number[], lists: readonly (readonly number[])[]): number[][] {
  const pieceOf = new Map(members.map((member) => [member, [member]]));
  for (const list of lists) {
    const [first, ...others] = list.filter((member) => pieceOf.has(member));
    if (first === undefined) continue;
    for (const other of others) {
      const [into, from] = [pieceOf.get(first)!, pieceOf.get(other)!];
      if (into === from) continue;
      into.push(...from);
      for (const member of from) pieceOf.set(member, into);
    }
  }
  return [...new Set(pieceOf.values())];
}

/** Strong components, each after all that it reads. Source: Tarjan (1972). */
function strongComponents(
  members: readonly number[],
  readsOf: (member: number) => readonly number[],
): number[][] {
  const index = new Map<number, number>();
  const low = new Map<number, number>();
  const stack: number[] = [];
  const onStack = new Set<number>();
  const out: number[][] = [];
  const visit = (member: number): void => {
    index.set(member, index.size);
    low.set(member, index.get(member)!);
    stack.push(member);
    onStack.add(member);
    for (const other of readsOf(member)) {
      if (!index.has(other)) {
        visit(other);
        low.set(member, Math.min(low.get(member)!, low.get(other)!));
      } else if (onStack.has(other)) low.set(member, Math.min(low.get(member)!, index.get(other)!));
    }
    if (low.get(member) !== index.get(member)) return;
    const piece: number[] = [];
    let last: number;
    do {
      last = stack.pop()!;
      onStack.delete(last);
      piece.push(last);
    } while (last !== member);
    out.push(piece);
  };
  for (const member of members) if (!index.has(member)) visit(member);
  return out;
}
