import type { ErrorRequestHandler, Request, RequestHandler, Response } from 'express';
import type { Logger } from 'pino';
import { Problem, problemBody } from './problem.js';
import { problemOf } from './problem-of.js';

/** A caller that is still sending gets so much more taken from it, so that it reads our answer and not a broken pipe. */
const DRAIN_BYTES = 64 * 1024 * 1024;
const DRAIN_MS = 5000;

/** Answers every path that no route has. */
export const noSuchRoute: RequestHandler = (request) => {
  throw new Problem(404, 'unknown-route', `There is nothing at ${request.method} ${request.path}.`);
};

/** Turns whatever was thrown into problem details. What we did not expect is logged, and its insides are not told. */
export function sendProblem(logger: Logger): ErrorRequestHandler {
  return (error, request, response, _next) => {
    const problem = problemOf(error);
    if (problem.status >= 500) logger.error({ err: error, path: request.path }, 'request failed');
    if (response.headersSent) return void response.destroy();
    if (!request.complete) drain(request, response);
    response
      .status(problem.status)
      .set(problem.headers)
      .type('application/problem+json')
      .send(JSON.stringify(problemBody(problem)));
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
