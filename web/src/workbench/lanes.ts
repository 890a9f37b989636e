import { channelAt, sortedKeys, treeOrder, type Shot } from '../../../core/document';
import { channelLabel } from '../../../core/edit';
import { sample, type Plan } from '../../../core/evaluate';
import { hexOfColour } from '../../../core/math';

/** One row of the timeline: a channel that is keyed or linked. */
export interface Lane {
  readonly address: string;
  readonly owner: string;
  /** Part whose row this is, for choosing it; the first user of a shape or look. */
  readonly part: string | null;
  readonly name: string;
  readonly linked: boolean;
  readonly keys: readonly { readonly id: string; readonly frame: number; readonly manner: string }[];
}

/** Every channel that moves or is linked, in the order of the tree, whatever it belongs to. */
export function lanesOf(shot: Shot): Lane[] {
  const lanes: Lane[] = [];
  const seen = new Set<string>();
  const add = (
    owner: string,
    part: string | null,
    name: string,
    record: { tracks: Shot['parts'][string]['tracks']; links: Shot['parts'][string]['links'] },
  ): void => {
    for (const path of new Set([...Object.keys(record.tracks), ...Object.keys(record.links)])) {
      const address = `${owner}/${path}`;
      const spec = channelAt(shot, address)?.spec;
      if (!spec) continue;
      const track = record.tracks[path];
      lanes.push({
        address,
        owner,
        part,
        name: `${name} · ${channelLabel(spec)}`,
        linked: path in record.links,
        keys: track
          ? sortedKeys(track).map(({ id, key }) => ({ id, frame: key.frame, manner: key.manner }))
          : [],
      });
    }
  };
  for (const { id } of treeOrder(shot)) {
    const part = shot.parts[id]!;
    add(id, id, part.name, part);
    for (const [table, shared] of [
      ['shapes', part.shape],
      ['looks', part.look],
    ] as const) {
      if (shared === null || seen.has(shared)) continue;
      seen.add(shared);
      const record = shot[table][shared];
      if (record) add(shared, id, 'name' in record ? record.name : part.name, record);
    }
  }
  for (const [id, dial] of Object.entries(shot.dials)) add(id, null, dial.name, dial);
  return lanes;
}

/** Values of a lane over the range, ready to draw: shares from 0 to 1, or colours. */
export interface LaneCurve {
  readonly from: number;
  readonly step: number;
  readonly shares?: Float32Array;
  readonly colours?: readonly string[];
}

const SAMPLES_AT_MOST = 480;

/** Curves of all lanes, sampled in one pass. */
export function laneCurves(plan: Plan, lanes: readonly Lane[]): Map<string, LaneCurve> {
  const out = new Map<string, LaneCurve>();
  if (lanes.length === 0) return out;
  const { first, last } = plan.shot.setup;
  const step = Math.max(0.5, (last - first) / SAMPLES_AT_MOST);
  const addresses = lanes.map((lane) => lane.address);
  const table = sample(plan, addresses, first, last, step);
  let column = 0;
  for (const address of addresses) {
    const colour = channelAt(plan.shot, address)?.spec.kind === 'colour';
    const at = (row: number, i: number): number => table.values[row * table.columns + column + i]!;
    const rows = table.frames.length;
    if (colour) {
      out.set(address, {
        from: first,
        step,
        colours: Array.from({ length: rows }, (_, row) => hexOfColour([at(row, 0), at(row, 1), at(row, 2)])),
      });
      column += 3;
      continue;
    }
    let low = Infinity;
    let high = -Infinity;
    for (let row = 0; row < rows; row++) {
      low = Math.min(low, at(row, 0));
      high = Math.max(high, at(row, 0));
    }
    const span = high - low;
    out.set(address, {
      from: first,
      step,
      shares: Float32Array.from({ length: rows }, (_, row) =>
        span > 1e-12 ? (at(row, 0) - low) / span : 0.5,
      ),
    });
    column += 1;
  }
  return out;
}
