import { openDatabase, type Database } from '../src/index';

/** The token the tests' applications take from a command line. */
export const TOKEN = 'token-of-these-tests';

/** Opens the throw-away database that `npm test` started. @throws Error where there is none, with what to run */
export function testDatabase(): Promise<Database> {
  const { YOKE_DB_PORT, YOKE_DB_NAME, YOKE_DB_USER, YOKE_DB_PASSWORD } = process.env;
  if (!YOKE_DB_PORT || !YOKE_DB_NAME || !YOKE_DB_USER || !YOKE_DB_PASSWORD)
    throw new Error('These tests need a database: run “npm test -- unit”, which starts one.');
  return openDatabase({
    host: '127.0.0.1',
    port: Number(YOKE_DB_PORT),
    database: YOKE_DB_NAME,
    user: YOKE_DB_USER,
    password: YOKE_DB_PASSWORD,
  });
}
