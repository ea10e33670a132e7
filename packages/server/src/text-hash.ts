import { createHash } from 'node:crypto';

/** Hash of a text, by which two saves of the same content are known as such: 64 hexadecimal digits. */
export const textHash = (text: string): string => createHash('sha256').update(text).digest('hex');
