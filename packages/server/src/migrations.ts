import { DataTypes, type QueryInterface } from 'sequelize';
import type { InputMigrations } from 'umzug';

/** Changes of the tables, in order. A migration that has landed is never edited; a new one follows it. */
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
];
