import { Decoder, Encoder } from 'cbor-x/index-no-eval';
import type { MachineRun } from '../sizing';

/** A result as it is kept: what was found in it is told anew, by the names of the day. */
export type KeptResult = Pick<MachineRun, 'run' | 'record'>;

/** Objects as maps of text, arrays of numbers as they lie in memory (RFC 8746): every program that reads CBOR reads it. */
const PLAIN = { useRecords: false, mapsAsObjects: true };

/** A result as a file of CBOR (RFC 8949), to the last bit. */
export const writeResult = ({ run, record }: KeptResult): Uint8Array => new Encoder(PLAIN).encode({ run, record });

/** The result in a file that {@link writeResult} wrote. @throws Error where it is none */
export function readResult(file: Uint8Array): KeptResult {
  const found = new Decoder(PLAIN).decode(file) as Partial<KeptResult> | null;
  if (typeof found !== 'object' || found?.run === undefined || found.record === undefined)
    throw new Error('This is no result of a run.');
  return { run: found.run, record: found.record };
}
