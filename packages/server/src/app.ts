import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import express, { type Express, type RequestHandler } from 'express';
import helmet from 'helmet';
import type { Logger } from 'pino';
import type { Database } from './database';
import { machineRoutes } from './machines';
import { motorRoutes } from './motors';
import { openApi } from './openapi';
import { HttpProblem, problemHandler } from './problem';
import { runRoutes } from './runs';
import { studyRoutes } from './studies';

/** What the application needs from its surroundings. */
export interface AppSettings {
  database: Database;
  log: Logger;
  /** Folder of the demonstration files. */
  demoFolder: string;
  /** Folder of the built web application; left out where only the API is served. */
  webFolder?: string | undefined;
  /** Host names under which requests are taken; all where left out. */
  hosts?: readonly string[] | undefined;
}

/** Refuses requests that name a foreign host, so that a web page elsewhere cannot reach a server on loopback. */
function knownHostsOnly(hosts: readonly string[]): RequestHandler {
  return (request, _response, next) => {
    const host = (request.headers.host ?? '').replace(/:\d+$/, '');
    if (hosts.includes(host)) return next();
    next(new HttpProblem(403, 'Unknown host', `This server does not answer under the name “${host}”.`));
  };
}

/** Builds the web server: the API under /api, the web application beside it. */
export function createApp({ database, log, demoFolder, webFolder, hosts }: AppSettings): Express {
  const app = express();
  app.disable('x-powered-by');
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
  if (hosts) app.use(knownHostsOnly(hosts));
  app.use('/api', (_request, response, next) => {
    response.set('Cache-Control', 'no-store');
    next();
  });
  app.use(
    '/api/motors',
    motorRoutes(database, () => readFileSync(join(demoFolder, 'motors.csv'), 'utf8')),
  );
  app.use('/api/machines/:id/runs', express.json({ limit: '8mb' }), runRoutes(database));
  app.use('/api/studies', express.json({ limit: '8mb' }), studyRoutes());
  app.use('/api/machines', express.json({ limit: '8mb' }), machineRoutes(database));
  app.get('/api/health', async (_request, response) => {
    await database.sequelize.authenticate();
    response.json({ ok: true });
  });
  app.get('/api/openapi.json', (_request, response) => {
    response.json(openApi());
  });
  app.use('/api', (request) => {
    throw new HttpProblem(404, 'Not found', `There is nothing at ${request.originalUrl}.`);
  });
  if (webFolder && existsSync(webFolder)) serveWeb(app, webFolder);
  app.use(problemHandler(log));
  return app;
}

function serveWeb(app: Express, folder: string): void {
  app.use('/assets', express.static(join(folder, 'assets'), { immutable: true, maxAge: '1y', fallthrough: false }));
  app.use(express.static(folder, { index: false }));
  app.get('/{*path}', (_request, response) => {
    response.set('Cache-Control', 'no-cache').sendFile(join(folder, 'index.html'));
  });
}
