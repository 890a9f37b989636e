/**
 * Order in which links must be worked out, and the loops among them. Source: Tarjan, "Depth-first search and
 * linear graph algorithms" (1972), written without recursion so that long chains cannot exhaust the stack.
 * @param reads for each link, the links that it reads
 * @returns `order`: links outside loops, each after all it reads; `loops`: the members of each loop in the order
 * in which they read one another
 */
export function orderLinks(reads: readonly (readonly number[])[]): { order: number[]; loops: number[][] } {
  const count = reads.length;
  const index = new Int32Array(count).fill(-1);
  const low = new Int32Array(count);
  const onStack = new Uint8Array(count);
  const edge = new Int32Array(count);
  const stack: number[] = [];
  const order: number[] = [];
  const loops: number[][] = [];
  let next = 0;
  for (let root = 0; root < count; root++) {
    if (index[root] !== -1) continue;
    const path = [root];
    while (path.length > 0) {
      const node = path[path.length - 1]!;
      if (index[node] === -1) {
        index[node] = low[node] = next++;
        stack.push(node);
        onStack[node] = 1;
      }
      const targets = reads[node]!;
      let descended = false;
      while (edge[node]! < targets.length) {
        const target = targets[edge[node]!]!;
        edge[node]!++;
        if (index[target] === -1) {
          path.push(target);
          descended = true;
          break;
        }
        if (onStack[target]) low[node] = Math.min(low[node]!, index[target]!);
      }
      if (descended) continue;
      path.pop();
      const parent = path[path.length - 1];
      if (parent !== undefined) low[parent] = Math.min(low[parent]!, low[node]!);
      if (low[node] !== index[node]) continue;
      const group: number[] = [];
      let member: number;
      do {
        member = stack.pop()!;
        onStack[member] = 0;
        group.push(member);
      } while (member !== node);
      if (group.length > 1 || reads[node]!.includes(node)) loops.push(shortestLoop(group, reads));
      else order.push(node);
    }
  }
  return { order, loops };
}

/** All members of a strongly connected group, led by a shortest loop through its smallest member. */
function shortestLoop(group: readonly number[], reads: readonly (readonly number[])[]): number[] {
  const members = new Set(group);
  const start = Math.min(...group);
  const cameFrom = new Map<number, number>();
  const queue = [start];
  for (let i = 0; i < queue.length; i++) {
    const node = queue[i]!;
    for (const target of reads[node]!) {
      if (target === start) {
        const loop: number[] = [];
        for (let at: number | undefined = node; at !== undefined; at = cameFrom.get(at)) loop.unshift(at);
        return [...loop, ...group.filter((member) => !loop.includes(member)).sort((a, b) => a - b)];
      }
      if (members.has(target) && !cameFrom.has(target) && target !== start) {
        cameFrom.set(target, node);
        queue.push(target);
      }
    }
  }
  return [...group];
}
