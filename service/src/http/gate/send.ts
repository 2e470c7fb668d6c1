import type { ServerResponse } from 'node:http';

/** Sends a whole answer, which nobody may keep. */
export function send(response: ServerResponse, status: number, type: string, body: string): void {
  const length = String(Buffer.byteLength(body));
  response.writeHead(status, { 'content-type': type, 'content-length': length, 'cache-control': 'no-store' });
  response.end(body);
}
