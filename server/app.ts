import { randomUUID } from 'node:crypto';
import { existsSync } from 'node:fs';
import { setTimeout } from 'node:timers/promises';
import { join } from 'node:path';
import express, { type Express, type RequestHandler } from 'express';
import helmet from 'helmet';
import type { Logger } from 'pino';
import { plainBodies } from './body';
import type { Desk } from './desk/desk';
import { answerProblems, databaseAway, Problem, unknownRoute } from './problem';
import type { FileStore } from './files';
import type { News } from './news';
import { assetRoutes } from './routes/assets';
import { keptRoutes } from './routes/kept-things';
import { projectRoutes } from './routes/projects';
import { reelRoutes } from './routes/reels';
import { renderRoutes } from './routes/renders';
import { shotRoutes } from './routes/shots';
import { soundRoutes } from './routes/sounds';
import { upkeepRoutes } from './routes/upkeep';
import type { Database } from './store/database';

/** PostgreSQL that has not answered so simple a question by then is as good as away. */
const HEALTH_MS = 3000;

export interface AppOptions {
  readonly db: Database;
  /** For what may take long. */
  readonly patientDb: Database;
  readonly files: FileStore;
  readonly news: News;
  readonly desk: Desk;
  readonly log: Logger;
  /** Folder with the built page; without it the server answers the API only. */
  readonly web: string | null;
  /** Names by which the server may be called; a request for any other host is refused. */
  readonly hosts: readonly string[];
}

/** Refuses requests that another web site, open in the same browser, may have caused. */
function sameSite(hosts: readonly string[]): RequestHandler {
  return (request, _response, next) => {
    const host = request.headers.host ?? '';
    const name = host.replace(/:\d+$/, '');
    if (!hosts.includes(name)) throw new Problem(403, 'wrong-host', `This server is not called "${name}".`);
    const { origin } = request.headers;
    if (origin !== undefined && origin !== `http://${host}` && origin !== `https://${host}`)
      throw new Problem(403, 'wrong-origin', `Pages of ${origin} may not use this server.`);
    next();
  };
}

export function createApp({ db, patientDb, files, news, desk, log, web, hosts }: AppOptions): Express {
  const app = express();
  app.disable('x-powered-by');
  app.use((request, response, next) => {
    response.locals.requestId = randomUUID();
    response.set('X-Request-Id', response.locals.requestId as string);
    const start = process.hrtime.bigint();
    response.on('finish', () => {
      const ms = Number(process.hrtime.bigint() - start) / 1e6;
      log.debug(
        {
          request: response.locals.requestId as string,
          method: request.method,
          path: request.path,
          status: response.statusCode,
          ms,
        },
        'request',
      );
    });
    next();
  });
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          'default-src': ["'self'"],
          'script-src': ["'self'"],
          'style-src': ["'self'", "'unsafe-inline'"],
          'img-src': ["'self'", 'blob:', 'data:'],
          'media-src': ["'self'", 'blob:'],
          'worker-src': ["'self'"],
          'connect-src': ["'self'"],
          'font-src': ["'self'"],
          'object-src': ["'none'"],
          'upgrade-insecure-requests': null,
        },
      },
      strictTransportSecurity: false,
      crossOriginEmbedderPolicy: false,
    }),
  );
  app.use(sameSite(hosts));

  const api = express.Router();
  api.use(plainBodies);
  // No other site may ask, so there is nothing to agree on beforehand.
  api.options('/{*path}', unknownRoute);
  api.get('/health', async (_request, response) => {
    const late = setTimeout(HEALTH_MS, null, { ref: false }).then(() => {
      throw databaseAway();
    });
    await Promise.race([db.query('select 1'), late]);
    response.json({ status: 'ok' });
  });
  api.use(
    assetRoutes(db, files, desk),
    projectRoutes(db, desk),
    keptRoutes(db),
    reelRoutes(db, desk),
    shotRoutes(db, news, desk),
    soundRoutes(db),
    renderRoutes(db, files, news, desk),
    upkeepRoutes(patientDb, files),
    unknownRoute,
  );
  app.use('/api', api);

  if (web && existsSync(web)) {
    app.use(
      express.static(web, {
        index: false,
        setHeaders: (response, path) => {
          response.setHeader(
            'Cache-Control',
            path.includes('/assets/') ? 'public, max-age=31536000, immutable' : 'no-cache',
          );
        },
      }),
    );
    app.get('/{*path}', (_request, response) => {
      response.set('Cache-Control', 'no-cache').sendFile(join(web, 'index.html'));
    });
  }
  app.use(unknownRoute);
  app.use(answerProblems(log));
  return app;
}
