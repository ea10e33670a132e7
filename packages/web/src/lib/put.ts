/** Keys of all variants of a union. */
export type KeyOf<T> = T extends unknown ? keyof T & string : never;
/** What stands under a key in the variants of a union that have it. */
export type ValueOf<T, K> = T extends unknown ? (K extends keyof T ? T[K] : never) : never;

/**
 * Sets a field of one variant of a union, by a key that some variant has. A variant without that field stays as it is;
 * null where a value must be is left for the document to refuse, at its place.
 */
export function put<T extends object, K extends KeyOf<T>>(thing: T, key: K, value: ValueOf<T, K> | null): void {
  if (key in thing) Object.assign(thing, { [key]: value });
}
