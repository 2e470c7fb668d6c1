import { isDatabaseBusy, isDatabaseFull, isDatabaseLost, isUnstorable } from '../database/faults.js';
import { Refusal, refusal } from '../fault/refusal.js';
import { ThreadLost } from '../worker/thread.js';

/** What is thrown where the caller hangs up. */
const LEFT = ['ECONNRESET', 'ERR_STREAM_PREMATURE_CLOSE'];

/** The refusal for anything thrown. An unexpected error does not show its details. */
export function refusalOf(error: unknown): Refusal {
  if (error instanceof Refusal) return error;
  if (LEFT.includes((error as NodeJS.ErrnoException)?.code ?? '')) return refusal('aborted');
  if (error instanceof ThreadLost) return refusal('worker-lost');
  if (isDatabaseLost(error)) return refusal('database-away');
  if (isDatabaseBusy(error)) return refusal('busy');
  if (isDatabaseFull(error)) return refusal('database-full');
  if (isUnstorable(error)) return refusal('bad-character');
  return refusal('internal');
}
