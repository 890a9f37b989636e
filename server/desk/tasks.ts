import { budgetTrouble } from '../../core/check';
import { compile } from '../../core/evaluate';
import { parseShot, type Shot } from '../../core/document';
import { reelFrames, reelTrouble, REEL_FIRST, shotsOfReel, type ShotItem } from '../../core/reel';
import type { AssetFacts, RenderRequest } from '../../wire';
import { newShotBody, renderRequest } from '../../wire';
import { newShot } from '../new-shot';
import type { FileStore } from '../files';
import { notFound, Problem, readBody, readJson } from '../problem';
import { inTransaction, type Database } from '../store/database';
import { readInnerShots, type InnerShots } from '../store/inner-shots';
import { readReel } from '../store/reels';
import { createRender } from '../store/renders';
import { askForPicture, createShot, readHead } from '../store/shots';
import { Documents } from './documents';
import { keepFile } from './keep-file';
import { takeChanges } from './take-changes';

/** JSON of a shot's document with what is known of the shot. */
export interface WholeShot {
  readonly head: { id: string; name: string; projectId: string; projectName: string; revision: number };
  readonly json: Uint8Array;
}

/** Work that would hold the server up: each task is named, and takes and gives what can be sent between threads. */
export interface Tasks {
  takeChanges(shot: string, body: Uint8Array): Promise<{ revision: number }>;
  wholeShot(shot: string): Promise<WholeShot>;
  newShot(project: string, body: Uint8Array): Promise<{ id: string }>;
  startRender(shot: string, body: Uint8Array): Promise<string>;
  startReel(reel: string, body: Uint8Array): Promise<string>;
  /** @param path a file with the bytes, which stays */
  keepFile(path: string): Promise<AssetFacts>;
}
export type TaskName = keyof Tasks;

/** @param report is told of what went wrong without anybody waiting for it */
export function tasksOn(pool: Database, files: FileStore, report: (error: unknown) => void): Tasks {
  const documents = new Documents(pool, report);
  /** The document of a shot with its head. */
  const find = async (id: string) => {
    const head = await readHead(pool, id);
    if (!head) throw notFound('The shot');
    return { head, document: await documents.at(pool, head) };
  };
  const documentOf = async (id: string): Promise<Shot | null> => {
    const head = await readHead(pool, id);
    return head && documents.at(pool, head);
  };
  return {
    takeChanges: (shot, body) => takeChanges(pool, documents, shot, body),

    async wholeShot(shot) {
      const { head, document } = await find(shot);
      documents.hold({ ...head, snapshotRevision: head.revision }, head.revision, document, head.size);
      return { head, json: await documents.snapshot(head.id, head.revision, document) };
    },

    async newShot(project, body) {
      const { name, document } = readBody(newShotBody, readJson(body));
      const parsed = document === undefined ? { ok: true as const, shot: newShot() } : parseShot(document);
      if (!parsed.ok)
        throw new Problem(422, 'bad-document', parsed.problems[0]!.message, { errors: parsed.problems });
      return inTransaction(pool, async (client) => {
        const id = await createShot(client, project, name, parsed.shot);
        if (id === null) throw notFound('The project');
        await askForPicture(client, id, 0);
        return { id };
      });
    },

    async startRender(shot, body) {
      const wanted: RenderRequest = readBody(renderRequest, readJson(body));
      const { head, document } = await find(shot);
      refuseRender(document);
      const inner = await readInnerShots(pool, document, documentOf);
      refuseGone(document, inner);
      return createRender(pool, { ...head, document, inner }, wanted);
    },

    async startReel(id, body) {
      const wanted: RenderRequest = readBody(renderRequest, readJson(body));
      const found = await readReel(pool, id);
      if (!found) throw notFound('The reel');
      const { reel } = found;
      const frames = reelFrames(reel);
      if (frames === 0) throw new Problem(422, 'empty', 'The reel is empty: put a shot into it first.');
      if (wanted.first < REEL_FIRST || wanted.last > frames)
        throw new Problem(
          422,
          'beyond',
          `The reel has the frames ${REEL_FIRST} to ${frames}: ${wanted.first} to ${wanted.last} are not all among them.`,
        );
      const trouble = reelTrouble(reel);
      if (trouble !== null) throw new Problem(422, 'bad-reel', trouble);
      const inner: Record<string, Shot> = {};
      for (const shot of shotsOfReel(reel)) {
        const document = await documentOf(shot);
        const { name } = reel.items.find((item) => item.kind === 'shot' && item.shot === shot) as ShotItem;
        if (!document)
          throw new Problem(
            422,
            'inner-gone',
            `The shot "${name}" is gone: bring it back, or take it out of the reel.`,
          );
        refuseRender(document, `"${name}"`);
        const shown = await readInnerShots(pool, document, documentOf);
        refuseGone(document, shown);
        Object.assign(inner, shown, { [shot]: document });
      }
      return createRender(
        pool,
        { id, name: found.name, projectName: found.projectName, reel, inner },
        wanted,
      );
    },

    keepFile: (path) => keepFile(pool, files, path),
  };
}

/** Refuses a film that would lack what its shot shows. */
function refuseGone(document: Shot, inner: InnerShots): void {
  const gone = [document, ...Object.values(inner)].flatMap((shot) =>
    Object.values(shot.parts).flatMap(({ name, inset }) =>
      inset && !inner[inset.shot] ? [`"${name}" shows the shot "${inset.name}", which is gone`] : [],
    ),
  );
  if (gone.length > 0)
    throw new Problem(422, 'inner-gone', `${gone[0]}: bring it back, or take the part out.`);
}

function refuseRender(document: Shot, name = ''): void {
  if (document.setup.camera === null)
    throw new Problem(
      422,
      'no-camera',
      `The shot ${name === '' ? '' : `${name} `}has no camera: add one first.`,
    );
  const trouble = budgetTrouble(compile(document));
  if (trouble) throw new Problem(422, 'too-much', trouble);
}
