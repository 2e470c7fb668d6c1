import { Refusal } from '../fault/refusal.js';
import type { Import } from '../model/import.js';

/** A log of the name is there. */
export function nameTaken(name: string): Refusal {
  return new Refusal('log-name-taken', `There is a log \`${name}\` already; nothing was imported.`, {
    remedy: 'Choose another name, or delete that log first.',
  });
}

/** A log of the name is being imported. */
export function nameUnderWay(name: string): Refusal {
  return new Refusal('import-under-way', `A log \`${name}\` is being imported already; nothing was imported.`, {
    remedy: 'Choose another name, or cancel that import first.',
  });
}

/** Somebody cancelled it. */
export const cancelled = (): Refusal =>
  new Refusal('import-cancelled', 'The import was cancelled; nothing of it is kept.');

/** Its sender, or the service that it was sent to, went away. */
export const brokenOff = (): Refusal =>
  new Refusal('aborted', 'The sending broke off before its end; nothing was imported.', {
    remedy: 'Send it again.',
  });

/** It was to be read here while it came, and the service stops or has lost the database. */
export const unreadHere = (): Refusal =>
  new Refusal('database-away', 'The service stops, or its database is away; nothing was imported.', {
    remedy: 'Send it again when it is back.',
  });

/** Why an import that has ended came to no log. */
export function refusalOfEnded({ state, failure }: Pick<Import, 'state' | 'failure'>): Refusal {
  if (state === 'cancelled' || failure === null) return cancelled();
  return new Refusal(failure.code, failure.detail, failure);
}
