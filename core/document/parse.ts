import { checkStructure, type DocumentProblem } from './check-structure';
import { foundAt } from './describe-issue';
import { schemaProblems, type Place } from './check-schema';
import { DOCUMENT_VERSION, type Shot } from './schema';
import { upgraded } from './upgrade';

export type ParsedShot = { ok: true; shot: Shot } | { ok: false; problems: DocumentProblem[] };

/**
 * Reads a shot from parsed JSON. Nothing is half-read: the answer is a whole document or the list of what is
 * wrong with it, each with its path.
 */
export function parseShot(written: unknown): ParsedShot {
  const json = upgraded(written);
  const version = foundAt(json, ['version']);
  if (typeof version === 'number' && version > DOCUMENT_VERSION)
    return {
      ok: false,
      problems: [
        {
          code: 'version.newer',
          path: 'version',
          message: `This shot was written by a newer Whirl (version ${version}; this one reads up to ${DOCUMENT_VERSION}). Update Whirl to open it.`,
        },
      ],
    };
  const unsound = schemaProblems(json);
  if (unsound.length > 0) return { ok: false, problems: unsound };
  const problems = checkStructure(json as Shot);
  return problems.length > 0 ? { ok: false, problems } : { ok: true, shot: json as Shot };
}

/**
 * Reads a shot that came from a sound one by changing the given places: only what these can have made unsound is
 * looked at. The answer is that of `parseShot`, which a property test holds.
 */
export function parseChanged(written: unknown, places: readonly Place[]): ParsedShot {
  const whole = places.some((place) => place.length < 2 && place[0] !== 'setup');
  if (whole || schemaProblems(written, places).length > 0) return parseShot(written);
  const touched = new Set(places.map(([table, id]) => `${table}/${id}`));
  const problems = checkStructure(written as Shot, touched);
  return problems.length > 0 ? parseShot(written) : { ok: true, shot: written as Shot };
}
