import type { ErrorRequestHandler, Request, RequestHandler, Response } from 'express';
import type { Logger } from 'pino';
import { isDatabaseFull, isDatabaseLost, isUnstorable } from '../database/faults.js';
import { ThreadLost } from '../worker/thread.js';
import { Problem, problemBody } from './problem.js';

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

/** What is thrown where the caller hangs up. */
const LEFT = ['ECONNRESET', 'ERR_STREAM_PREMATURE_CLOSE'];

function problemOf(error: unknown): Problem {
  if (error instanceof Problem) return error;
  const { status, type } = (error ?? {}) as { status?: number; type?: string };
  switch (type) {
    case 'entity.parse.failed':
      return new Problem(400, 'not-json', 'The body is not JSON.');
    case 'entity.too.large':
      return new Problem(413, 'body-too-large', 'The body is larger than this call takes.');
    case 'request.aborted':
      return new Problem(400, 'aborted', 'The upload ended before its time; nothing was stored.');
    case undefined:
      break;
    default:
      if (status !== undefined && status < 500)
        return new Problem(status, 'bad-request', 'The request cannot be read.');
  }
  if (error instanceof URIError) return new Problem(400, 'bad-path', 'The path is not well encoded.');
  if (LEFT.includes((error as NodeJS.ErrnoException)?.code ?? ''))
    return new Problem(400, 'aborted', 'The caller left before its time; nothing was stored.');
  if (error instanceof ThreadLost)
    return new Problem(503, 'worker-lost', 'A worker of the service ended before its time; nothing was stored.', {
      remedy: 'Try again. Where it happens again, the log of the service says why.',
    });
  if (isDatabaseLost(error))
    return new Problem(
      503,
      'database-away',
      'The database is away, or takes no more connections; what this call was to store is not stored.',
      {
        remedy: 'Try again in a moment. Where it stays away, the log of the service says why.',
      },
    );
  if (isDatabaseFull(error))
    return new Problem(
      507,
      'database-full',
      'The database has no room left; what this call was to store is not stored.',
      {
        remedy: 'Make room on its disk, or delete logs and replays that are not needed.',
      },
    );
  if (isUnstorable(error))
    return new Problem(
      400,
      'bad-character',
      'What was sent holds a character that no text here may have, such as NUL.',
      {
        remedy: 'Take it out, and send it again.',
      },
    );
  return new Problem(500, 'internal', 'Something went wrong in the service; its log says what.');
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
