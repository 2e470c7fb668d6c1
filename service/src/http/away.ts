import type { IncomingMessage, ServerResponse } from 'node:http';
import { refusal } from '../fault/refusal.js';
import { problemBody } from './problem.js';

/** What the console and the API answer while the service decides by a kept plan, for want of its database. */
export function answerAway({ url }: IncomingMessage, response: ServerResponse): void {
  if (url === '/health') {
    send(response, 200, 'application/json', { status: 'alive' });
    return;
  }
  const problem = refusal('database-away/decides');
  response.setHeader('retry-after', '5');
  send(response, 503, 'application/problem+json', problemBody(problem));
}

function send(response: ServerResponse, status: number, type: string, body: unknown): void {
  response.writeHead(status, { 'content-type': type, 'cache-control': 'no-store' }).end(JSON.stringify(body));
}
