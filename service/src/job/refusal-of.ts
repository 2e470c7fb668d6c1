import { isDatabaseBusy, isDatabaseFull, isDatabaseLost, isUnstorable } from '../database/faults.js';
import { Refusal } from '../fault/refusal.js';
import { ThreadLost } from '../worker/thread.js';

/** What is thrown where the caller hangs up. */
const LEFT = ['ECONNRESET', 'ERR_STREAM_PREMATURE_CLOSE'];

/** The refusal for anything thrown. An unexpected error does not show its details. */
export function refusalOf(error: unknown): Refusal {
  if (error instanceof Refusal) return error;
  if (LEFT.includes((error as NodeJS.ErrnoException)?.code ?? ''))
    return new Refusal('aborted', 'The caller left before its time; nothing was stored.');
  if (error instanceof ThreadLost)
    return new Refusal('worker-lost', 'A worker of the service ended before its time; nothing was stored.', {
      remedy: 'Try again. Where it happens again, the log of the service says why.',
    });
  if (isDatabaseLost(error))
    return new Refusal(
      'database-away',
      'The database is away, or takes no more connections; what this call was to store is not stored.',
      {
        remedy: 'Try again in a moment. Where it stays away, the log of the service says why.',
      },
    );
  if (isDatabaseBusy(error))
    return new Refusal('busy', 'Others hold what this call needs; nothing was changed.', {
      remedy: 'Try again in a moment.',
    });
  if (isDatabaseFull(error))
    return new Refusal('database-full', 'The database is full; nothing was stored.', {
      remedy: 'Make room on its disk, or delete logs and replays that are not needed.',
    });
  if (isUnstorable(error))
    return new Refusal('bad-character', 'The input has a character that no text may have, such as NUL.', {
      remedy: 'Take it out, and send it again.',
    });
  return new Refusal('internal', 'The service has failed; its log says why.');
}
