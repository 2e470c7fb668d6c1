import { Problem } from '../http/problem.js';
import type { Import } from '../model/import.js';

export function nameTaken(name: string): Problem {
  return new Problem(409, 'log-name-taken', `There is a log \`${name}\` already; nothing was imported.`, {
    remedy: 'Choose another name, or delete that log first.',
  });
}

export function nameUnderWay(name: string): Problem {
  return new Problem(409, 'import-under-way', `A log \`${name}\` is being imported already; nothing was imported.`, {
    remedy: 'Choose another name, or cancel that import first.',
  });
}

export const cancelled = (): Problem =>
  new Problem(409, 'import-cancelled', 'The import was cancelled; nothing of it is kept.');

/** Its sender, or the service that it was sent to, went away. */
export const brokenOff = (): Problem =>
  new Problem(400, 'aborted', 'The sending broke off before its end; nothing was imported.', {
    remedy: 'Send it again.',
  });

/** It was to be read here while it came, and the service stops or has lost the database. */
export const unreadHere = (): Problem =>
  new Problem(503, 'database-away', 'The service stops, or its database is away; nothing was imported.', {
    remedy: 'Send it again when it is back.',
  });

/** Why an import that has ended came to no log. */
export function problemOfEnded({ state, failure }: Pick<Import, 'state' | 'failure'>): Problem {
  if (state === 'cancelled' || failure === null) return cancelled();
  return new Problem(failure.status, failure.code, failure.detail, failure);
}
