import type { AddressInfo } from 'node:net';
import { join } from 'node:path';
import { pino } from 'pino';
import { newMachine } from '@yoke/core';
import { closeReaders, createApp, openDatabase, Studies } from '../packages/server/src/index';
import { hostileImports } from './attack/imports';
import { tryMutants } from './attack/mutants';
import { sendBadRequests } from './attack/requests';

// The attacks of `npm run attack`, in a short form that is the same every time. A seed that ever went wrong is added.

test('500 mutants of the demonstration machines: refused, asked about, named or run, and nothing else', async () => {
  const { outcomes, wrong } = await tryMutants(1, 500);
  expect(wrong).toEqual([]);
  expect(outcomes.ran).toBeGreaterThan(50);
  expect(outcomes.refused).toBeGreaterThan(100);
});

test('1,000 hostile files: read, or refused in words', () => {
  const { refused, read, wrong } = hostileImports(1, 1000);
  expect(wrong).toEqual([]);
  expect([refused > 100, read > 100]).toEqual([true, true]);
});

test('2,000 bad requests over every route: none is answered by a 5xx, or not at all', async () => {
  const { YOKE_DB_PORT, YOKE_DB_NAME, YOKE_DB_USER, YOKE_DB_PASSWORD } = process.env;
  const database = await openDatabase({
    host: '127.0.0.1',
    port: Number(YOKE_DB_PORT),
    database: YOKE_DB_NAME!,
    user: YOKE_DB_USER!,
    password: YOKE_DB_PASSWORD!,
  });
  const studies = new Studies(database);
  const log = pino({ level: 'silent' });
  const app = createApp({
    database,
    studies,
    log,
    demoFolder: join(__dirname, '../demo'),
    hosts: ['127.0.0.1'],
    token: 'token',
  });
  const server = app.listen(0, '127.0.0.1');
  await new Promise((resolve) => server.once('listening', resolve));
  const { port } = server.address() as AddressInfo;
  const headers = { 'Content-Type': 'application/json', Authorization: 'Bearer token' };
  const made = await fetch(`http://127.0.0.1:${port}/api/machines`, {
    method: 'POST',
    headers,
    body: JSON.stringify(newMachine('Target')),
  });
  const { id } = (await made.json()) as { id: string };
  const { statuses, wrong } = await sendBadRequests({ host: '127.0.0.1', port, token: 'token', ids: [id] }, 1, 2000);
  expect(wrong).toEqual([]);
  // They went everywhere: some were let through, some refused for each of many reasons.
  for (const status of [200, 400, 403, 404, 415, 422, 428])
    expect([status, (statuses[status] ?? 0) > 0]).toEqual([status, true]);
  await new Promise((resolve) => server.close(resolve));
  await Promise.all([studies.close(), closeReaders()]);
  await database.sequelize.close();
});
