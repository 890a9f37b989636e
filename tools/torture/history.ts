import { deepStrictEqual } from 'node:assert';
import type { Shot } from '../../core/document';
import { apply, invert } from '../../core/edit';
import type { KeptChange, OpenedShot } from '../../wire';
import { askOn } from './client';

/** What is wrong with the history of a shot, in sentences; none where all holds. */
export async function historyFaults(
  url: string,
  shot: string,
  first: Shot,
  acknowledged: readonly string[],
): Promise<{ faults: string[]; changes: number }> {
  const faults: string[] = [];
  const opened = await askOn<OpenedShot>(url, 'GET', `/shots/${shot}`);
  const changes = await askOn<KeptChange[]>(url, 'GET', `/shots/${shot}/changes?since=0`);
  changes.forEach(({ revision }, i) => {
    if (revision !== i + 1) faults.push(`revision ${i + 1} is missing: ${revision} stands there`);
  });
  const counts = new Map<string, number>();
  for (const { senderId } of changes) counts.set(senderId, (counts.get(senderId) ?? 0) + 1);
  const lost = acknowledged.filter((id) => !counts.has(id));
  if (lost.length > 0) faults.push(`${lost.length} changes that were acknowledged are lost`);
  const twice = [...counts.values()].filter((count) => count > 1).length;
  if (twice > 0) faults.push(`${twice} changes were taken twice`);
  if (opened.revision !== changes.length)
    faults.push(`the shot is at ${opened.revision}, its history at ${changes.length}`);
  const undone = changes.reduceRight((document, change) => apply(document, invert(change)), opened.document);
  try {
    deepStrictEqual(undone, first);
  } catch {
    faults.push('its history undone does not lead to its first state');
  }
  return { faults, changes: changes.length };
}
