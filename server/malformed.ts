/** Requests as no page of ours makes them: for tests, and for the long run. Repeatable: the same seed, the same requests. */

import { seeded } from '../core/testing/seeded';

export interface OddRequest {
  readonly method: string;
  /** Below the server's address; may be no sound address at all. */
  readonly path: string;
  readonly headers: Record<string, string>;
  readonly body: string | null;
}

const METHODS = ['GET', 'POST', 'PATCH', 'DELETE', 'PUT', 'OPTIONS', 'HEAD'];
const UUID = '00000000-0000-4000-8000-000000000000';
const ODD_SEGMENTS = [
  '%00',
  '%E0',
  '%2e%2e',
  '%F0%28%8C%28',
  '..',
  '.',
  '__proto__',
  'null',
  'NaN',
  '-1',
  '2147483648',
  '1e9',
  UUID,
  UUID.toUpperCase(),
  'a'.repeat(3000),
  '%',
  '%25',
  "'",
  '"',
  '%0d%0aX-Odd: 1',
  '*',
  ';',
  '\u00e9',
];
const ODD_VALUES: readonly unknown[] = [
  null,
  true,
  0,
  -1,
  -0,
  2147483648,
  2 ** 53,
  1e308,
  '',
  '\u0000',
  '\ud800',
  'x'.repeat(5000),
  [],
  {},
  [[]],
  [null],
  { length: 1 },
  { __proto__: null },
  UUID,
  '../../etc/passwd',
  '<script>',
  '{"$ne":1}',
  'prt_a',
];
const HEADERS: readonly (readonly [string, string])[] = [
  ['Content-Type', 'text/plain'],
  ['Content-Type', 'application/json; charset=utf-16'],
  ['Content-Type', 'application/json; charset=odd'],
  ['Content-Type', 'multipart/form-data'],
  ['Content-Encoding', 'gzip'],
  ['Content-Encoding', 'odd'],
  ['Range', 'bytes=9999999999999999-'],
  ['Range', 'bytes=-0'],
  ['Accept', 'text/html'],
  ['If-None-Match', '*'],
  ['Expect', '100-continue'],
  ['X-Forwarded-Host', 'elsewhere'],
];

/** Addresses of the interface, with `:` for what stands for an id. */
const ROUTES = [
  '/api/health',
  '/api/projects',
  '/api/projects/:project',
  '/api/projects/:project/shots',
  '/api/projects/:project/duplicate',
  '/api/projects/:project/restore',
  '/api/shots/:shot',
  '/api/shots/:shot/changes',
  '/api/shots/:shot/changes?since=:',
  '/api/shots/:shot/picture',
  '/api/shots/:shot/duplicate',
  '/api/shots/:shot/renders',
  '/api/renders',
  '/api/renders/:',
  '/api/renders/:/film',
  '/api/renders/:/frames/:',
  '/api/renders/:/cancel',
  '/api/renders/:/pause',
  '/api/renders/:/skip',
  '/api/renders/:/anew',
  '/api/renders/:/turn',
  '/api/renders/:/story',
  '/api/projects/:/presets',
  '/api/projects/:/poses',
  '/api/assets',
  '/api/assets/:',
  '/api/:',
  '/:',
  '/',
];

/**
 * One odd request after another, made from the interface's own addresses and bodies with something wrong in them.
 * @param ids ids that exist, so that not all of them end at "not there"
 */
export function* malformedRequests(
  seed: number,
  ids: { readonly project: string; readonly shot: string },
): Generator<OddRequest> {
  const share = seeded(seed);
  const random = (below: number): number => Math.floor(share() * below);
  const oneOf = <T>(list: readonly T[]): T => list[random(list.length)]!;
  const change = (): Record<string, unknown> => ({
    base: 0,
    changes: [
      {
        id: `00000000-0000-4000-8000-${String(random(1e9)).padStart(12, '0')}`,
        label: 'odd',
        patches: [{ path: ['setup', 'first'], before: 1, after: 2 }],
      },
    ],
  });
  const bodies = [
    change,
    () => ({ name: 'Odd' }),
    () => ({ name: 'Odd', document: { format: 'whirl-shot', version: 3, setup: {}, parts: {} } }),
    () => ({ first: 1, last: 2, width: 64, height: 64, format: 'png', alpha: false }),
  ];
  /** The body with an odd value somewhere in it. */
  const spoilt = (body: Record<string, unknown>): unknown => {
    let at: Record<string, unknown> = body;
    for (;;) {
      const names = Object.keys(at);
      const name = names.length > 0 ? oneOf(names) : 'odd';
      const inner = at[name];
      if (typeof inner === 'object' && inner !== null && random(3) > 0) at = inner as Record<string, unknown>;
      else {
        at[name] = oneOf(ODD_VALUES);
        return body;
      }
    }
  };
  const text = (): string => {
    const whole = JSON.stringify(random(5) > 0 ? spoilt(oneOf(bodies)()) : oneOf(ODD_VALUES));
    switch (random(12)) {
      case 0:
        return whole.slice(0, random(whole.length + 1));
      case 1:
        return '['.repeat(100_000);
      case 2:
        return `${'['.repeat(100_000)}${']'.repeat(100_000)}`;
      case 3:
        return whole.replace(/"(\w+)":/, '"__proto__":');
      case 4:
        return `${whole}${whole}`;
      default:
        return whole;
    }
  };
  for (;;) {
    let path = oneOf(ROUTES);
    while (/:(project|shot)?/.test(path))
      path = path.replace(/:(project|shot)?/, (_all, kind?: 'project' | 'shot') =>
        kind && random(3) > 0
          ? ids[kind]
          : encodeURI(oneOf(ODD_SEGMENTS)).replaceAll('%25', '%').replaceAll(':', '%3a'),
      );
    const method = oneOf(METHODS);
    const headers: Record<string, string> = { 'Content-Type': 'application/json' };
    if (random(3) === 0) {
      const [name, value] = oneOf(HEADERS);
      headers[name] = value;
    }
    // A deletion of what stands would leave nothing to be odd with.
    if (method === 'DELETE' && Object.values(ids).some((id) => path.includes(id))) continue;
    yield { method, path, headers, body: method === 'GET' || method === 'HEAD' ? null : text() };
  }
}
