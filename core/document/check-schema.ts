import { z } from 'zod';
import { PROBLEMS_TOLD, type DocumentProblem } from './check-structure';
import { describeIssue, foundAt } from './describe-issue';
import { surelySoundTracks } from './quick-track';
import { trackSchema } from './key-schema';
import { shotSchema } from './schema';

/** A place of a document, from its top. */
export type Place = readonly string[];

const TABLES = Object.entries(shotSchema.shape).flatMap(([name, schema]) =>
  schema instanceof z.ZodRecord ? [[name, schema] as const] : [],
);
const isRecord = (json: unknown): json is Record<string, unknown> =>
  typeof json === 'object' && json !== null && !Array.isArray(json);

/** The one name that objects of JavaScript do not hold like any other. */
const ODD_NAME = '__proto__';
/** The schema is not deeper. */
const DEPTH = 12;

/** Where the odd name stands inside a value, or `null`. */
function oddPlace(value: unknown, depth = DEPTH): string[] | null {
  if (typeof value !== 'object' || value === null || depth === 0) return null;
  for (const name of Object.keys(value)) {
    if (name === ODD_NAME) return [name];
    const inner = oddPlace((value as Record<string, unknown>)[name], depth - 1);
    if (inner) return [name, ...inner];
  }
  return null;
}

/** What the schema finds, entry by entry, until there is enough to tell. */
class Findings {
  readonly problems: DocumentProblem[] = [];

  constructor(private readonly json: unknown) {}

  get enough(): boolean {
    return this.problems.length >= PROBLEMS_TOLD;
  }

  /** Judges a value by a schema; `at` is where the value stands. */
  judge(schema: z.ZodType, value: unknown, at: Place): void {
    const parsed = schema.safeParse(value);
    if (parsed.success) return;
    for (const issue of parsed.error.issues) {
      if (this.enough) return;
      const path = [...at, ...issue.path];
      this.problems.push({
        code: `schema.${issue.code}`,
        path: path.map(String).join('/'),
        message: describeIssue(issue, foundAt(this.json, path)),
      });
    }
  }

  /** Judges one entry of a record, its name included. */
  judgeEntry(schema: z.ZodRecord, name: string, value: unknown, at: Place): void {
    const odd = name === ODD_NAME ? [] : oddPlace(value);
    if (odd)
      this.problems.push({
        code: 'name.odd',
        path: [...at, name, ...odd].join('/'),
        message: `${ODD_NAME} is no name in a document: choose another.`,
      });
    else this.judge(schema, { [name]: value }, at);
  }
}

/**
 * What the schema finds wrong with a document, at most as much as is told. A large document costs a look at each entry,
 * whatever stands in it: keys are most of it, and those that are surely sound are not asked about one by one.
 * @param places when given, only these are looked at, and what lies around them
 */
export function schemaProblems(json: unknown, places?: readonly Place[]): DocumentProblem[] {
  const findings = new Findings(json);
  // The frame of the document, with its tables empty; what is no table at all is told here.
  const frame = isRecord(json)
    ? Object.fromEntries(
        Object.entries(json).map(([name, value]) => [
          name,
          isRecord(value) && TABLES.some(([table]) => table === name) ? {} : value,
        ]),
      )
    : json;
  findings.judge(shotSchema, frame, []);
  if (!isRecord(json)) return findings.problems;
  for (const [table, schema] of TABLES) {
    const entries = json[table];
    if (!isRecord(entries)) continue;
    for (const id of idsIn(table, entries, places)) {
      if (findings.enough) return findings.problems;
      judgeEntry(findings, schema, table, id, entries[id], places);
    }
  }
  return findings.problems;
}

function idsIn(table: string, entries: Record<string, unknown>, places?: readonly Place[]): Iterable<string> {
  if (!places) return Object.keys(entries);
  const ids = new Set<string>();
  for (const [top, id] of places) {
    if (top !== table) continue;
    if (id === undefined) return Object.keys(entries);
    if (Object.hasOwn(entries, id)) ids.add(id);
  }
  return ids;
}

function judgeEntry(
  findings: Findings,
  schema: z.ZodRecord,
  table: string,
  id: string,
  entry: unknown,
  places?: readonly Place[],
): void {
  const tracks = foundAt(entry, ['tracks']);
  if (!isRecord(entry) || !isRecord(tracks)) {
    findings.judgeEntry(schema, id, entry, [table]);
    return;
  }
  findings.judgeEntry(schema, id, { ...entry, tracks: {} }, [table]);
  for (const path of tracksIn(table, id, tracks, places)) {
    if (findings.enough) return;
    judgeTrack(findings, tracks[path], [table, id, 'tracks', path]);
  }
}

function tracksIn(
  table: string,
  id: string,
  tracks: Record<string, unknown>,
  places?: readonly Place[],
): Iterable<string> {
  if (!places) return Object.keys(tracks);
  const paths = new Set<string>();
  for (const [top, owner, field, path] of places) {
    if (top !== table || (owner !== undefined && owner !== id)) continue;
    if (owner === undefined || field === undefined || (field === 'tracks' && path === undefined))
      return Object.keys(tracks);
    if (field === 'tracks' && path !== undefined && Object.hasOwn(tracks, path)) paths.add(path);
  }
  return paths;
}

/** A track is judged without its keys, then key by key, so that a long one full of faults costs no more than some. */
function judgeTrack(findings: Findings, track: unknown, at: Place): void {
  if (surelySoundTracks({ track })) return;
  const keys = foundAt(track, ['keys']);
  if (!isRecord(track) || !isRecord(keys)) {
    findings.judge(trackSchema, track, at);
    return;
  }
  findings.judge(trackSchema, { ...track, keys: {} }, at);
  for (const id of Object.keys(keys)) {
    if (findings.enough) return;
    findings.judgeEntry(trackSchema.shape.keys, id, keys[id], [...at, 'keys']);
  }
}
