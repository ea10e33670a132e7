import { createHash } from 'node:crypto';
import { join } from 'node:path';
import { pino } from 'pino';
import request from 'supertest';
import { keptRunSchema, machineSummarySchema, newMachine, refusalSchema, studyStateSchema } from '@yoke/core';
import { z } from 'zod';
import { closeReaders, createApp, loadDemoOnce, Studies, type Database } from './index';
import { TOKEN, testDatabase } from '../test/database';

const demoFolder = join(__dirname, '../../../demo');
let database: Database;
let studies: Studies;
let app: ReturnType<typeof createApp>;

beforeAll(async () => {
  database = await testDatabase();
  studies = new Studies(database);
  app = createApp({
    database,
    studies,
    log: pino({ level: 'silent' }),
    demoFolder,
    hosts: ['127.0.0.1'],
    token: TOKEN,
  });
});

afterAll(async () => {
  await Promise.all([studies?.close(), closeReaders()]);
  await database?.sequelize.close();
});

/** Requests as a command-line tool makes them, with the token. */
const tool = () => request.agent(app).set('Authorization', `Bearer ${TOKEN}`);

const create = async (name: string) => {
  const response = await tool().post('/api/machines').send(newMachine(name)).expect(201);
  return response.body.id as string;
};

test('the demo is loaded once, and stays deleted when deleted', async () => {
  await loadDemoOnce(database, demoFolder);
  const { body } = await request(app).get('/api/machines?limit=500').expect(200);
  const names = body.map(({ name }: { name: string }) => name);
  for (const name of ['Tray belt', 'Dibber', 'Potting table']) expect(names).toContain(name);
  // The gantry's shapes came along, whole.
  const gantry = body.find(({ name }: { name: string }) => name === 'Plug gantry');
  const { mechanism } = (await request(app).get(`/api/machines/${gantry.id}`).expect(200)).body;
  const { body: shapes } = await request(app)
    .get(`/api/geometry/${mechanism.shapes.files[0].hash}`)
    .responseType('blob')
    .expect(200);
  expect(createHash('sha256').update(shapes).digest('hex')).toBe(mechanism.shapes.files[0].hash);
  const belt = body.find(({ name }: { name: string }) => name === 'Tray belt');
  await tool().delete(`/api/machines/${belt.id}`).set('If-Match', '"1"').expect(204);
  await loadDemoOnce(database, demoFolder);
  const after = await request(app).get('/api/machines?limit=500');
  expect(after.body.map(({ name }: { name: string }) => name)).not.toContain('Tray belt');
  await tool().post(`/api/machines/${belt.id}/restore`).expect(200);
});

test('a document is given back as it was saved', async () => {
  const id = await create('Kept');
  const { body, headers } = await request(app).get(`/api/machines/${id}`).expect(200);
  expect(body).toEqual(newMachine('Kept'));
  expect(headers.etag).toBe('"1"');
});

test('saving needs the revision that was seen, and the second of two editors is refused', async () => {
  const id = await create('Shared');
  const path = `/api/machines/${id}`;
  await tool().put(path).send(newMachine('No condition')).expect(428);
  const first = await tool().put(path).set('If-Match', '"1"').send(newMachine('First')).expect(200);
  expect(first.headers.etag).toBe('"2"');
  const second = await tool().put(path).set('If-Match', '"1"').send(newMachine('Second')).expect(412);
  expect(second.type).toBe('application/problem+json');
  expect(second.body).toMatchObject({ status: 412, revision: 2 });
  expect((await request(app).get(path)).body.name).toBe('First');
});

test('of many editors saving at once exactly one succeeds', async () => {
  const path = `/api/machines/${await create('Race')}`;
  const saves = Array.from({ length: 8 }, (_, i) =>
    tool()
      .put(path)
      .set('If-Match', '"1"')
      .send(newMachine(`Editor ${i}`)),
  );
  const codes = (await Promise.all(saves)).map(({ status }) => status).sort();
  expect(codes).toEqual([200, 412, 412, 412, 412, 412, 412, 412]);
});

test('an invalid document is refused with the path of the culprit', async () => {
  const { body } = await tool()
    .post('/api/machines')
    .send({ ...newMachine('Bad'), units: 'cubits' })
    .expect(422);
  expect(body.problems).toEqual([{ path: 'units', message: 'must be “metric” or “inch”, not “cubits”' }]);
});

test('delete, restore and duplicate', async () => {
  const id = await create('Original');
  await tool().delete(`/api/machines/${id}`).set('If-Match', '"1"').expect(204);
  await request(app).get(`/api/machines/${id}`).expect(404);
  await tool().put(`/api/machines/${id}`).set('If-Match', '"1"').send(newMachine('Ghost')).expect(404);
  await tool().post(`/api/machines/${id}/restore`).expect(200);
  const { body } = await tool().post(`/api/machines/${id}/duplicate`).expect(201);
  expect(body.name).toBe('Original (copy)');
  expect(body.id).not.toBe(id);
});

test('the catalogue can be extended, replaced and brought back', async () => {
  const csv = (await request(app).get('/api/motors/csv').expect(200)).text;
  const [header, first] = csv.split('\n');
  const own = `${header}\n${first!.replace('Alder 0.32', 'Bench 1')}\n`;
  const post = (mode: string, body: string) =>
    tool().post(`/api/motors/import?mode=${mode}`).type('text/csv').send(body);
  expect((await post('extend', own).expect(200)).body).toHaveLength(31);
  expect((await post('extend', own).expect(200)).body).toHaveLength(31);
  expect((await post('replace', own).expect(200)).body).toHaveLength(1);
  const bad = await post('replace', own.replace('Bench 1', '')).expect(422);
  expect(bad.body.detail).toContain('Row 2, column “type”');
  expect((await request(app).get('/api/motors')).body).toHaveLength(1);
  expect((await tool().post('/api/motors/reset').expect(200)).body).toHaveLength(30);
});

test('errors are problem details', async () => {
  const missing = await request(app).get('/api/nothing').expect(404);
  expect(missing.type).toBe('application/problem+json');
  await tool().post('/api/machines').type('json').send('{"half').expect(400);
  await tool()
    .post('/api/machines')
    .send({ notes: 'x'.repeat(9_000_000) })
    .expect(413);
  await request(app).get('/api/machines').set('Host', 'elsewhere.example').expect(403);
});

test('the description names every route it serves', async () => {
  const { body } = await request(app).get('/api/openapi.json').expect(200);
  expect(body.openapi).toBe('3.1.0');
  expect(body.components.schemas.Machine.properties.name).toBeDefined();
  expect(Object.keys(body.paths)).toContain('/api/machines/{id}/restore');
  await request(app).get('/api/health').expect(200, { ok: true });
});

test('answers are what the description says of them', async () => {
  const wrong = (schema: z.ZodType, body: unknown) => schema.safeParse(body).error?.issues ?? [];
  const made = await tool().post('/api/machines').send(newMachine('Described')).expect(201);
  const path = `/api/machines/${made.body.id}`;
  const run = { name: 'First', document: newMachine('Described') };
  const wishes = { runs: 1, seed: 1, sensorDelay: 0, friction: 0, torques: false };
  const study = await tool().post('/api/studies').send({ document: run.document, wishes }).expect(202);
  await tool().post(`${path}/runs`).send(run).expect(201);
  const read = async (of: string) => (await request(app).get(of)).body as unknown;
  expect([
    wrong(machineSummarySchema, made.body),
    wrong(z.array(machineSummarySchema).min(1), await read('/api/machines')),
    wrong(z.array(keptRunSchema).length(1), await read(`${path}/runs`)),
    wrong(studyStateSchema, study.body),
    wrong(refusalSchema, await read('/api/machines/none')),
  ]).toEqual([[], [], [], [], []]);
  await tool().delete(path).set('If-Match', '"1"').expect(204);
  const deleted = await read('/api/machines?deleted=true');
  expect(wrong(z.array(machineSummarySchema.required()).min(1), deleted)).toEqual([]);
});

test('a run is kept with the document and the revision it came from, and forgotten', async () => {
  const id = await create('With runs');
  const path = `/api/machines/${id}/runs`;
  const document = { ...newMachine('With runs'), notes: 'as it was' };
  const made = await tool().post(path).send({ name: 'First', document }).expect(201);
  expect(made.body).toMatchObject({ name: 'First', revision: 1, document: { notes: 'as it was' } });
  await tool().put(`/api/machines/${id}`).set('If-Match', '"1"').send(newMachine('Changed')).expect(200);
  const { body } = await request(app).get(path).expect(200);
  expect(body).toHaveLength(1);
  const kept = await request(app).get(`${path}/${made.body.id}`).expect(200);
  expect(kept.body.document.notes).toBe('as it was');
  await tool().post(path).send({ name: ' ', document }).expect(422);
  const wrong = await tool()
    .post(path)
    .send({ name: 'Wrong', document: { format: 'other' } })
    .expect(422);
  expect(wrong.body.detail).toContain('format');
  await tool().delete(`${path}/${made.body.id}`).set('If-Match', '*').expect(204);
  await tool().delete(`${path}/${made.body.id}`).set('If-Match', '*').expect(404);
  await request(app)
    .get(`/api/machines/${'0'.repeat(8)}-0000-4000-8000-${'0'.repeat(12)}/runs`)
    .expect(404);
});
