import { fileURLToPath } from 'node:url';

/** Folder of the project, with a final slash. */
export const root = fileURLToPath(new URL('../../', import.meta.url));
/** What the application writes: the database, its password, process numbers. YOKE_VAR names another folder. */
export const varFolder = process.env.YOKE_VAR ? `${process.env.YOKE_VAR.replace(/\/$/, '')}/` : `${root}var/`;
