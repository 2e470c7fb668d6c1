import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { API } from '@jade-fence/contract';
import type { Express } from 'express';
import { startError } from '../start-error.js';

type Handler = (request: IncomingMessage, response: ServerResponse) => void;

/** The server of the API and the console, and a way to have another answer from the next call on. */
export function appServer(first: Handler): { readonly server: Server; use(app: Express): void } {
  let app = first;
  const server = createServer((request, response) => app(request, response));
  server.requestTimeout = 0; // An upload takes as long as it takes; headers still have their limit.
  server.on('checkContinue', (request: IncomingMessage, response: ServerResponse) => {
    // The import of a log looks before it lets a client send; all others may send at once.
    if (!(request.method === 'POST' && request.url?.startsWith(`${API}/logs`))) response.writeContinue();
    app(request, response);
  });
  const use = (next: Express) => {
    app = next;
  };
  return { server, use };
}

/** Where to listen; `options` are those of the command that say so, for who has to choose another. */
export interface Place {
  readonly host: string;
  readonly port: number;
  readonly options: { readonly host: string; readonly port: string };
}

/** Makes the server listen, and answers the URL that it is reached at. */
export async function listen(server: Server, place: Place): Promise<string> {
  try {
    return await listenAt(server, place);
  } catch (error) {
    throw listenError(error as NodeJS.ErrnoException, place);
  }
}

/** The same, with the error as it comes. */
export async function listenAt(server: Server, { host, port }: Pick<Place, 'host' | 'port'>): Promise<string> {
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, host, resolve);
  });
  const address = server.address() as AddressInfo;
  const shown = address.family === 'IPv6' ? `[${address.address}]` : address.address;
  return `http://${shown}:${address.port}`;
}

/** What a user is to know of a place where nobody can listen. */
export function listenError(error: NodeJS.ErrnoException, { host, port, options }: Place): Error {
  switch (error.code) {
    case 'EADDRINUSE':
      return startError('port-in-use', { port, host, option: options.port });
    case 'EACCES':
      return startError('port-in-use/rights', { port, option: options.port });
    case 'EADDRNOTAVAIL':
    case 'ENOTFOUND':
      return startError('address', { host, option: options.host });
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
