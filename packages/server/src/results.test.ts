import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import { pino } from 'pino';
import request from 'supertest';
import {
  machineText,
  newMachine,
  readMachineText,
  readResult,
  resultInput,
  runMachine,
  type Machine,
} from '@yoke/core';
import { closeReaders, createApp, RunResults, Studies, type Database } from './index';
import { TOKEN, testDatabase } from '../test/database';
import { RELEASE } from './result-worker';

const demoFolder = join(__dirname, '../../../demo');
let database: Database;
let studies: Studies;
let results: RunResults;
let app: ReturnType<typeof createApp>;

beforeAll(async () => {
  database = await testDatabase();
  studies = new Studies(database);
  results = new RunResults(database);
  const log = pino({ level: 'silent' });
  app = createApp({ database, studies, results, log, demoFolder, hosts: ['127.0.0.1'], token: TOKEN });
});
afterAll(async () => {
  await Promise.all([studies?.close(), results?.close(), closeReaders()]);
  await database?.sequelize.close();
});
const tool = () => request.agent(app).set('Authorization', `Bearer ${TOKEN}`);
const keyOf = (machine: Machine) =>
  createHash('sha256')
    .update(resultInput(RELEASE, machine, []))
    .digest('hex');
/** What is kept under a key, once it is. */
async function kept(key: string): Promise<Buffer> {
  for (;;) {
    const found = await results.find(key);
    if (found) return found;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}

test('a run that is kept has its result on the server, which is that of any other run of it', async () => {
  const read = readMachineText(readFileSync(join(demoFolder, 'seed-chute.yoke.json'), 'utf8'));
  if (!read.ok) throw new Error('the seed chute does not open');
  const { machine } = read;
  const made = await tool().post('/api/machines').send(machine).expect(201);
  await request(app)
    .get(`/api/results/${keyOf(machine)}`)
    .expect(204);
  await tool().post(`/api/machines/${made.body.id}/runs`).send({ name: 'First', document: machine }).expect(201);
  const packed = await kept(keyOf(machine));
  const answer = await request(app)
    .get(`/api/results/${keyOf(machine)}`)
    .buffer(true)
    .parse(bytes)
    .expect(200);
  expect(answer.body).toEqual(packed);
  const { run, record } = await runMachine(machine);
  expect(readResult(gunzipSync(packed))).toEqual({ run, record });
});

test('what is computed in no time is not kept; a name that is none is refused', async () => {
  const machine = newMachine('Quick');
  results.begin(machineText(machine));
  await request(app).get('/api/results/1').expect(400);
  await request(app)
    .get(`/api/results/${keyOf(machine)}`)
    .expect(204);
});

test('a document that cannot be read does no harm', async () => {
  results.begin('{"half');
  await request(app).get('/api/health').expect(200);
});

/** Takes an answer as bytes. */
function bytes(response: request.Response, done: (error: Error | null, body: Buffer) => void): void {
  const parts: Buffer[] = [];
  response.on('data', (part: Buffer) => parts.push(part));
  response.on('end', () => done(null, Buffer.concat(parts)));
}
