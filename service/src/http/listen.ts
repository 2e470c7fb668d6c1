import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { Express } from 'express';
import { StartError } from '../start-error.js';

/** Takes calls before the app does, and answers whether it did. */
type First = (request: IncomingMessage, response: ServerResponse) => boolean;

/** Listens, and answers the server with the URL that it is reached at. */
export async function listen(
  app: Express,
  first: First,
  host: string,
  port: number,
): Promise<{ server: Server; url: string }> {
  const server = createServer((request, response) => {
    if (!first(request, response)) app(request, response);
  });
  server.requestTimeout = 0; // An upload takes as long as it takes; headers still have their limit.
  server.on('checkContinue', (request: IncomingMessage, response: ServerResponse) => {
    // The import of a log looks before it lets a client send; all others may send at once.
    if (!(request.method === 'POST' && request.url?.startsWith('/api/logs'))) response.writeContinue();
    app(request, response);
  });
  await new Promise<void>((resolve, reject) => {
    server.once('error', (error: NodeJS.ErrnoException) => reject(startError(error, host, port)));
    server.listen(port, host, resolve);
  });
  const address = server.address() as AddressInfo;
  const shown = address.family === 'IPv6' ? `[${address.address}]` : address.address;
  return { server, url: `http://${shown}:${address.port}` };
}

function startError(error: NodeJS.ErrnoException, host: string, port: number): Error {
  switch (error.code) {
    case 'EADDRINUSE':
      return new StartError(
        'port-in-use',
        `Port ${port} of ${host} is in use by another program.`,
        'Choose another with --port, or --port 0 for any free one.',
      );
    case 'EACCES':
      return new StartError(
        'port-in-use',
        `Port ${port} needs rights that this user does not have.`,
        'Choose one above 1023 with --port.',
      );
    case 'EADDRNOTAVAIL':
    case 'ENOTFOUND':
      return new StartError(
        'address',
        `This machine has no address ${host}.`,
        'Choose another with --host; 127.0.0.1 always works.',
      );
    default:
      return error;
  }
}

/** Stops taking calls, and ends those that wait for more. */
export async function close(server: Server): Promise<void> {
  const closed = new Promise<void>((resolve) => server.close(() => resolve()));
  server.closeIdleConnections();
  setTimeout(() => server.closeAllConnections(), 3000).unref();
  await closed;
}
