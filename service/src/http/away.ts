import type { IncomingMessage, ServerResponse } from 'node:http';
import { Refusal } from '../fault/refusal.js';
import { problemBody } from './problem.js';

/** What the console and the API answer while the service decides by a kept plan, for want of its database. */
export function answerAway({ url }: IncomingMessage, response: ServerResponse): void {
  if (url === '/health') {
    send(response, 200, 'application/json', { status: 'alive' });
    return;
  }
  const problem = new Refusal(
    'database-away',
    'The database is away. Requests are decided by what was in force when it was there last.',
    { remedy: 'Start the database, or see that DATABASE_URL is right; the service goes on by itself.' },
  );
  response.setHeader('retry-after', '5');
  send(response, 503, 'application/problem+json', problemBody(problem));
}

function send(response: ServerResponse, status: number, type: string, body: unknown): void {
  response.writeHead(status, { 'content-type': type, 'cache-control': 'no-store' }).end(JSON.stringify(body));
}
