import type { Knex } from 'knex';
import { note } from '../../audit/audit.js';
import { Refusal, refusal } from '../../fault/refusal.js';
import { Person } from '../../model/person.js';
import { whoHasPassword } from '../../people/people.js';
import { closeSession, openSession, whoHasSession } from '../../people/sessions.js';
import { type Someone, someoneOf } from '../../people/someone.js';
import { SignInThrottle } from '../../people/throttle.js';
import { whoHasToken } from '../../people/tokens.js';
import type { Api } from '../api.js';
import { requireConsole } from '../authenticate.js';
import { SignInInput } from '../input/session-input.js';
import type { Metrics } from '../metrics.js';
import type { SessionCookie } from '../session-cookie.js';

/** Signing in and out of the console. */
export function sessionRoutes(api: Api, knex: Knex, metrics: Metrics, cookie: SessionCookie): void {
  const throttle = new SignInThrottle(knex);

  api.add(
    'POST /session',
    {
      does: 'Signs in: opens a session, and sets its cookie.',
      body: SignInInput,
      largest: '4kb',
      status: 201,
    },
    async ({ request, body }, response) => {
      const address = request.ip ?? '';
      const claimed = body.name ?? 'the access key';
      await throttle.take(claimed, address);
      const who = await signedIn(knex, body);
      metrics.signedIn(who ? 'well' : 'failed');
      if (!who) {
        await note(knex, [{ actor: null, action: 'sign-in-failed', detail: { as: body.name ?? null, from: address } }]);
        throw refused(body);
      }
      await throttle.wentWell(claimed, address);
      const opening = { from: address, agent: request.get('user-agent') ?? '', tokenId: who.token?.id };
      const { token, expiresAt } = await openSession(knex, who.id, opening);
      await note(knex, [{ actor: who.name, action: 'signed-in', detail: { from: address } }]);
      response.cookie(cookie.name, token, { ...cookie.options, expires: expiresAt });
      response.status(201).json({ expiresAt: expiresAt.toISOString(), name: who.name, role: who.role });
    },
  );

  api.add(
    'DELETE /session',
    { does: 'Signs out: ends the session, if there is one.', status: 204 },
    async ({ request }, response) => {
      const token = cookie.tokenOf(request);
      const who = token === undefined ? undefined : await whoHasSession(knex, token);
      if (token !== undefined && who) {
        requireConsole(request);
        await closeSession(knex, token);
        await note(knex, [{ actor: who.name, action: 'signed-out' }]);
      }
      response.clearCookie(cookie.name, cookie.options).status(204).end();
    },
  );
}

async function signedIn(knex: Knex, { name, password, key }: SignInInput): Promise<Someone | undefined> {
  if (key !== undefined && name === undefined && password === undefined) {
    const holder = await whoHasToken(knex, key.trim());
    const person = holder && (await Person.query(knex).findById(holder.id));
    // A session may do all that its person may, so that a lesser token does not open one.
    return person && holder.role === person.role ? holder : undefined;
  }
  if (name === undefined || password === undefined || key !== undefined) throw refusal('how-to-sign-in');
  const person = await whoHasPassword(knex, name, password);
  return person && someoneOf(person);
}

function refused({ key }: SignInInput): Refusal {
  return key === undefined ? refusal('wrong-password') : refusal('wrong-key');
}
