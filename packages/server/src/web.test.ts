import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pino } from 'pino';
import request from 'supertest';
import { createApp, Studies, type Database } from './index';

const webFolder = mkdtempSync(join(tmpdir(), 'yoke-web-'));
mkdirSync(join(webFolder, 'assets'));
writeFileSync(join(webFolder, 'index.html'), '<title>Yoke</title>');
writeFileSync(join(webFolder, 'assets', 'a-1.js'), 'export {};');
afterAll(() => rmSync(webFolder, { recursive: true }));

/** No route of these tests asks the database for anything but this. */
const away = { sequelize: { authenticate: () => Promise.reject(new Error('the database is away')) } };
const database = away as unknown as Database;
const app = createApp({
  database,
  studies: new Studies(database),
  log: pino({ level: 'silent' }),
  demoFolder: webFolder,
  webFolder,
  hosts: ['127.0.0.1'],
});

test('every address of the application leads to its page, which is never cached', async () => {
  for (const path of ['/', '/machine/1/move']) {
    const { text, headers } = await request(app).get(path).expect(200);
    expect(text).toContain('Yoke');
    expect(headers['cache-control']).toBe('no-cache');
  }
});

test('built files are cached for long, missing ones are missing', async () => {
  const { headers } = await request(app).get('/assets/a-1.js').expect(200);
  expect(headers['cache-control']).toContain('immutable');
  await request(app).get('/assets/old-2.js').expect(404);
});

test('what is text goes out compressed to those who take it so, and whole to others', async () => {
  const text = 'export const words = [' + '"one and the same", '.repeat(2000) + '];';
  writeFileSync(join(webFolder, 'assets', 'long-3.js'), text);
  const packed = await request(app).get('/assets/long-3.js').set('Accept-Encoding', 'gzip').expect(200);
  expect(packed.headers['content-encoding']).toBe('gzip');
  expect(packed.headers['vary']).toContain('Accept-Encoding');
  expect(packed.text).toBe(text);
  const plain = await request(app).get('/assets/long-3.js').set('Accept-Encoding', 'identity').expect(200);
  expect(plain.headers['content-encoding']).toBeUndefined();
  expect(plain.text).toBe(text);
});

test('pages may load nothing from elsewhere', async () => {
  const { headers } = await request(app).get('/');
  expect(headers['content-security-policy']).toContain("default-src 'self'");
  expect(headers['content-security-policy']).not.toContain('upgrade-insecure-requests');
  expect(headers['x-powered-by']).toBeUndefined();
});

test('the thread that reads files of geometry may make functions of text, and reach nothing else; no other may', async () => {
  writeFileSync(join(webFolder, 'assets', 'geometry-file-4.js'), 'export {};');
  const policyOf = async (path: string) =>
    (await request(app).get(path).expect(200)).headers['content-security-policy'];
  const reader = await policyOf('/assets/geometry-file-4.js');
  expect(reader).toContain("default-src 'none'");
  expect(reader).toContain("'unsafe-eval'");
  for (const path of ['/', '/assets/a-1.js']) expect(await policyOf(path)).not.toMatch(/'unsafe-eval'/);
});

test('a failing database is a server error that tells no secrets', async () => {
  const { body } = await request(app).get('/api/health').expect(500);
  expect(body).toMatchObject({ status: 500, title: 'Server error' });
  expect(JSON.stringify(body)).not.toContain('the database is away');
});
