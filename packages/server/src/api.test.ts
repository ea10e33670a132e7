import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { pino } from 'pino';
import request from 'supertest';
import { newMachine } from '@yoke/core';
import { closeStudies } from './studies';
import { createApp, loadDemoOnce, openDatabase, type Database } from './index';

const demoFolder = join(__dirname, '../../../demo');
let database: Database;
let app: ReturnType<typeof createApp>;

beforeAll(async () => {
  const { YOKE_DB_PORT, YOKE_DB_NAME, YOKE_DB_USER, YOKE_DB_PASSWORD } = process.env;
  if (!YOKE_DB_PORT || !YOKE_DB_NAME || !YOKE_DB_USER || !YOKE_DB_PASSWORD)
    throw new Error('These tests need a database: run “npm test -- unit”, which starts one.');
  database = await openDatabase({
    host: '127.0.0.1',
    port: Number(YOKE_DB_PORT),
    database: YOKE_DB_NAME,
    user: YOKE_DB_USER,
    password: YOKE_DB_PASSWORD,
  });
  app = createApp({ database, log: pino({ level: 'silent' }), demoFolder, hosts: ['127.0.0.1'] });
});

afterAll(() => database?.sequelize.close());

const create = async (name: string) => {
  const response = await request(app).post('/api/machines').send(newMachine(name)).expect(201);
  return response.body.id as string;
};

test('the demo is loaded once, and stays deleted when deleted', async () => {
  await loadDemoOnce(database, demoFolder);
  const { body } = await request(app).get('/api/machines').expect(200);
  const names = body.map(({ name }: { name: string }) => name);
  for (const name of ['Tray belt', 'Dibber', 'Potting table']) expect(names).toContain(name);
  const belt = body.find(({ name }: { name: string }) => name === 'Tray belt');
  await request(app).delete(`/api/machines/${belt.id}`).expect(204);
  await loadDemoOnce(database, demoFolder);
  const after = await request(app).get('/api/machines');
  expect(after.body.map(({ name }: { name: string }) => name)).not.toContain('Tray belt');
  await request(app).post(`/api/machines/${belt.id}/restore`).expect(200);
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
  await request(app).put(path).send(newMachine('No condition')).expect(428);
  const first = await request(app).put(path).set('If-Match', '"1"').send(newMachine('First')).expect(200);
  expect(first.headers.etag).toBe('"2"');
  const second = await request(app).put(path).set('If-Match', '"1"').send(newMachine('Second')).expect(412);
  expect(second.type).toBe('application/problem+json');
  expect(second.body).toMatchObject({ status: 412, revision: 2 });
  expect((await request(app).get(path)).body.name).toBe('First');
});

test('of many editors saving at once exactly one succeeds', async () => {
  const path = `/api/machines/${await create('Race')}`;
  const saves = Array.from({ length: 8 }, (_, i) =>
    request(app)
      .put(path)
      .set('If-Match', '"1"')
      .send(newMachine(`Editor ${i}`)),
  );
  const codes = (await Promise.all(saves)).map(({ status }) => status).sort();
  expect(codes).toEqual([200, 412, 412, 412, 412, 412, 412, 412]);
});

test('an invalid document is refused with the path of the culprit', async () => {
  const { body } = await request(app)
    .post('/api/machines')
    .send({ ...newMachine('Bad'), units: 'cubits' })
    .expect(422);
  expect(body.problems).toEqual([{ path: 'units', message: 'must be “metric” or “inch”, not “cubits”' }]);
});

test('delete, restore and duplicate', async () => {
  const id = await create('Original');
  await request(app).delete(`/api/machines/${id}`).expect(204);
  await request(app).get(`/api/machines/${id}`).expect(404);
  await request(app).put(`/api/machines/${id}`).set('If-Match', '"1"').send(newMachine('Ghost')).expect(404);
  await request(app).post(`/api/machines/${id}/restore`).expect(200);
  const { body } = await request(app).post(`/api/machines/${id}/duplicate`).expect(201);
  expect(body.name).toBe('Original (copy)');
  expect(body.id).not.toBe(id);
});

test('the catalogue can be extended, replaced and brought back', async () => {
  const csv = (await request(app).get('/api/motors/csv').expect(200)).text;
  const [header, first] = csv.split('\n');
  const own = `${header}\n${first!.replace('Alder 0.32', 'Bench 1')}\n`;
  const post = (mode: string, body: string) =>
    request(app).post(`/api/motors/import?mode=${mode}`).type('text/csv').send(body);
  expect((await post('extend', own).expect(200)).body).toHaveLength(27);
  expect((await post('extend', own).expect(200)).body).toHaveLength(27);
  expect((await post('replace', own).expect(200)).body).toHaveLength(1);
  const bad = await post('replace', own.replace('Bench 1', '')).expect(422);
  expect(bad.body.detail).toContain('Row 2, column “type”');
  expect((await request(app).get('/api/motors')).body).toHaveLength(1);
  expect((await request(app).post('/api/motors/reset').expect(200)).body).toHaveLength(26);
});

test('errors are problem details', async () => {
  const missing = await request(app).get('/api/nothing').expect(404);
  expect(missing.type).toBe('application/problem+json');
  await request(app).post('/api/machines').type('json').send('{"half').expect(400);
  await request(app)
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

test('a run is kept with the document and the revision it came from, and forgotten', async () => {
  const id = await create('With runs');
  const path = `/api/machines/${id}/runs`;
  const document = { ...newMachine('With runs'), notes: 'as it was' };
  const made = await request(app).post(path).send({ name: 'First', document }).expect(201);
  expect(made.body).toMatchObject({ name: 'First', revision: 1, document: { notes: 'as it was' } });
  await request(app).put(`/api/machines/${id}`).set('If-Match', '"1"').send(newMachine('Changed')).expect(200);
  const { body } = await request(app).get(path).expect(200);
  expect(body).toHaveLength(1);
  expect(body[0].document.notes).toBe('as it was');
  await request(app).post(path).send({ name: ' ', document }).expect(422);
  const wrong = await request(app)
    .post(path)
    .send({ name: 'Wrong', document: { format: 'other' } })
    .expect(422);
  expect(wrong.body.detail).toContain('format');
  await request(app).delete(`${path}/${made.body.id}`).expect(204);
  await request(app).delete(`${path}/${made.body.id}`).expect(404);
  await request(app)
    .get(`/api/machines/${'0'.repeat(8)}-0000-4000-8000-${'0'.repeat(12)}/runs`)
    .expect(404);
});

describe('many runs', () => {
  const wishes = { runs: 5, seed: 7, sensorDelay: 0, friction: 0.1, torques: false };
  const chute = () => JSON.parse(readFileSync(join(demoFolder, 'seed-chute.yoke.json'), 'utf8')) as unknown;
  const ended = async (id: string) => {
    for (;;) {
      const { body } = await request(app).get(`/api/studies/${id}`).expect(200);
      if (body.state !== 'running') return body;
      await new Promise((resolve) => setTimeout(resolve, 100));
    }
  };
  afterAll(() => closeStudies());

  test('are run on threads, in order, and again the same from the same seed', async () => {
    const begun = await request(app).post('/api/studies').send({ document: chute(), wishes }).expect(202);
    expect(begun.body).toMatchObject({ total: 5, state: 'running' });
    const first = await ended(begun.body.id);
    expect(first.state).toBe('done');
    expect(first.runs.map(({ number }: { number: number }) => number)).toEqual([0, 1, 2, 3, 4]);
    const again = await request(app).post('/api/studies').send({ document: chute(), wishes }).expect(202);
    expect((await ended(again.body.id)).runs).toEqual(first.runs);
  }, 60_000);

  test('can be cancelled, and refuse what is no study', async () => {
    const begun = await request(app)
      .post('/api/studies')
      .send({ document: chute(), wishes: { ...wishes, runs: 500 } })
      .expect(202);
    await request(app).delete(`/api/studies/${begun.body.id}`).expect(204);
    const { state, done } = await ended(begun.body.id);
    expect(state).toBe('cancelled');
    expect(done).toBeLessThan(500);
    await request(app).get('/api/studies/none').expect(404);
    const wrong = await request(app)
      .post('/api/studies')
      .send({ document: chute(), wishes: { ...wishes, runs: 0 } })
      .expect(422);
    expect(wrong.body.detail).toContain('wishes.runs');
  }, 60_000);
});
