import { json, Router } from 'express';
import type { Knex } from 'knex';
import { closeSession, isKey, openSession } from '../../access/access.js';
import { SESSION_COOKIE, sessionToken } from '../authenticate.js';
import { SignInInput } from '../input/session-input.js';
import { Problem } from '../problem.js';
import { validated } from '../validate.js';

/** Signing in and out of the console; open to everyone. */
export function sessionRoutes(knex: Knex): Router {
  const router = Router();
  router.post('/session', json({ limit: '4kb' }), async (request, response) => {
    const { key } = validated(SignInInput, request.body, 'body');
    if (!(await isKey(knex, key.trim())))
      throw new Problem(401, 'wrong-key', 'The access key is not right.', {
        remedy: 'It stands in the file `access-key` of the service’s data folder.',
      });
    const { token, expiresAt } = await openSession(knex);
    response.cookie(SESSION_COOKIE, token, {
      httpOnly: true,
      sameSite: 'strict',
      secure: request.secure,
      path: '/',
      expires: expiresAt,
    });
    response.status(201).json({ expiresAt });
  });
  router.delete('/session', async (request, response) => {
    const token = sessionToken(request);
    if (token !== undefined) await closeSession(knex, token);
    response.clearCookie(SESSION_COOKIE, { path: '/' }).status(204).end();
  });
  return router;
}
