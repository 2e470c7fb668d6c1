import { Refusal, refusal } from '../fault/refusal.js';
import type { Import } from '../model/import.js';

/** A log of the name is there. */
export function nameTaken(name: string): Refusal {
  return refusal('log-name-taken', { name });
}

/** A log of the name is being imported. */
export function nameUnderWay(name: string): Refusal {
  return refusal('import-under-way', { name });
}

/** Somebody cancelled it. */
export const cancelled = (): Refusal => refusal('import-cancelled');

/** Its sender, or the service that it was sent to, went away. */
export const brokenOff = (): Refusal => refusal('aborted/import');

/** It was to be read here while it came, and the service stops or has lost the database. */
export const unreadHere = (): Refusal => refusal('database-away/import');

/** Why an import that has ended came to no log. */
export function refusalOfEnded({ state, failure }: Pick<Import, 'state' | 'failure'>): Refusal {
  if (state === 'cancelled' || failure === null) return cancelled();
  return new Refusal(failure.code, failure.detail, failure);
}
