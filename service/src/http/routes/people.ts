import type { PersonBody, SessionBody, TokenBody } from '@jade-fence/contract';
import { mayAct } from '@jade-fence/contract';
import { parseHost } from '@jade-fence/core/domain';
import type { Knex } from 'knex';
import { note, noting } from '../../audit/audit.js';
import { refusal } from '../../fault/refusal.js';
import { alertSecret } from '../../live/alerts.js';
import { Person, type Session, type Token } from '../../model/person.js';
import {
  addPerson,
  changePerson,
  findPerson,
  pageOfPeople,
  removePerson,
  whoHasPassword,
} from '../../people/people.js';
import { closeSession, closeSessions, sessionsOf } from '../../people/sessions.js';
import type { Someone } from '../../people/someone.js';
import { SignInThrottle } from '../../people/throttle.js';
import { createToken, deleteToken, tokensOf } from '../../people/tokens.js';
import { changeSettings, currentSettings, maskedSettings } from '../../setting/settings.js';
import type { Api } from '../api.js';
import { NamedPageQuery, PageQuery } from '../input/page-query.js';
import {
  NewPersonInput,
  NewTokenInput,
  PasswordChangeInput,
  PersonChangeInput,
  SettingsInput,
  TokensQuery,
} from '../input/people-input.js';
import { instantOf } from '../instant.js';
import { numberOf } from '../number-of.js';

const DAY_MS = 86_400_000;
const TOKEN_DAYS = { person: 90, gateway: 366 };

/** People, their tokens, and what administrators choose. */
export function peopleRoutes(api: Api, knex: Knex): void {
  ownRoutes(api, knex);

  api.add('GET /people', { does: 'Who may sign in, by name.', query: NamedPageQuery }, async ({ query }, response) => {
    const { items, next } = await pageOfPeople(knex, query);
    response.json({ people: items.map(personBody), next });
  });

  api.add(
    'POST /people',
    { does: 'Adds a person.', body: NewPersonInput, status: 201 },
    async ({ body, who }, response) => {
      const detail = { role: body.role };
      const deed = { actor: who.name, action: 'person-added', kind: 'person', name: body.name, detail } as const;
      const person = await noting(knex, deed, (trx) => addPerson(trx, body));
      response.status(201).json(personBody(person));
    },
  );

  api.add(
    'PATCH /people/:name',
    {
      does: 'Changes a person: role, password, whether they may sign in.',
      body: PersonChangeInput,
    },
    async ({ params, body, who }, response) => {
      const { password, ...open } = body;
      const detail = { ...open, ...(password !== undefined && { password: 'set' }) };
      const deed = { actor: who.name, action: 'person-changed', kind: 'person', name: params.name, detail } as const;
      const person = await noting(knex, deed, (trx) => changePerson(trx, params.name, body));
      response.json(personBody(person));
    },
  );

  api.add(
    'DELETE /people/:name',
    { does: 'Removes a person with their tokens.', status: 204 },
    async ({ params, who }, response) => {
      const deed = { actor: who.name, action: 'person-removed', kind: 'person', name: params.name } as const;
      await noting(knex, deed, (trx) => removePerson(trx, params.name));
      response.status(204).end();
    },
  );

  api.add('GET /settings', { does: 'What administrators chose for the service.' }, async ({ who }, response) => {
    const settings = await currentSettings(knex);
    response.json(mayAct(who.role, 'administrator') ? settings : maskedSettings(settings));
  });

  api.add(
    'GET /settings/alert-secret',
    {
      does: 'The secret that alerts are signed with, as receivers of Standard Webhooks take it.',
    },
    async (_asked, response) => {
      response.json({ secret: `whsec_${(await alertSecret(knex)).toString('base64')}` });
    },
  );

  api.add('PATCH /settings', { does: 'Changes settings.', body: SettingsInput }, async ({ body, who }, response) => {
    response.json(
      await changeSettings(
        knex,
        {
          fourEyes: body.fourEyes,
          alertUrl: body.alertUrl === '' ? null : body.alertUrl,
          alertPrivate: body.alertPrivate,
          dnsServers: body.dnsServers,
          dnsPerSecond: body.dnsPerSecond,
          dnsPrivateNames: body.dnsPrivateNames,
          dnsOwnDomains: body.dnsOwnDomains?.map((domain) => parseHost(domain) as string),
        },
        who.name,
      ),
    );
  });
}

/** What everyone may do for themselves. */
function ownRoutes(api: Api, knex: Knex): void {
  const throttle = new SignInThrottle(knex);
  sessionListRoutes(api, knex);
  api.add('GET /me', { does: 'Who calls, and what they may do.' }, ({ who }, response) => {
    response.json({ name: who.name, role: who.role });
  });

  api.add(
    'PUT /me/password',
    { does: 'Changes one’s own password.', body: PasswordChangeInput, status: 204 },
    async ({ request, body, who }, response) => {
      await requireProof(knex, throttle, { who, from: request.ip ?? '', old: body.old });
      const deed = { actor: who.name, action: 'password-changed', kind: 'person', name: who.name } as const;
      await noting(knex, deed, (trx) => changePerson(trx, who.name, { password: body.password }));
      response.status(204).end();
    },
  );

  api.add(
    'GET /tokens',
    { does: 'One’s own tokens; those of all for administrators.', query: TokensQuery },
    async ({ query, who }, response) => {
      const { all, ...page } = query;
      if (all && !mayAct(who.role, 'administrator')) throw refusal('role-too-low/tokens-of-others');
      const { items, next } = await tokensOf(knex, all ? undefined : who.id, page);
      const names = new Map((await Person.query(knex)).map(({ id, name }) => [id, name]));
      response.json({
        tokens: items.map((token) =>
          tokenBody(token, token.personId === null ? null : (names.get(token.personId) ?? '')),
        ),
        next,
      });
    },
  );

  api.add(
    'POST /tokens',
    {
      does: 'Makes a token of one’s own; its key is shown only once.',
      body: NewTokenInput,
      status: 201,
    },
    async ({ body, who }, response) => {
      const { name, kind = 'person', role = who.role, expires } = body;
      const expiresAt = expires === undefined ? lifeOf(kind, who) : instantOf(expires);
      const detail = { kind, ...(kind === 'person' && { role }), expires: expiresAt.toISOString() };
      const deed = { actor: who.name, action: 'token-made', kind: 'token', name, detail } as const;
      const token = await noting(knex, deed, (trx) => createToken(trx, who, { name, kind, role, expiresAt }));
      const holder = kind === 'gateway' ? null : who.name;
      response.status(201).json({ ...tokenBody(token, holder), secret: token.secret });
    },
  );

  api.add(
    'DELETE /tokens/:id',
    { does: 'Deletes a token of one’s own; anyone’s for administrators.', status: 204 },
    async ({ params, who }, response) => {
      await knex.transaction(async (trx) => {
        const token = await deleteToken(trx, who, numberOf(params.id, 'token'));
        await note(trx, [{ actor: who.name, action: 'token-deleted', kind: 'token', name: token.name }]);
      });
      response.status(204).end();
    },
  );
}

function personBody({ name, role, disabled, seesAddresses, password, createdAt }: Person): PersonBody {
  return { name, role, disabled, seesAddresses, password: password !== null, createdAt: createdAt.toISOString() };
}

function tokenBody({ id, kind, name, role, expiresAt, usedAt, createdAt }: Token, person: string | null): TokenBody {
  const [expires, used] = [expiresAt?.toISOString() ?? null, usedAt?.toISOString() ?? null];
  return {
    token: id,
    kind,
    name,
    person,
    role: kind === 'gateway' ? null : role,
    expiresAt: expires,
    usedAt: used,
    createdAt: createdAt.toISOString(),
  };
}

/** How long a token lives for which nothing is said: no longer than the one that makes it. */
function lifeOf(kind: Token['kind'], { token }: Someone): Date {
  const usual = new Date(Date.now() + TOKEN_DAYS[kind] * DAY_MS);
  return token?.expiresAt && token.expiresAt < usual ? token.expiresAt : usual;
}

/**
 * Who changes a password shows the one until now. Where there is none, a session is the proof; a token is none, since it
 * may do less than its person.
 */
async function requireProof(
  knex: Knex,
  throttle: SignInThrottle,
  { who, from, old }: { readonly who: Someone; readonly from: string; readonly old: string | undefined },
): Promise<void> {
  const person = await findPerson(knex, who.name);
  if (person.password === null && who.token === undefined) return;
  if (person.password === null) throw refusal('session-required');
  await throttle.take(who.name, from);
  if (!(await whoHasPassword(knex, who.name, old ?? ''))) throw refusal('wrong-current-password');
  await throttle.wentWell(who.name, from);
}

/** One's own sessions: which there are, and ending them. */
function sessionListRoutes(api: Api, knex: Knex): void {
  api.add(
    'GET /me/sessions',
    { does: 'One’s own sessions, the newest first.', query: PageQuery },
    async ({ who, query }, response) => {
      const { items, next } = await sessionsOf(knex, who.id, query);
      response.json({ sessions: items.map(sessionBody), next });
    },
  );

  api.add(
    'DELETE /me/sessions',
    { does: 'Signs out everywhere: ends all sessions of one’s own.', status: 204 },
    async ({ who }, response) => {
      const deed = { actor: who.name, action: 'signed-out', detail: { everywhere: true } } as const;
      await noting(knex, deed, (trx) => closeSessions(trx, who.id));
      response.status(204).end();
    },
  );

  api.add(
    'DELETE /me/sessions/:id',
    { does: 'Ends a session of one’s own.', status: 204 },
    async ({ params, who }, response) => {
      const id = numberOf(params.id, 'session');
      const deed = { actor: who.name, action: 'signed-out', detail: { session: id } } as const;
      await noting(knex, deed, async (trx) => {
        if (!(await closeSession(trx, { personId: who.id, id }))) throw refusal('unknown-session', { id });
      });
      response.status(204).end();
    },
  );
}

const sessionBody = ({ id, from, agent, createdAt, usedAt, expiresAt }: Session): SessionBody => ({
  ...{ session: id, from, agent },
  openedAt: createdAt.toISOString(),
  usedAt: usedAt.toISOString(),
  expiresAt: expiresAt.toISOString(),
});
