import { connect, createServer } from 'node:net';

/**
 * A port on loopback that nobody listens on.
 * @returns {Promise<number>}
 */
export function freePort() {
  return new Promise((resolve, reject) => {
    const server = createServer();
    server.once('error', reject);
    server.listen(0, '127.0.0.1', () => {
      const { port } = /** @type {import('node:net').AddressInfo} */ (server.address());
      server.close(() => resolve(port));
    });
  });
}

/**
 * Why a port cannot be listened on: an error code such as EADDRINUSE, or undefined where it can.
 * @param {number} port
 * @param {string} host
 * @returns {Promise<string | undefined>}
 */
export function portTrouble(port, host) {
  return new Promise((resolve) => {
    const server = createServer();
    server.once('error', (error) => resolve(/** @type {NodeJS.ErrnoException} */ (error).code));
    server.listen(port, host, () => server.close(() => resolve(undefined)));
  });
}

/**
 * Whether a server on a port of loopback greets whoever connects, as MariaDB does once it serves.
 * A port that only takes connections is not enough: the server may still be starting.
 * @param {number} port
 * @returns {Promise<boolean>}
 */
export function greets(port) {
  return new Promise((resolve) => {
    const socket = connect(port, '127.0.0.1');
    const done = (/** @type {boolean} */ greeted) => {
      socket.destroy();
      resolve(greeted);
    };
    socket.once('data', () => done(true));
    socket.once('error', () => done(false));
    socket.once('end', () => done(false));
    socket.setTimeout(2000, () => done(false));
  });
}
