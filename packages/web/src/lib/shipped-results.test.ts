import { gzipSync } from 'node:zlib';
import { newAxis, newMachine, simulate, writeResult } from '@yoke/core';
import { ShippedResults } from './shipped-results';

const machine = newMachine('Shipped');
machine.axes.push(newAxis('linear', [], 2));
const result = { run: simulate(machine), record: null };

/** A server with an index and files; counts what is asked of it. */
function server(files: Record<string, BodyInit>) {
  const asked: string[] = [];
  const read = async (path: string) => {
    asked.push(path);
    const file = files[path];
    return file === undefined ? new Response('', { status: 404 }) : new Response(file);
  };
  return { asked, shipped: new ShippedResults(read) };
}
const packed = Uint8Array.from(gzipSync(writeResult(result)));

test('what came with the page is found as it was computed; the rest is asked of the server, that of kept runs is there', async () => {
  const files = { '/results/index.json': '["a"]', '/results/a.cbor.gz': packed, '/api/results/b': packed };
  const { asked, shipped } = server(files);
  expect(await shipped.find('a')).toEqual(result);
  expect(await shipped.find('b')).toEqual(result);
  expect(await shipped.find('c')).toBeNull();
  expect(asked).toEqual(['/results/index.json', '/results/a.cbor.gz', '/api/results/b', '/api/results/c']);
});

test('without results, or with broken ones, nothing is found and nothing fails', async () => {
  expect(await server({}).shipped.find('a')).toBeNull();
  expect(await server({ '/results/index.json': '["a"]' }).shipped.find('a')).toBeNull();
  const half = packed.slice(0, packed.length / 2);
  const broken = server({ '/results/index.json': '["a"]', '/results/a.cbor.gz': half });
  expect(await broken.shipped.find('a')).toBeNull();
});

test('a server that was away once is asked again', async () => {
  const files: Record<string, BodyInit> = { '/results/index.json': '[]', '/api/results/a': packed };
  let away = true;
  const shipped = new ShippedResults(async (path) => {
    if (away) throw new TypeError('Failed to fetch');
    return new Response(files[path]!);
  });
  expect(await shipped.find('a')).toBeNull();
  away = false;
  expect(await shipped.find('a')).toEqual(result);
});
