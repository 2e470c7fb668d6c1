import { API } from '@jade-fence/contract';
import type { ErrorRequestHandler, Request, RequestHandler, Response } from 'express';
import type { Logger } from 'pino';
import { refusal } from '../fault/refusal.js';
import { problemBody, statusOf } from './problem.js';
import { refusalOfCall } from './refusal-of-call.js';

/** A caller that is still sending gets so much more taken from it, so that it reads our answer and not a broken pipe. */
const DRAIN_BYTES = 64 * 1024 * 1024;
const DRAIN_MS = 5000;

/** Answers every path below `/api` that is of no version of the API. */
export const noSuchVersion: RequestHandler = (request) => {
  throw refusal('unknown-version', { method: request.method, path: request.originalUrl, api: API });
};

/** Answers every path that no route has. */
export const noSuchRoute: RequestHandler = (request) => {
  throw refusal('unknown-route', { method: request.method, path: request.path });
};

/** Converts anything thrown to problem details. An unexpected error is logged, and its details are not sent. */
export function sendProblem(logger: Logger): ErrorRequestHandler {
  return (error, request, response, _next) => {
    const refusal = refusalOfCall(error);
    const status = statusOf(refusal);
    if (status >= 500) logger.error({ err: error, path: request.path }, 'request failed');
    if (response.headersSent) return void response.destroy();
    if (!request.complete) drain(request, response);
    if (refusal.retryAfter !== undefined) response.set('retry-after', String(refusal.retryAfter));
    response
      .status(status)
      .type('application/problem+json')
      .send(JSON.stringify(problemBody(refusal)));
  };
}

function drain(request: Request, response: Response): void {
  let taken = 0;
  const stop = () => request.destroy();
  const timer = setTimeout(stop, DRAIN_MS);
  request.on('data', (piece: Buffer) => {
    taken += piece.length;
    if (taken > DRAIN_BYTES) stop();
  });
  request.on('close', () => clearTimeout(timer));
  response.set('connection', 'close');
  request.resume();
}
