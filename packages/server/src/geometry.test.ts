import { createHash } from 'node:crypto';
import { pino } from 'pino';
import request, { type Response } from 'supertest';
import { newMachine } from '@yoke/core';
import { packGeometry, unpackGeometry } from '@yoke/core/geometry-file';
import { ownMesh } from '@yoke/core/solid';
import { purgeGeometry } from './geometry';
import { closeReaders, createApp, Studies, type Database } from './index';
import { TOKEN, testDatabase } from '../test/database';

let database: Database;
let studies: Studies;
let app: ReturnType<typeof createApp>;

beforeAll(async () => {
  database = await testDatabase();
  studies = new Studies(database);
  app = createApp({ database, studies, log: pino({ level: 'silent' }), demoFolder: '', hosts: ['127.0.0.1'], token: TOKEN }); // prettier-ignore
});
afterAll(async () => {
  await Promise.all([studies?.close(), closeReaders()]);
  await database?.sequelize.close();
});

const GLB = 'model/gltf-binary';
const tool = () => request.agent(app).set('Authorization', `Bearer ${TOKEN}`);
const send = (content: Uint8Array, type = GLB) =>
  tool().post('/api/geometry').set('Content-Type', type).send(Buffer.from(content));
const asBytes = (response: Response, done: (error: Error | null, body: Buffer) => void) => {
  const parts: Buffer[] = [];
  response.on('data', (part: Buffer) => parts.push(part));
  response.on('end', () => done(null, Buffer.concat(parts)));
};
/** Another ball for each fineness. */
const ball = (chord: number) => packGeometry([{ key: 'Ball', mesh: ownMesh({ kind: 'ball', radius: 1 }, chord) }]);

test('geometry is kept once, by its content, and comes back to the last byte, in several pieces if it must', async () => {
  const content = await ball(2e-5);
  expect(content.length).toBeGreaterThan(4_000_000);
  const { body } = await send(content).expect(201);
  expect(body).toEqual({ hash: createHash('sha256').update(content).digest('hex'), bytes: content.length });
  await send(content).expect(200);
  expect(await database.geometries.count({ where: { hash: body.hash } })).toBe(1);
  const back = await request(app).get(`/api/geometry/${body.hash}`).buffer(true).parse(asBytes).expect(200);
  expect(back.headers['cache-control']).toMatch(/immutable/);
  expect(Buffer.compare(back.body, Buffer.from(content))).toBe(0);
  expect([...(await unpackGeometry(back.body)).keys()]).toEqual(['Ball']);
});

test('what is no geometry, cut short, foreign or not there is refused with what to do', async () => {
  const content = await ball(1e-2);
  expect((await send(new TextEncoder().encode('solid of text')).expect(422)).body.detail).toMatch(/GLB/);
  expect((await send(content.subarray(0, -4)).expect(422)).body.detail).toMatch(/send it again/);
  await send(content, 'application/json').expect(415);
  await request(app).post('/api/geometry').set('Content-Type', GLB).send(Buffer.from(content)).expect(403);
  expect((await request(app).get(`/api/geometry/${'0'.repeat(64)}`).expect(404)).body.detail).toMatch(/import its file anew/); // prettier-ignore
  await request(app).get('/api/geometry/..%2f..%2fetc').expect(400);
});

test('what no machine has named for a month goes; what one names stays', async () => {
  const [used, idle, fresh] = await Promise.all([ball(3e-2), ball(5e-3), ball(2e-3)]);
  const hashes: string[] = [];
  for (const content of [used, idle, fresh]) hashes.push((await send(content).expect(201)).body.hash);
  const machine = newMachine('With geometry');
  machine.mechanism.shapes = { files: [{ id: 'file1', name: 'a.stl', hash: hashes[0]! }], ground: [], unassigned: [] };
  await tool().post('/api/machines').send(machine).expect(201);
  const longAgo = new Date(Date.now() - 40 * 86_400_000);
  await database.geometries.update({ usedAt: longAgo }, { where: { hash: hashes.slice(0, 2) } });
  await purgeGeometry(database);
  await request(app).get(`/api/geometry/${hashes[0]}`).expect(200);
  await request(app).get(`/api/geometry/${hashes[1]}`).expect(404);
  await request(app).get(`/api/geometry/${hashes[2]}`).expect(200);
  expect(await database.geometryParts.count({ where: { hash: hashes[1]! } })).toBe(0);
});
