import {
  DataTypes,
  Sequelize,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Model,
  type ModelStatic,
} from 'sequelize';
import { SequelizeStorage, Umzug } from 'umzug';
import type { Machine, Motor } from '@yoke/core';
import { migrations } from './migrations';

/** Where the database listens and how to log in. */
export interface DatabaseSettings {
  host: string;
  port: number;
  database: string;
  user: string;
  password: string;
}

export interface MachineRow extends Model<InferAttributes<MachineRow>, InferCreationAttributes<MachineRow>> {
  id: string;
  name: string;
  document: Machine;
  /** Counts up with every change; the ETag. */
  revision: number;
  deletedAt: CreationOptional<Date | null>;
  createdAt: CreationOptional<Date>;
  updatedAt: CreationOptional<Date>;
}

/** A run that was kept: the document it came from, from which it is computed again to the same bits. */
export interface RunRow extends Model<InferAttributes<RunRow>, InferCreationAttributes<RunRow>> {
  id: string;
  machineId: string;
  name: string;
  document: Machine;
  revision: number;
  createdAt: CreationOptional<Date>;
  updatedAt: CreationOptional<Date>;
}

export interface MotorRow extends Model<InferAttributes<MotorRow>, InferCreationAttributes<MotorRow>> {
  type: string;
  position: number;
  data: Motor;
}

export interface FactRow extends Model<InferAttributes<FactRow>, InferCreationAttributes<FactRow>> {
  name: string;
  value: string;
}

/** The open database with its tables. */
export interface Database {
  sequelize: Sequelize;
  machines: ModelStatic<MachineRow>;
  runs: ModelStatic<RunRow>;
  motors: ModelStatic<MotorRow>;
  facts: ModelStatic<FactRow>;
}

/** Opens the database and brings its tables to the present state. */
export async function openDatabase(settings: DatabaseSettings): Promise<Database> {
  const sequelize = new Sequelize(settings.database, settings.user, settings.password, {
    dialect: 'mariadb',
    host: settings.host,
    port: settings.port,
    logging: false,
    pool: { max: 10 },
  });
  await sequelize.authenticate();
  const umzug = new Umzug({
    migrations,
    context: sequelize.getQueryInterface(),
    storage: new SequelizeStorage({ sequelize }),
    logger: undefined,
  });
  await umzug.up();
  const text = (length: number) => ({ type: DataTypes.STRING(length), allowNull: false });
  const machines = sequelize.define<MachineRow>('machines', {
    id: { type: DataTypes.UUID, primaryKey: true },
    name: text(80),
    document: { type: DataTypes.JSON, allowNull: false },
    revision: { type: DataTypes.INTEGER, allowNull: false },
    deletedAt: DataTypes.DATE,
    createdAt: DataTypes.DATE,
    updatedAt: DataTypes.DATE,
  });
  const runs = sequelize.define<RunRow>('runs', {
    id: { type: DataTypes.UUID, primaryKey: true },
    machineId: { type: DataTypes.UUID, allowNull: false },
    name: text(80),
    document: { type: DataTypes.JSON, allowNull: false },
    revision: { type: DataTypes.INTEGER, allowNull: false },
    createdAt: DataTypes.DATE,
    updatedAt: DataTypes.DATE,
  });
  const motors = sequelize.define<MotorRow>(
    'motors',
    {
      type: { ...text(80), primaryKey: true },
      position: { type: DataTypes.INTEGER, allowNull: false },
      data: { type: DataTypes.JSON, allowNull: false },
    },
    { timestamps: false },
  );
  const facts = sequelize.define<FactRow>(
    'facts',
    { name: { ...text(40), primaryKey: true }, value: text(200) },
    { timestamps: false },
  );
  return { sequelize, machines, runs, motors, facts };
}
