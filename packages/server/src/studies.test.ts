import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { pino } from 'pino';
import request from 'supertest';
import { newAxis, newMachine, type Machine } from '@yoke/core';
import { closeReaders, createApp, Studies, type Database } from './index';
import { TOKEN, testDatabase } from '../test/database';

const demoFolder = join(__dirname, '../../../demo');
let database: Database;
let studies: Studies;
let app: ReturnType<typeof createApp>;
const begin = () => {
  studies = new Studies(database);
  const settings = { database, studies, log: pino({ level: 'silent' }), demoFolder, hosts: ['127.0.0.1'] };
  app = createApp({ ...settings, token: TOKEN });
};

beforeAll(async () => {
  database = await testDatabase();
  begin();
});
afterAll(async () => {
  await Promise.all([studies.close(), closeReaders()]);
  await database.sequelize.close();
});

const tool = () => request.agent(app).set('Authorization', `Bearer ${TOKEN}`);
const wishes = { runs: 5, seed: 7, sensorDelay: 0, friction: 0.1, torques: false };
const chute = () => JSON.parse(readFileSync(join(demoFolder, 'seed-chute.yoke.json'), 'utf8')) as Machine;
const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
const post = (body: object) => tool().post('/api/studies').send(body);
const shown = async (id: string) => (await request(app).get(`/api/studies/${id}`).expect(200)).body;
async function ended(id: string) {
  for (;;) {
    const study = await shown(id);
    if (study.state !== 'running') return study;
    await pause(100);
  }
}

test('are run on threads, in order, and again the same from the same seed', async () => {
  const begun = await post({ document: chute(), wishes }).expect(202);
  expect(begun.body).toMatchObject({ total: 5, state: 'running' });
  const first = await ended(begun.body.id);
  expect(first.state).toBe('done');
  expect(first.runs.map(({ number }: { number: number }) => number)).toEqual([0, 1, 2, 3, 4]);
  const again = await post({ document: chute(), wishes }).expect(202);
  expect((await ended(again.body.id)).runs).toEqual(first.runs);
});

test('can be cancelled, and refuse what is no study', async () => {
  const begun = await post({ document: chute(), wishes: { ...wishes, runs: 500 } }).expect(202);
  await tool().delete(`/api/studies/${begun.body.id}`).expect(428);
  await tool().delete(`/api/studies/${begun.body.id}`).set('If-Match', '*').expect(204);
  const { state, done } = await ended(begun.body.id);
  expect(state).toBe('cancelled');
  expect(done).toBeLessThan(500);
  await request(app).get('/api/studies/none').expect(404);
  const wrong = await post({ document: chute(), wishes: { ...wishes, runs: 0 } }).expect(422);
  expect(wrong.body.detail).toContain('wishes.runs');
});

test('a single run does not wait behind the runs of another study', async () => {
  const long = await post({ document: chute(), wishes: { ...wishes, runs: 2000 } }).expect(202);
  const short = await post({ document: chute(), wishes: { ...wishes, runs: 1 } }).expect(202);
  expect((await ended(short.body.id)).state).toBe('done');
  const study = await shown(long.body.id);
  expect(study.state).toBe('running');
  expect(study.done).toBeLessThan(1000);
  await tool().delete(`/api/studies/${long.body.id}`).set('If-Match', '*').expect(204);
});

test('results are kept over a restart, and what was under way is gone on with, to the same end', async () => {
  const whole = await ended((await post({ document: chute(), wishes }).expect(202)).body.id);
  const begun = await post({ document: chute(), wishes }).expect(202);
  while ((await shown(begun.body.id)).done < 1) await pause(20);
  await studies.close();
  expect((await shown(begun.body.id)).state).toBe('running');
  begin();
  await studies.resume();
  expect((await shown(whole.id)).runs).toEqual(whole.runs);
  expect((await ended(begun.body.id)).runs).toEqual(whole.runs);
});

test('the request repeated after a lost answer begins nothing twice', async () => {
  const key = '11111111-2222-4333-8444-555555555555';
  const send = (seed: number) => post({ document: chute(), wishes: { ...wishes, seed } }).set('Idempotency-Key', key);
  const [a, b] = [await send(1).expect(202), await send(1).expect(202)];
  expect([a.body.id, b.body.id]).toEqual([key, key]);
  await send(2).expect(409);
  await ended(key);
});

test('a run beyond the budget is refused with what it would take', async () => {
  const machine = newMachine('A day of seeds');
  machine.axes.push(newAxis('linear', [], 2));
  Object.assign(machine, {
    loose: chute().loose,
    sequence: { ...chute().sequence, cycle: { starts: null, cycles: null, most: 86_400 } },
  });
  const refused = await post({ document: machine, wishes });
  expect([refused.status, refused.body.title]).toEqual([422, 'Beyond the budget']);
  expect(refused.body.detail).toMatch(/may take up to [\d,]+ steps of the contact computation/);
});
