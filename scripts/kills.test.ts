import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import { createServer, type AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { killAndLook, killFirstStarts } from './attack/kills';

// The kills of `npm run attack`, in a short form that is the same every time.

const freePort = async () => {
  const server = createServer().listen(0, '127.0.0.1');
  await new Promise((resolve) => server.once('listening', resolve));
  const { port } = server.address() as AddressInfo;
  await new Promise((resolve) => server.close(resolve));
  return port;
};

function scratch(): string {
  const folder = mkdtempSync(join(tmpdir(), 'yoke-attack-'));
  chmodSync(folder, 0o711);
  return folder;
}

test('20 kills of server, database, both or parent, at seeded moments: no acknowledged save is lost', async () => {
  const folder = scratch();
  const report = await killAndLook({ folder, port: await freePort(), seed: 11, kills: 20 });
  expect([report.lost, report.miscounted]).toEqual([[], []]);
  expect(report.saves).toBeGreaterThan(100);
  rmSync(folder, { recursive: true, force: true });
});

test('first starts killed while they load the demo leave no doubles', async () => {
  const folder = scratch();
  const report = await killFirstStarts({ folder, port: await freePort(), seed: 5, kills: 3 });
  expect(report.miscounted).toEqual([]);
  rmSync(folder, { recursive: true, force: true });
});
