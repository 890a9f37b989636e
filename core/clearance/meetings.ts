import type { Clearance, Finding, Nearness } from './clearance';

/** Two parts that touch, with all times at which they or their copies do. */
export interface Meeting {
  readonly a: string;
  readonly b: string;
  /**
   * `into`: they come together; `along`: they touch from the first frame to the last while they move against one another;
   * `still`: they stand in one another, as they were put.
   */
  readonly kind: 'into' | 'along' | 'still';
  readonly findings: readonly Finding[];
  /** The finding that is known to be the deepest; `null` while none is. */
  readonly deepest: Finding | null;
}

const KINDS: readonly Meeting['kind'][] = ['into', 'along', 'still'];

function kindOf(findings: readonly Finding[]): Meeting['kind'] {
  if (findings.every(({ still }) => still)) return 'still';
  return findings.every(({ before, after, to }) => before && (after || to === null)) ? 'along' : 'into';
}

/**
 * Findings by pairs of parts: those that come together first, the deepest of them first.
 * @param left whether a pair is left out
 */
export function meetingsOf(
  findings: readonly Finding[],
  left: (a: string, b: string) => boolean = () => false,
): Meeting[] {
  const pairs = new Map<string, Finding[]>();
  for (const finding of findings) {
    if (left(finding.a.part, finding.b.part)) continue;
    const word = [finding.a.part, finding.b.part].sort().join(' ');
    const known = pairs.get(word);
    if (known) known.push(finding);
    else pairs.set(word, [finding]);
  }
  const all = [...pairs.values()].map((list): Meeting => {
    const sorted = list.sort((a, b) => a.from - b.from);
    const known = sorted.filter(({ depth }) => depth !== null);
    const deepest = known.reduce<Finding | null>(
      (most, each) => (most === null || each.depth! > most.depth! ? each : most),
      null,
    );
    const [first] = sorted;
    return { a: first!.a.part, b: first!.b.part, kind: kindOf(sorted), findings: sorted, deepest };
  });
  const depth = ({ deepest }: Meeting): number => deepest?.depth ?? 0;
  return all.sort((p, q) => KINDS.indexOf(p.kind) - KINDS.indexOf(q.kind) || depth(q) - depth(p));
}

const bodiesOf = ({ a, b }: Finding): string => JSON.stringify([a, b]);

function oneOf(a: Finding, b: Finding): Finding {
  const deeper = (b.depth ?? -1) > (a.depth ?? -1) ? b : a;
  return {
    ...a,
    to: b.to,
    after: b.after,
    still: a.still && b.still,
    depth: deeper.depth,
    deepest: deeper.deepest,
  };
}

/** What two checks found of one frame range and of the one that begins at its last frame, as of both together. */
export function joined(earlier: Clearance, later: Clearance, seam: number): Clearance {
  const over = new Map<string, Finding>();
  for (const finding of earlier.findings)
    if (finding.to !== null && finding.to > seam - 1) over.set(bodiesOf(finding), finding);
  const taken = new Set<Finding>();
  const findings = later.findings.map((finding): Finding => {
    const before = over.get(bodiesOf(finding));
    if (!before || taken.has(before) || finding.from - before.to! >= 1) return { ...finding, before: false };
    taken.add(before);
    return oneOf(before, finding);
  });
  const ended = earlier.findings
    .filter((finding) => !taken.has(finding))
    .map((finding): Finding => ({ ...finding, after: false }));
  return {
    findings: [...ended, ...findings].sort((a, b) => a.from - b.from),
    nearness: earlier.nearness.map((near, i): Nearness => {
      const then = later.nearness[i]!;
      const nearer = then.least < near.least || Number.isNaN(near.least) ? then : near;
      return { ...nearer, distances: Float64Array.of(...near.distances, ...then.distances.subarray(1)) };
    }),
    bodies: Math.max(earlier.bodies, later.bodies),
    note: [...new Set([earlier.note, later.note])].filter((note) => note !== '').join(' '),
  };
}
