import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { pino } from 'pino';
import { QueryTypes, Sequelize, type QueryInterface } from 'sequelize';
import request from 'supertest';
import { SequelizeStorage, Umzug, type RunnableMigration } from 'umzug';
import { readMachine } from '@yoke/core';
import { closeReaders, createApp, Studies, type Database } from './index';
import { migrations } from './migrations';
import { TOKEN, testDatabase } from '../test/database';

/** One document of every shape that was ever written. */
const folder = join(__dirname, '../../core/src/machine/testdata/history');
const documents = readdirSync(folder).map((file) => readFileSync(join(folder, file), 'utf8'));
const identifier = (i: number) => `00000000-0000-4000-8000-${String(i).padStart(12, '0')}`;

let database: Database;
let studies: Studies;
let app: ReturnType<typeof createApp>;

/** A database as a release of some migrations ago left it, with a machine of every shape in it. */
async function leaveOld(done: number): Promise<void> {
  const { YOKE_DB_PORT, YOKE_DB_NAME, YOKE_DB_USER, YOKE_DB_PASSWORD } = process.env;
  const settings = { dialect: 'mariadb', host: '127.0.0.1', port: Number(YOKE_DB_PORT), logging: false } as const;
  const sequelize = new Sequelize(YOKE_DB_NAME!, YOKE_DB_USER!, YOKE_DB_PASSWORD!, { ...settings, pool: { max: 1 } });
  await sequelize.query('SET FOREIGN_KEY_CHECKS = 0');
  const tables = await sequelize.query<Record<string, string>>('SHOW TABLES', { type: QueryTypes.SELECT });
  for (const table of tables.flatMap((row) => Object.values(row))) await sequelize.query(`DROP TABLE \`${table}\``);
  await sequelize.query('SET FOREIGN_KEY_CHECKS = 1');
  const umzug = new Umzug({
    migrations: (migrations as RunnableMigration<QueryInterface>[]).slice(0, done),
    context: sequelize.getQueryInterface(),
    storage: new SequelizeStorage({ sequelize }),
    logger: undefined,
  });
  await umzug.up();
  for (const [i, document] of documents.entries()) {
    const { name } = JSON.parse(document) as { name: string };
    await sequelize.query(
      'INSERT INTO machines (id, name, document, revision, createdAt, updatedAt) VALUES (?, ?, ?, 3, NOW(), NOW())',
      { replacements: [identifier(i), name, document] },
    );
  }
  await sequelize.close();
}

afterEach(async () => {
  // The tests share one database: it is left as empty as it was.
  await database?.machines.destroy({ where: {} });
  await Promise.all([studies?.close(), closeReaders()]);
  await database?.sequelize.close();
});

// The tables of the first two releases; what changed them since is carried out when they are opened.
test.each([1, 2])(
  'a database with %i migrations is opened: all machines are listed, read, saved and copied',
  async (done) => {
    await leaveOld(done);
    database = await testDatabase();
    studies = new Studies(database);
    const log = pino({ level: 'silent' });
    app = createApp({ database, studies, log, demoFolder: folder, hosts: ['127.0.0.1'], token: TOKEN });
    const tool = () => request.agent(app).set('Authorization', `Bearer ${TOKEN}`);
    const list = (await request(app).get('/api/machines?limit=500').expect(200)).body as { id: string; revision: number; bytes: number }[]; // prettier-ignore
    expect(list.map(({ id }) => id).sort()).toEqual(documents.map((_, i) => identifier(i)));
    for (const { id, revision, bytes } of list) {
      expect([revision, bytes > 100]).toEqual([3, true]);
      const { body } = await request(app).get(`/api/machines/${id}`).expect(200);
      expect(readMachine(body).ok).toBe(true);
    }
    const [first] = list;
    const { body: machine, headers } = await request(app).get(`/api/machines/${first!.id}`);
    await tool()
      .put(`/api/machines/${first!.id}`)
      .set('If-Match', headers.etag!)
      .send({ ...machine, name: 'Saved anew' })
      .expect(200);
    await tool().post(`/api/machines/${list[1]!.id}/duplicate`).expect(201);
    await tool().post(`/api/machines/${list[2]!.id}/runs`).send({ name: 'Kept', document: machine }).expect(201);
  },
);
