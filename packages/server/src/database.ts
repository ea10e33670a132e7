import {
  DataTypes,
  QueryTypes,
  Sequelize,
  type CreationOptional,
  type InferAttributes,
  type InferCreationAttributes,
  type Model,
  type ModelStatic,
} from 'sequelize';
import { SequelizeStorage, Umzug } from 'umzug';
import type { Motor, StudyState } from '@yoke/core';
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
  /** The document as text, so that no limit of the database's JSON matters. */
  document: string;
  /** What lists show, as JSON text. */
  summary: string;
  bytes: number;
  /** Hash of the document's text. */
  hash: string;
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
  document: string;
  hash: string;
  revision: number;
  /** Time of its cycle as the page found it, s. */
  cycleTime: CreationOptional<number | null>;
  createdAt: CreationOptional<Date>;
  updatedAt: CreationOptional<Date>;
}

export interface MotorRow extends Model<InferAttributes<MotorRow>, InferCreationAttributes<MotorRow>> {
  type: string;
  position: number;
  data: Motor;
}

/** A catalogue as it was before it was replaced, so that replacing can be undone. */
export interface FormerCatalogueRow extends Model<
  InferAttributes<FormerCatalogueRow>,
  InferCreationAttributes<FormerCatalogueRow>
> {
  id: CreationOptional<number>;
  motors: string;
  count: number;
  createdAt: CreationOptional<Date>;
}

export interface StudyRow extends Model<InferAttributes<StudyRow>, InferCreationAttributes<StudyRow>> {
  id: string;
  state: StudyState['state'];
  total: number;
  wishes: string;
  document: string;
  hash: string;
  problem: string | null;
  createdAt: CreationOptional<Date>;
  updatedAt: CreationOptional<Date>;
}

export interface StudyRunRow extends Model<InferAttributes<StudyRunRow>, InferCreationAttributes<StudyRunRow>> {
  studyId: string;
  number: number;
  data: string;
}

export interface ResultRow extends Model<InferAttributes<ResultRow>, InferCreationAttributes<ResultRow>> {
  /** SHA-256 of what the result goes by. */
  key: string;
  data: Buffer;
  bytes: number;
  usedAt: Date;
}

/** Geometry of solids, by its content: kept in pieces beside. */
export interface GeometryRow extends Model<InferAttributes<GeometryRow>, InferCreationAttributes<GeometryRow>> {
  /** SHA-256. */
  hash: string;
  bytes: number;
  usedAt: Date;
}

export interface GeometryPartRow extends Model<
  InferAttributes<GeometryPartRow>,
  InferCreationAttributes<GeometryPartRow>
> {
  hash: string;
  number: number;
  data: Buffer;
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
  formerCatalogues: ModelStatic<FormerCatalogueRow>;
  studies: ModelStatic<StudyRow>;
  studyRuns: ModelStatic<StudyRunRow>;
  results: ModelStatic<ResultRow>;
  geometries: ModelStatic<GeometryRow>;
  geometryParts: ModelStatic<GeometryPartRow>;
  facts: ModelStatic<FactRow>;
}

/** Opens the database and brings its tables to the present state. */
export async function openDatabase(settings: DatabaseSettings): Promise<Database> {
  const sequelize = new Sequelize(settings.database, settings.user, settings.password, {
    dialect: 'mariadb',
    host: settings.host,
    port: settings.port,
    logging: false,
    // A request that gets no connection in this time (ms) is told so, and does not wait for ever.
    pool: { max: 10, acquire: 8000 },
    dialectOptions: { connectTimeout: 3000 },
  });
  await sequelize.authenticate();
  const umzug = new Umzug({
    migrations,
    context: sequelize.getQueryInterface(),
    storage: new SequelizeStorage({ sequelize }),
    logger: undefined,
  });
  // Two servers that open the same database at once change its tables one after the other.
  await sequelize.transaction(async (transaction) => {
    await sequelize.query(`SELECT GET_LOCK('yoke-tables', 120)`, { transaction, type: QueryTypes.SELECT });
    try {
      await umzug.up();
    } finally {
      await sequelize.query(`SELECT RELEASE_LOCK('yoke-tables')`, { transaction, type: QueryTypes.SELECT });
    }
  });
  const text = (length: number) => ({ type: DataTypes.STRING(length), allowNull: false });
  // Made anew for each column: Sequelize writes the column's name into what it is given.
  const long = () => ({ type: DataTypes.TEXT('long'), allowNull: false });
  const int = () => ({ type: DataTypes.INTEGER, allowNull: false });
  const dates = () => ({ createdAt: DataTypes.DATE, updatedAt: DataTypes.DATE });
  const uuid = () => ({ type: DataTypes.UUID, primaryKey: true });
  const machines = sequelize.define<MachineRow>('machines', {
    id: uuid(),
    name: text(80),
    document: long(),
    summary: long(),
    bytes: int(),
    hash: text(64),
    revision: int(),
    deletedAt: DataTypes.DATE,
    ...dates(),
  });
  const runs = sequelize.define<RunRow>('runs', {
    id: uuid(),
    machineId: { type: DataTypes.UUID, allowNull: false },
    name: text(80),
    document: long(),
    hash: { type: DataTypes.STRING(64) },
    revision: int(),
    cycleTime: { type: DataTypes.DOUBLE, allowNull: true },
    ...dates(),
  });
  const motors = sequelize.define<MotorRow>(
    'motors',
    { type: { ...text(80), primaryKey: true }, position: int(), data: { type: DataTypes.JSON, allowNull: false } },
    { timestamps: false },
  );
  const formerCatalogues = sequelize.define<FormerCatalogueRow>(
    'former_catalogues',
    {
      id: { type: DataTypes.INTEGER, primaryKey: true, autoIncrement: true },
      motors: long(),
      count: int(),
      createdAt: DataTypes.DATE,
    },
    { updatedAt: false },
  );
  const studies = sequelize.define<StudyRow>('studies', {
    id: uuid(),
    state: { type: DataTypes.STRING(20), allowNull: false },
    total: int(),
    wishes: { type: DataTypes.TEXT, allowNull: false },
    document: long(),
    hash: text(64),
    problem: DataTypes.TEXT,
    ...dates(),
  });
  const studyRuns = sequelize.define<StudyRunRow>(
    'study_runs',
    {
      studyId: uuid(),
      number: { type: DataTypes.INTEGER, primaryKey: true },
      data: { type: DataTypes.TEXT, allowNull: false },
    },
    { timestamps: false },
  );
  const results = sequelize.define<ResultRow>(
    'results',
    {
      key: { type: DataTypes.CHAR(64), primaryKey: true },
      data: { type: DataTypes.BLOB('long'), allowNull: false },
      bytes: int(),
      usedAt: { type: DataTypes.DATE, allowNull: false },
    },
    { timestamps: false },
  );
  const geometries = sequelize.define<GeometryRow>(
    'geometries',
    {
      hash: { type: DataTypes.CHAR(64), primaryKey: true },
      bytes: int(),
      usedAt: { type: DataTypes.DATE, allowNull: false },
    },
    { timestamps: false },
  );
  const geometryParts = sequelize.define<GeometryPartRow>(
    'geometry_parts',
    {
      hash: { type: DataTypes.CHAR(64), primaryKey: true },
      number: { type: DataTypes.INTEGER, primaryKey: true },
      data: { type: DataTypes.BLOB('long'), allowNull: false },
    },
    { timestamps: false },
  );
  const facts = sequelize.define<FactRow>(
    'facts',
    { name: { ...text(40), primaryKey: true }, value: text(200) },
    { timestamps: false },
  );
  return {
    sequelize,
    machines,
    runs,
    motors,
    formerCatalogues,
    studies,
    studyRuns,
    results,
    geometries,
    geometryParts,
    facts,
  };
}
