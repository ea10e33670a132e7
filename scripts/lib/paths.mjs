import { fileURLToPath } from 'node:url';

/** Folder of the project, with a final slash. */
export const root = fileURLToPath(new URL('../../', import.meta.url));
/** What the application writes: the database, its password, process numbers. */
export const varFolder = `${root}var/`;
