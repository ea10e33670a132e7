import { createHash } from 'node:crypto';
import fc from 'fast-check';
import { strToU8, zipSync } from 'fflate';
import { packMachineZip, readMachineZip } from './index';

const hashOf = (content: Uint8Array) => createHash('sha256').update(content).digest('hex');

test('a machine with its geometry comes out as it went in (property)', () => {
  fc.assert(
    fc.property(
      fc.string({ unit: 'grapheme' }),
      fc.array(fc.uint8Array({ minLength: 1, maxLength: 300 }), { maxLength: 4 }),
      (text, contents) => {
        // prettier-ignore
        const geometry = new Map(contents.map((own) => [hashOf(own), own]));
        const read = readMachineZip(packMachineZip({ document: text, geometry }));
        expect(read.document).toBe(text);
        expect([...read.geometry].map(([hash, own]) => [hash, [...own]]).sort()).toEqual([...geometry].map(([hash, own]) => [hash, [...own]]).sort()); // prettier-ignore
      },
    ),
  );
});

test('what is no such file, lacks the machine, or was changed on its way says so', () => {
  expect(() => readMachineZip(new Uint8Array([1, 2, 3]))).toThrow(/broken or cut short/);
  expect(() => readMachineZip(zipSync({ 'a.txt': strToU8('a') }))).toThrow(/no machine\.yoke\.json/);
  const changed = zipSync({ 'machine.yoke.json': strToU8('{}'), [`geometry/${'0'.repeat(64)}.glb`]: strToU8('x') });
  expect(() => readMachineZip(changed)).toThrow(/changed on its way/);
  const more = zipSync({ 'machine.yoke.json': strToU8('{}'), '../../etc/passwd': strToU8('x') });
  expect([...readMachineZip(more).geometry]).toEqual([]);
});

test('any bytes give a sentence and nothing else (property)', () => {
  fc.assert(
    fc.property(fc.uint8Array({ maxLength: 400 }), (content) => {
      try {
        readMachineZip(content);
      } catch (error) {
        expect((error as Error).name).toBe('ImportError');
      }
    }),
  );
});
