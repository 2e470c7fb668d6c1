import type { Request } from 'express';
import type { Knex } from 'knex';
import { refusal } from '../fault/refusal.js';
import { whoHasSession } from '../people/sessions.js';
import type { Someone } from '../people/someone.js';
import { whoHasToken } from '../people/tokens.js';
import type { SessionCookie } from './session-cookie.js';

/** Sent by the console with every change: another site's page cannot add it without our leave. */
export const CONSOLE_HEADER = 'x-jade-fence-console';

const SAFE_METHODS = new Set(['GET', 'HEAD']);

/** Who calls, by a bearer token or the cookie of a session. */
export async function whoAsks(knex: Knex, cookie: SessionCookie, request: Request): Promise<Someone> {
  const bearer = /^Bearer (\S{1,200})$/i.exec(request.get('authorization') ?? '')?.[1];
  if (bearer !== undefined) {
    const who = await whoHasToken(knex, bearer);
    if (who) return who;
    throw refusal('sign-in-required/wrong');
  }
  const token = cookie.tokenOf(request);
  const who = token === undefined ? undefined : await whoHasSession(knex, token);
  if (!who) throw refusal('sign-in-required');
  requireConsole(request);
  return who;
}

/** Refuses a change that comes with a session and not from the console, which another site's page may have sent. */
export function requireConsole(request: Request): void {
  if (!SAFE_METHODS.has(request.method) && request.get(CONSOLE_HEADER) === undefined)
    throw refusal('cross-site', { header: CONSOLE_HEADER });
}
