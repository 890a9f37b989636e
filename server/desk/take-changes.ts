import { ZodError } from 'zod';
import { parseChanged, parseShot, type DocumentProblem, type Part, type Shot } from '../../core/document';
import { apply, netChange, type Patch } from '../../core/edit';
import { readChanges } from '../../wire';
import { badRequest, notFound, Problem, readJson } from '../problem';
import { loopThrough } from '../../core/inset';
import { inTransaction, type Database, type Queryable } from '../store/database';
import { readInnerShots } from '../store/inner-shots';
import {
  askForPicture,
  changesBetween,
  DOCUMENT_BYTES,
  keepChanges,
  readHead,
  refuseLarge,
  sentBefore,
  type StoredChange,
} from '../store/shots';
import type { Documents } from './documents';

/** Seconds that a shot is left alone before its card picture is drawn again; longer keeps cards off a busy machine. */
const PICTURE_DELAY = Number(process.env.WHIRL_CARD_DELAY ?? 6);
/** Missed changes that a refusal brings along; whoever has missed more asks for them. */
const MISSED_BYTES = 8 * 1024 * 1024;

type Sent = ReturnType<typeof readChanges>['changes'][number];

const refused = (label: string, problems: readonly DocumentProblem[]): Problem =>
  new Problem(422, 'bad-document', `"${label}" was refused. ${problems[0]!.path}: ${problems[0]!.message}`, {
    errors: problems,
  });

/** A change with what stands in the document before it, whatever the sender took it for: so undo of it is right. */
function applied(document: Shot, { label, patches }: Sent): { document: Shot; patches: readonly Patch[] } {
  try {
    const net = netChange(document, { label, patches });
    return { document: apply(document, net), patches: net.patches };
  } catch (error) {
    const reason = error instanceof Error ? error.message : String(error);
    throw new Problem(422, 'change-does-not-fit', `"${label}" was refused. ${reason}`);
  }
}

/** Applies changes one after the other. @throws Problem naming the first that does not fit or leads to nothing sound */
function allApplied(start: Shot, sent: readonly Sent[]): { document: Shot; patches: (readonly Patch[])[] } {
  let document = start;
  const steps = sent.map((change) => {
    const next = applied(document, change);
    document = next.document;
    return next;
  });
  const patches = steps.map((step) => step.patches);
  const parsed = parseChanged(
    document,
    patches.flat().map(({ path }) => path),
  );
  if (parsed.ok) return { document: parsed.shot, patches };
  // Looked at once as a whole; only where that is not sound, one by one for the change to name.
  for (const [i, step] of steps.entries()) {
    const found = parseShot(step.document);
    if (!found.ok) throw refused(sent[i]!.label, found.problems);
  }
  throw refused(sent.at(-1)!.label, parsed.problems);
}

async function readMissed(changes: AsyncIterable<StoredChange>): Promise<StoredChange[]> {
  const missed: StoredChange[] = [];
  let size = 0;
  for await (const change of changes) {
    missed.push(change);
    size += change.patches.length;
    if (size > MISSED_BYTES) break;
  }
  return missed;
}

function read(json: unknown): ReturnType<typeof readChanges> {
  try {
    return readChanges(json);
  } catch (error) {
    throw error instanceof ZodError ? badRequest(error, json) : error;
  }
}

/** Refuses a shot that would contain itself through the shots that it shows. */
async function refuseLoop(
  client: Queryable,
  documents: Documents,
  id: string,
  document: Shot,
  patches: readonly Patch[],
): Promise<void> {
  const touches = ({ path, after }: Patch): boolean =>
    path[0] === 'parts' &&
    (path.length === 2 ? (after as Partial<Part> | undefined)?.inset !== undefined : path[2] === 'inset');
  if (!patches.some(touches)) return;
  const inner = await readInnerShots(client, document, async (other) => {
    const head = other === id ? null : await readHead(client, other);
    return head && documents.at(client, head);
  });
  const library = { shotOf: (other: string) => inner[other] ?? null };
  for (const { name, inset } of Object.values(document.parts)) {
    const way = inset && loopThrough(library, id, inset.shot);
    if (way)
      throw new Problem(
        422,
        'shot-in-itself',
        `"${name}" cannot show the shot "${inset.name}": this shot would contain itself, ${way.length - 1} shots down. Choose another one.`,
      );
  }
}

/**
 * Keeps changes sent on top of a revision.
 * @param body JSON of the request
 * @returns the revision that they lead to
 * @throws Problem when they are refused
 */
export async function takeChanges(
  pool: Database,
  documents: Documents,
  id: string,
  body: Uint8Array,
): Promise<{ revision: number }> {
  const json = readJson(body);
  const { base, changes } = read(json);
  const taken = await inTransaction(pool, async (client) => {
    const head = await readHead(client, id, true);
    if (!head) throw notFound('The shot');
    if (base > head.revision)
      throw new Problem(
        409,
        'base-unknown',
        `Revision ${base} is not known here: the shot is at ${head.revision}.`,
        { revision: head.revision, missed: [] },
      );
    const known = await sentBefore(
      client,
      id,
      changes.map((change) => change.id),
    );
    const missed = base === head.revision ? [] : await readMissed(changesBetween(client, id, base));
    // What the sender has missed that is not its own, sent twice after a lost answer.
    if (missed.some((change) => !changes.some((sent) => sent.id === change.senderId)))
      throw new Problem(409, 'stale', `The shot has moved on to revision ${head.revision}.`, {
        revision: head.revision,
        missed: missed.map((change) => ({ ...change, patches: JSON.parse(change.patches) as Patch[] })),
      });
    const fresh = changes.filter((change) => !known.has(change.id));
    if (fresh.length === 0) return head.revision;
    const { document, patches } = allApplied(await documents.at(client, head), fresh);
    await refuseLoop(client, documents, id, document, patches.flat());
    const kept = fresh.map(({ id: senderId, label }, i) => ({
      revision: head.revision + 1 + i,
      senderId,
      label,
      patches: JSON.stringify(patches[i]),
    }));
    const size = head.size + kept.reduce((sum, change) => sum + change.patches.length, 0);
    // The sum counts what was replaced, too: only where it is over the limit, the document itself is measured.
    if (size > DOCUMENT_BYTES) refuseLarge(Buffer.byteLength(JSON.stringify(document)));
    await keepChanges(client, id, kept, document.setup);
    await askForPicture(client, id, PICTURE_DELAY);
    return { head, revision: kept.at(-1)!.revision, document, size };
  });
  if (typeof taken === 'number') return { revision: taken };
  // Held only now: what the transaction did stands.
  documents.hold(taken.head, taken.revision, taken.document, taken.size);
  return { revision: taken.revision };
}
