import { DataTypes, QueryTypes, type ModelAttributes, type QueryInterface } from 'sequelize';
import type { InputMigrations } from 'umzug';
import { textHash } from './text-hash';
import { summaryOf } from './summary';

/** Adds columns that are not there yet. */
async function addColumns(tables: QueryInterface, table: string, columns: ModelAttributes): Promise<void> {
  const there = await tables.describeTable(table);
  for (const [name, column] of Object.entries(columns))
    if (!(name in there)) await tables.addColumn(table, name, column);
}

/** Adds an index that is not there yet. */
async function addIndex(tables: QueryInterface, table: string, name: string, columns: string[]): Promise<void> {
  const there = (await tables.showIndex(table)) as { name: string }[];
  if (!there.some((index) => index.name === name)) await tables.addIndex(table, columns, { name });
}

/**
 * Changes of the tables, in order. A migration that has landed is never edited; a new one follows it. Every one can be
 * carried out again after it was killed half way: the database does not take such changes back.
 */
export const migrations: InputMigrations<QueryInterface> = [
  {
    name: '001-machines-motors-facts',
    async up({ context: tables }) {
      const text = (length: number) => ({ type: DataTypes.STRING(length), allowNull: false });
      const date = { type: DataTypes.DATE, allowNull: false };
      await tables.createTable('machines', {
        id: { type: DataTypes.UUID, primaryKey: true },
        name: text(80),
        document: { type: DataTypes.JSON, allowNull: false },
        revision: { type: DataTypes.INTEGER, allowNull: false },
        deletedAt: DataTypes.DATE,
        createdAt: date,
        updatedAt: date,
      });
      await tables.createTable('motors', {
        type: { ...text(80), primaryKey: true },
        position: { type: DataTypes.INTEGER, allowNull: false },
        data: { type: DataTypes.JSON, allowNull: false },
      });
      await tables.createTable('facts', {
        name: { ...text(40), primaryKey: true },
        value: text(200),
      });
    },
    async down({ context: tables }) {
      for (const table of ['facts', 'motors', 'machines']) await tables.dropTable(table);
    },
  },
  {
    name: '002-runs',
    async up({ context: tables }) {
      await tables.createTable('runs', {
        id: { type: DataTypes.UUID, primaryKey: true },
        machineId: {
          type: DataTypes.UUID,
          allowNull: false,
          references: { model: 'machines', key: 'id' },
          onDelete: 'CASCADE',
        },
        name: { type: DataTypes.STRING(80), allowNull: false },
        document: { type: DataTypes.JSON, allowNull: false },
        revision: { type: DataTypes.INTEGER, allowNull: false },
        createdAt: { type: DataTypes.DATE, allowNull: false },
        updatedAt: { type: DataTypes.DATE, allowNull: false },
      });
    },
    async down({ context: tables }) {
      await tables.dropTable('runs');
    },
  },
  {
    name: '003-documents-as-text',
    async up({ context: tables }) {
      // As text, a document knows no limit of the database's JSON (depth of nesting) and comes back letter for letter.
      const long = { type: DataTypes.TEXT('long'), allowNull: false };
      for (const table of ['machines', 'runs']) await tables.changeColumn(table, 'document', long);
      // What lists show stands in columns of its own, so that no list reads documents.
      const hash = { type: DataTypes.STRING(64), allowNull: true };
      await addColumns(tables, 'machines', {
        summary: { type: DataTypes.TEXT('long'), allowNull: true },
        bytes: { type: DataTypes.INTEGER, allowNull: true },
        hash,
      });
      await addColumns(tables, 'runs', { hash });
      const { sequelize } = tables;
      const ids = await sequelize.query<{ id: string }>('SELECT id FROM machines', { type: QueryTypes.SELECT });
      for (const { id } of ids) {
        const [row] = await sequelize.query<{ document: string }>('SELECT document FROM machines WHERE id = ?', {
          replacements: [id],
          type: QueryTypes.SELECT,
        });
        if (!row) continue;
        const replacements = [
          JSON.stringify(summaryOf(JSON.parse(row.document))),
          Buffer.byteLength(row.document),
          textHash(row.document),
          id,
        ];
        await sequelize.query('UPDATE machines SET summary = ?, bytes = ?, hash = ? WHERE id = ?', {
          replacements,
        });
      }
      await addIndex(tables, 'machines', 'machines_listed', ['deletedAt', 'updatedAt']);
      await addIndex(tables, 'runs', 'runs_listed', ['machineId', 'createdAt']);
    },
    async down({ context: tables }) {
      await tables.removeIndex('machines', 'machines_listed');
      for (const column of ['summary', 'bytes', 'hash']) await tables.removeColumn('machines', column);
      await tables.removeColumn('runs', 'hash');
    },
  },
  {
    name: '004-studies-and-former-catalogues',
    async up({ context: tables }) {
      const long = { type: DataTypes.TEXT('long'), allowNull: false };
      const date = { type: DataTypes.DATE, allowNull: false };
      await tables.createTable('studies', {
        id: { type: DataTypes.UUID, primaryKey: true },
        state: { type: DataTypes.STRING(20), allowNull: false },
        total: { type: DataTypes.INTEGER, allowNull: false },
        wishes: { type: DataTypes.TEXT, allowNull: false },
        document: long,
        hash: { type: DataTypes.STRING(64), allowNull: false },
        problem: { type: DataTypes.TEXT, allowNull: true },
        createdAt: date,
        updatedAt: date,
      });
      await tables.createTable('study_runs', {
        studyId: {
          type: DataTypes.UUID,
          primaryKey: true,
          references: { model: 'studies', key: 'id' },
          onDelete: 'CASCADE',
        },
        number: { type: DataTypes.INTEGER, primaryKey: true },
        data: { type: DataTypes.TEXT, allowNull: false },
      });
      await tables.createTable('former_catalogues', {
        id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
        motors: long,
        count: { type: DataTypes.INTEGER, allowNull: false },
        createdAt: date,
      });
    },
    async down({ context: tables }) {
      for (const table of ['former_catalogues', 'study_runs', 'studies']) await tables.dropTable(table);
    },
  },
  {
    name: '005-results',
    async up({ context: tables }) {
      await tables.createTable('results', {
        key: { type: DataTypes.CHAR(64), primaryKey: true },
        data: { type: DataTypes.BLOB('long'), allowNull: false },
        bytes: { type: DataTypes.INTEGER, allowNull: false },
        usedAt: { type: DataTypes.DATE, allowNull: false },
      });
    },
    async down({ context: tables }) {
      await tables.dropTable('results');
    },
  },
  {
    name: '006-cycle-time-of-runs',
    async up({ context: tables }) {
      await addColumns(tables, 'runs', { cycleTime: { type: DataTypes.DOUBLE, allowNull: true } });
    },
    async down({ context: tables }) {
      await tables.removeColumn('runs', 'cycleTime');
    },
  },
  {
    name: '007-geometry',
    async up({ context: tables }) {
      await tables.createTable('geometries', {
        hash: { type: DataTypes.CHAR(64), primaryKey: true },
        bytes: { type: DataTypes.INTEGER, allowNull: false },
        usedAt: { type: DataTypes.DATE, allowNull: false },
      });
      await tables.createTable('geometry_parts', {
        hash: { type: DataTypes.CHAR(64), primaryKey: true },
        number: { type: DataTypes.INTEGER, primaryKey: true },
        data: { type: DataTypes.BLOB('long'), allowNull: false },
      });
    },
    async down({ context: tables }) {
      for (const table of ['geometry_parts', 'geometries']) await tables.dropTable(table);
    },
  },
];
