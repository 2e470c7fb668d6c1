import { isDatabaseBusy, isDatabaseFull, isDatabaseLost, isUnstorable } from '../database/faults.js';
import { ThreadLost } from '../worker/thread.js';
import { Problem } from './problem.js';

/** What is thrown where the caller hangs up. */
const LEFT = ['ECONNRESET', 'ERR_STREAM_PREMATURE_CLOSE'];

/** What is told of whatever was thrown. What we did not expect keeps its insides to itself. */
export function problemOf(error: unknown): Problem {
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
  if (isDatabaseBusy(error))
    return new Problem(503, 'busy', 'Others hold what this call needs; nothing was changed.', {
      remedy: 'Try again in a moment.',
    });
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
