import type { NextFunction, Request, Response } from 'express';
import type { Knex } from 'knex';
import { isKey, isSession } from '../access/access.js';
import { Problem } from './problem.js';

export const SESSION_COOKIE = 'jade_fence_session';
/** Sent by the console with every change: another site's page cannot add it without our leave. */
export const CONSOLE_HEADER = 'x-jade-fence-console';

const SAFE_METHODS = new Set(['GET', 'HEAD']);

/** Lets through who brings the access key as a bearer token, or the cookie of a session. */
export function authenticate(knex: Knex) {
  return async (request: Request, _response: Response, next: NextFunction): Promise<void> => {
    const bearer = /^Bearer (\S{1,200})$/i.exec(request.get('authorization') ?? '')?.[1];
    if (bearer !== undefined) {
      if (await isKey(knex, bearer)) return next();
      throw unauthorised('The access key is not right.');
    }
    const token = sessionToken(request);
    if (token === undefined || !(await isSession(knex, token))) throw unauthorised('This needs the access key.');
    if (!SAFE_METHODS.has(request.method) && request.get(CONSOLE_HEADER) === undefined)
      throw new Problem(403, 'cross-site', `A change made with a session carries the header ${CONSOLE_HEADER}.`);
    next();
  };
}

export function sessionToken(request: Request): string | undefined {
  const cookies = (request.get('cookie') ?? '').split(';').map((each) => each.trim().split('='));
  return cookies.find(([name]) => name === SESSION_COOKIE)?.[1];
}

function unauthorised(detail: string): Problem {
  return new Problem(401, 'sign-in-required', detail, {
    remedy: 'Sign in with the key in the service’s data folder, or send it as `Authorization: Bearer KEY`.',
  });
}
