import { createHash } from 'node:crypto';
import { raw, Router, type Request, type Response } from 'express';
import { col, fn, Op, type Transaction } from 'sequelize';
import type { Database } from './database';
import { bodyOf } from './guard';
import { HttpProblem } from './problem';

/** Geometry in one piece of the table: well within what the database takes in one statement, bytes. */
const PIECE = 4_000_000;
/** Largest geometry, and of all together, bytes. */
const MOST_BYTES = 128e6;
const ROOM = 16e9;
/** Days that geometry is kept which no machine names: as long as a deleted machine, and longer than anyone undoes. */
const KEPT_DAYS = 31;
const DAY = 86_400_000;
export const GEOMETRY_TYPE = 'model/gltf-binary';

/** Writes geometry, piece by piece; what stands in the first table is whole. */
export async function storeGeometry(
  { geometries, geometryParts }: Database,
  hash: string,
  content: Buffer,
  transaction: Transaction,
): Promise<void> {
  for (let number = 0; number * PIECE < content.length; number++)
    await geometryParts.upsert(
      { hash, number, data: content.subarray(number * PIECE, (number + 1) * PIECE) },
      { transaction },
    );
  await geometries.upsert({ hash, bytes: content.length, usedAt: new Date() }, { transaction });
}

/** Takes geometry away that no machine and no kept run has named for long. */
export async function purgeGeometry({ geometries, geometryParts, machines, runs }: Database): Promise<number> {
  const old = await geometries.findAll({
    attributes: ['hash'],
    where: { usedAt: { [Op.lt]: new Date(Date.now() - KEPT_DAYS * DAY) } },
  });
  let gone = 0;
  for (const { hash } of old) {
    const named = { document: { [Op.like]: `%${hash}%` } };
    const users = (await machines.count({ where: named })) + (await runs.count({ where: named }));
    if (users > 0) continue;
    await geometryParts.destroy({ where: { hash } });
    gone += await geometries.destroy({ where: { hash } });
  }
  return gone;
}

/** Geometry of solids by its content, under /api/geometry: once, however many machines name it. */
export function geometryRoutes(database: Database): Router {
  const { sequelize, geometries, geometryParts } = database;
  const routes = Router();

  routes.post(
    '/',
    bodyOf(GEOMETRY_TYPE),
    raw({ type: GEOMETRY_TYPE, limit: MOST_BYTES }),
    async (request: Request, response: Response) => {
      const content: unknown = request.body;
      if (!Buffer.isBuffer(content) || content.length < 12 || content.toString('latin1', 0, 4) !== 'glTF')
        throw new HttpProblem(422, 'No geometry', 'Send a GLB file: it begins with “glTF”.');
      if (content.readUInt32LE(8) !== content.length)
        throw new HttpProblem(422, 'Cut short', `The GLB file says it has ${content.readUInt32LE(8)} bytes, ${content.length} came: send it again.`); // prettier-ignore
      const hash = createHash('sha256').update(content).digest('hex');
      const kept = { hash, bytes: content.length };
      if (await geometries.findByPk(hash)) {
        await geometries.update({ usedAt: new Date() }, { where: { hash } });
        return void response.status(200).json(kept);
      }
      const held = await geometries.findOne({ attributes: [[fn('SUM', col('bytes')), 'bytes']], raw: true });
      if (Number(held?.bytes ?? 0) + content.length > ROOM)
        throw new HttpProblem(507, 'No room', `There is no room for more geometry (${ROOM / 1e9} GB): delete machines that are no longer needed.`); // prettier-ignore
      await sequelize.transaction((transaction) => storeGeometry(database, hash, content, transaction));
      response.status(201).location(`/api/geometry/${hash}`).json(kept);
    },
  );

  routes.get<{ hash: string }>('/:hash', async (request, response) => {
    const { hash } = request.params;
    if (!/^[0-9a-f]{64}$/.test(hash))
      throw new HttpProblem(400, 'Bad request', 'Geometry is asked for by the SHA-256 of its content.');
    if (!(await geometries.findByPk(hash)))
      throw new HttpProblem(404, 'Not found', 'This geometry is not kept here: import its file anew, or open the machine with its geometry (*.yoke.zip).'); // prettier-ignore
    const parts = await geometryParts.findAll({ where: { hash }, order: [['number', 'ASC']] });
    // What has this name never changes.
    response.set('Cache-Control', 'private, max-age=31536000, immutable');
    response.type(GEOMETRY_TYPE).send(Buffer.concat(parts.map(({ data }) => data)));
  });
  return routes;
}
