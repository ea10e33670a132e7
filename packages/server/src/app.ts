import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import compression from 'compression';
import express, { type Express, type RequestHandler } from 'express';
import helmet from 'helmet';
import type { Logger } from 'pino';
import type { Database } from './database';
import { geometryRoutes } from './geometry';
import { knownHostsOnly, ownOriginOnly } from './guard';
import { machineRoutes } from './machines';
import { motorRoutes } from './motors';
import { openApi } from './openapi';
import { HttpProblem, problemHandler } from './problem';
import { resultRoutes, type RunResults } from './results';
import { runRoutes } from './runs';
import { studyRoutes, type Studies } from './studies';

/** What the application needs from its surroundings. */
export interface AppSettings {
  database: Database;
  studies: Studies;
  /** Results of kept runs; left out where none are kept. */
  results?: RunResults | undefined;
  log: Logger;
  /** Folder of the demonstration files. */
  demoFolder: string;
  /** Folder of the built web application; left out where only the API is served. */
  webFolder?: string | undefined;
  /** Host names under which requests are taken. */
  hosts: readonly string[];
  /** What a command-line tool shows to change something; without it only the application's page may. */
  token?: string | undefined;
  /** Whether every request is logged. */
  logRequests?: boolean | undefined;
}

/** Logs every request with its answer, its time (ms) and sizes (bytes); never what it was about. */
function requestLog(log: Logger): RequestHandler {
  return (request, response, next) => {
    const begun = performance.now();
    const before = request.socket.bytesWritten;
    response.once('close', () =>
      log.info(
        {
          method: request.method,
          path: request.originalUrl.slice(0, 200),
          status: response.statusCode,
          ms: Math.round(performance.now() - begun),
          in: Number(request.headers['content-length'] ?? 0),
          out: request.socket.bytesWritten - before,
        },
        'request',
      ),
    );
    next();
  };
}

/** Builds the web server: the API under /api, the web application beside it. */
export function createApp(settings: AppSettings): Express {
  const { database, studies, results, log, demoFolder, webFolder, hosts, token, logRequests } = settings;
  const app = express();
  app.disable('x-powered-by');
  app.set('query parser', 'simple');
  if (logRequests) app.use(requestLog(log));
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          upgradeInsecureRequests: null,
          workerSrc: ["'self'", 'blob:'],
          // The physics library is WebAssembly, compiled in the worker.
          scriptSrc: ["'self'", "'wasm-unsafe-eval'"],
        },
      },
      strictTransportSecurity: false,
    }),
  );
  app.use(compression());
  app.use(knownHostsOnly(hosts));
  app.use('/api', ownOriginOnly(token), (_request, response, next) => {
    response.set('Cache-Control', 'no-store');
    next();
  });
  app.use(
    '/api/motors',
    motorRoutes(database, () => readFileSync(join(demoFolder, 'motors.csv'), 'utf8')),
  );
  app.use('/api/machines/:id/runs', runRoutes(database, results));
  if (results) app.use('/api/results', resultRoutes(results));
  app.use('/api/geometry', geometryRoutes(database));
  app.use('/api/studies', studyRoutes(studies));
  app.use('/api/machines', machineRoutes(database));
  app.get('/api/health', async (_request, response) => {
    await database.sequelize.authenticate();
    response.json({ ok: true });
  });
  app.get('/api/openapi.json', (_request, response) => {
    response.json(openApi());
  });
  app.use('/api', (request) => {
    throw new HttpProblem(404, 'Not found', `There is nothing at ${request.originalUrl.slice(0, 200)}.`);
  });
  if (webFolder && existsSync(webFolder)) serveWeb(app, webFolder);
  app.use(problemHandler(log));
  return app;
}

/** The thread that reads files of geometry. */
const READER = /^\/geometry-file-[\w-]+\.js$/;

function serveWeb(app: Express, folder: string): void {
  // What reads STEP files makes functions from text: that thread alone may, and it reaches nothing but this server.
  app.use('/assets', (request, response, next) => {
    if (READER.test(request.path))
      response.set(
        'Content-Security-Policy',
        "default-src 'none'; script-src 'self' 'unsafe-eval'; connect-src 'self'",
      );
    next();
  });
  app.use('/assets', express.static(join(folder, 'assets'), { immutable: true, maxAge: '1y', fallthrough: false }));
  app.use(express.static(folder, { index: false }));
  app.get('/{*path}', (_request, response) => {
    response.set('Cache-Control', 'no-cache').sendFile(join(folder, 'index.html'));
  });
}
