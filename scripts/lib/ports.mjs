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
 * Whether something takes connections on a port of loopback.
 * @param {number} port
 * @returns {Promise<boolean>}
 */
export function answers(port) {
  return new Promise((resolve) => {
    const socket = connect(port, '127.0.0.1', () => {
      socket.destroy();
      resolve(true);
    });
    socket.once('error', () => resolve(false));
  });
}
